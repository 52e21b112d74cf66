/** Discs with coverage (1 - q²)² from where they are full, as the core's renderer draws them (kagero/core/kernels/splat.py). */
import type { StageLook } from './look'

export const softDisc: StageLook = {
  attributes: [
    { column: 'size', width: 1, kind: 'float', fallback: 0 },
    { column: 'colour', width: 3, kind: 'half', fallback: 1 },
    { column: 'opacity', width: 1, kind: 'half', fallback: 1 },
    { column: 'stretch', width: 1, kind: 'half', fallback: 1 },
    { column: 'rotation', width: 1, kind: 'half', fallback: 0 },
    { column: 'hardness', width: 1, kind: 'half', fallback: 0 },
    { column: 'cover', width: 1, kind: 'half', fallback: 1 },
  ],
  vertex: /* glsl */ `
    attribute float size; // metres
    attribute vec3 colour; // linear light
    attribute float opacity;
    attribute float stretch; // how many times longer than wide
    attribute float rotation; // radians, in the picture
    attribute float hardness; // up to which share of its radius it is full
    attribute float cover; // 1: laid over what lies behind; 0: light is added
    uniform float focal; // pixels a metre at one metre's depth
    uniform float dots; // pixels that each is drawn across, whatever its look; 0: as it looks
    uniform float coloured; // whether dots have the particles' colours
    varying vec4 vLight;
    varying float vCover;
    varying vec4 vShape;
    void main() {
      vec4 view = modelViewMatrix * vec4(position, 1.0);
      gl_Position = projectionMatrix * view;
      float diameter = size * focal / max(-view.z, 0.02);
      float wide = max(diameter, 1.5);
      gl_PointSize = wide;
      vLight = vec4(colour, opacity * (diameter / wide) * (diameter / wide));
      vCover = cover;
      float longer = max(stretch, 1.0);
      float across = min(longer, wide / 1.5);
      vLight.a *= across / longer;
      vShape = vec4(cos(rotation), sin(rotation), across, min(max(hardness, 0.0), max(0.0, 1.0 - 3.0 / wide)));
      if (dots > 0.0) {
        gl_PointSize = dots;
        vLight = vec4(mix(vec3(0.83, 0.78, 0.69), colour, coloured), 0.95);
        vCover = 1.0;
        vShape = vec4(1.0, 0.0, 1.0, 0.5);
      }
    }`,
  fragment: /* glsl */ `
    varying vec4 vLight;
    varying float vCover;
    varying vec4 vShape;
    void main() {
      vec2 p = gl_PointCoord * 2.0 - 1.0;
      vec2 q = vec2(p.x * vShape.x - p.y * vShape.y, (p.x * vShape.y + p.y * vShape.x) * vShape.z);
      float square = dot(q, q);
      if (square >= 1.0) discard;
      float edge = max(sqrt(square) - vShape.w, 0.0) / (1.0 - vShape.w);
      float k = 1.0 - edge * edge;
      float a = vLight.a * k * k;
      gl_FragColor = vec4(vLight.rgb * a, a * vCover);
    }`,
}
