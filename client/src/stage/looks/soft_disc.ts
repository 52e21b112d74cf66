/** Soft discs with coverage (1 - q²)², as the core's renderer draws them (kagero/core/kernels/splat.py). */
import type { StageLook } from './look'

export const softDisc: StageLook = {
  attributes: [
    { column: 'size', width: 1, kind: 'float', fallback: 0 },
    { column: 'colour', width: 3, kind: 'half', fallback: 1 },
    { column: 'opacity', width: 1, kind: 'half', fallback: 1 },
    { column: 'stretch', width: 1, kind: 'half', fallback: 1 },
    { column: 'rotation', width: 1, kind: 'half', fallback: 0 },
  ],
  vertex: /* glsl */ `
    attribute float size; // metres
    attribute vec3 colour; // linear light
    attribute float opacity;
    attribute float stretch; // how many times longer than wide
    attribute float rotation; // radians, in the picture
    attribute float cover; // 1: laid over what lies behind; 0: light is added
    uniform float focal; // pixels a metre at one metre's depth
    varying vec4 vLight;
    varying float vCover;
    varying vec3 vShape;
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
      vShape = vec3(cos(rotation), sin(rotation), across);
    }`,
  fragment: /* glsl */ `
    varying vec4 vLight;
    varying float vCover;
    varying vec3 vShape;
    void main() {
      vec2 p = gl_PointCoord * 2.0 - 1.0;
      vec2 q = vec2(p.x * vShape.x - p.y * vShape.y, (p.x * vShape.y + p.y * vShape.x) * vShape.z);
      float k = 1.0 - dot(q, q);
      if (k <= 0.0) discard;
      float a = vLight.a * k * k;
      gl_FragColor = vec4(vLight.rgb * a, a * vCover);
    }`,
}
