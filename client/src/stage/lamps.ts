/** The light that props, bodies and surfaces stand in: light props, and lamps that particles are. kagero/core/kernels/shading.py has the same, with shadows. */
import * as three from 'three'

/** How many lamps that particles are there can be at once: the core sends no more. */
export const MOST_LAMPS = 16
/** And how many lights in all. */
const MOST_LIGHTS = MOST_LAMPS + 16

const LIGHTS = /* glsl */ `
  uniform int lampCount;
  uniform vec4 lampAt[${MOST_LIGHTS}]; // in the eye's space: places, or of a sun the way to it; and how far each reaches
  uniform vec4 lampColour[${MOST_LIGHTS}]; // and what it is
  uniform vec4 lampAlong[${MOST_LIGHTS}]; // in the eye's space: which way a spot shines, and the cosine of half of its cone
  uniform float lampFull[${MOST_LIGHTS}]; // the cosine within which a spot is full
  /** The way to a light that is not all around, and how much of it gets there: where none does, the way is of no length. */
  vec4 reaching(int i, vec3 toEye) {
    vec4 at = lampAt[i];
    float what = lampColour[i].w;
    if (what > 0.5 && what < 1.5) return vec4(at.xyz, 1.0);
    vec3 d = at.xyz + toEye;
    float square = dot(d, d), left = 1.0 - square / (at.w * at.w);
    if (left <= 0.0) return vec4(0.0);
    d *= inversesqrt(max(square, 1e-12));
    float share = left * left;
    if (what > 2.5)
      share *= smoothstep(0.0, 1.0, clamp((-dot(d, lampAlong[i].xyz) - lampAlong[i].w) / max(lampFull[i] - lampAlong[i].w, 1e-6), 0.0, 1.0));
    return vec4(d, share);
  }`

/**
 * GLSL: `shaded` gives by how much a surface is lit, its rim and its gleam, for a unit normal and the vector to the eye, in the eye's space; `glint` what
 * it reflects by microfacets. What a light is: 0 a lamp, 1 a sun, 2 light from all around, 3 a spot; with one that is no lamp the stage's own light is out.
 */
export const LAMPS = /* glsl */ `
  ${LIGHTS}
  vec3 shaded(vec3 n, vec3 toEye, out float rim, out float gleam) {
    vec3 eye = normalize(toEye), key = normalize(vec3(0.35, 0.7, 0.62)), light = vec3(0.0);
    float facing = dot(n, eye);
    bool own = true;
    gleam = rim = 0.0;
    if (facing < 0.0) n = -n;
    for (int i = 0; i < lampCount; i++) {
      vec4 colour = lampColour[i];
      if (colour.w > 0.5) own = false;
      if (colour.w > 1.5 && colour.w < 2.5) {
        light += colour.rgb;
        continue;
      }
      vec4 to = reaching(i, toEye);
      float cosine = dot(n, to.xyz);
      if (cosine <= 0.0 || to.w <= 0.0) continue;
      if (colour.w > 0.5)
        gleam += max(colour.r, max(colour.g, colour.b)) * to.w * pow(max(dot(n, normalize(to.xyz + eye)), 0.0), 48.0);
      light += colour.rgb * (to.w * cosine);
    }
    if (own) {
      rim = 0.6 * pow(1.0 - abs(facing), 3.0);
      gleam = pow(max(dot(n, normalize(key + eye)), 0.0), 48.0);
      light += vec3(0.16 + 0.62 * max(dot(n, key), 0.0));
    }
    return light;
  }
  vec3 facets(vec3 n, vec3 eye, vec3 d, float nv, float rough, vec3 head) {
    float nl = dot(n, d);
    if (nl <= 0.0) return vec3(0.0);
    vec3 h = normalize(d + eye);
    float nh = max(dot(n, h), 0.0), vh = max(dot(eye, h), 0.0), spread = max(rough * rough, 0.003), square = spread * spread;
    float down = nh * nh * (square - 1.0) + 1.0;
    float seen = nl * sqrt(nv * nv * (1.0 - square) + square) + nv * sqrt(nl * nl * (1.0 - square) + square);
    return (square / (down * down) * 0.5 / max(seen, 1e-9) * nl) * (head + (1.0 - head) * pow(1.0 - vh, 5.0));
  }
  vec3 glint(vec3 n, vec3 toEye, float rough, vec3 head) {
    vec3 eye = normalize(toEye), total = vec3(0.0);
    float facing = dot(n, eye), nv = max(abs(facing), 1e-4);
    if (facing < 0.0) n = -n;
    vec3 around = head + (1.0 - head) * pow(1.0 - nv, 5.0) * (1.0 - rough);
    bool own = true;
    for (int i = 0; i < lampCount; i++) {
      vec4 colour = lampColour[i];
      if (colour.w > 0.5) own = false;
      if (colour.w > 1.5 && colour.w < 2.5) total += colour.rgb * around;
      else {
        vec4 to = reaching(i, toEye);
        if (to.w > 0.0) total += colour.rgb * to.w * facets(n, eye, to.xyz, nv, rough, head);
      }
    }
    return own ? total + 0.16 * around + 0.62 * facets(n, eye, normalize(vec3(0.35, 0.7, 0.62)), nv, rough, head) : total;
  }`

/** GLSL: `fallen` gives by how much what has no surface is lit at a place in the eye's space: as the disc of a matte ball in the mean. */
export const FALLEN = /* glsl */ `
  ${LIGHTS}
  float phase(float cosine) {
    float g = acos(clamp(cosine, -1.0, 1.0));
    return 2.0 / 3.0 * (sin(g) + (3.141592653589793 - g) * cos(g)) / 3.141592653589793;
  }
  vec3 fallen(vec3 place) {
    vec3 toEye = -place, eye = normalize(toEye), light = vec3(0.0);
    bool own = true;
    for (int i = 0; i < lampCount; i++) {
      vec4 colour = lampColour[i];
      vec4 to = reaching(i, toEye);
      if (colour.w > 0.5) own = false;
      if (colour.w > 1.5 && colour.w < 2.5) light += colour.rgb;
      else if (to.w > 0.0) light += colour.rgb * to.w * phase(dot(to.xyz, eye));
    }
    return own ? light + vec3(0.16 + 0.62 * phase(dot(eye, normalize(vec3(0.35, 0.7, 0.62))))) : light;
  }`

export class Lamps {
  private all: readonly number[][] = []
  readonly uniforms = {
    lampCount: { value: 0 },
    lampAt: { value: Array.from({ length: MOST_LIGHTS }, () => new three.Vector4()) },
    lampColour: { value: Array.from({ length: MOST_LIGHTS }, () => new three.Vector4()) },
    lampAlong: { value: Array.from({ length: MOST_LIGHTS }, () => new three.Vector4()) },
    lampFull: { value: new Array<number>(MOST_LIGHTS).fill(1) },
  }

  /** Let these light: lamps, x, y, z, red, green, blue, reach of each; and lights, the same with what each is, which way, its cosines. */
  set(lamps: readonly number[][], lights: readonly number[][] = []): void {
    this.all = [...lights, ...lamps.slice(0, MOST_LAMPS)].slice(0, MOST_LIGHTS)
  }

  /** Bring them before a camera's eye: once a drawing, instead of once a light and pixel. */
  before(camera: three.Camera): void {
    const { lampCount, lampAt, lampColour, lampAlong, lampFull } = this.uniforms
    camera.updateMatrixWorld()
    lampCount.value = this.all.length
    this.all.forEach(([x, y, z, r, g, b, reach, what = 0, dx = 0, dy = 0, dz = -1, edge = 0, full = 1], i) => {
      lampAt.value[i]
        .set(x, y, z, what === 1 ? 0 : 1)
        .applyMatrix4(camera.matrixWorldInverse)
        .setW(reach)
      lampColour.value[i].set(r, g, b, what)
      lampAlong.value[i].set(dx, dy, dz, 0).applyMatrix4(camera.matrixWorldInverse).setW(edge)
      lampFull.value[i] = full
    })
  }
}

/** Return those of lamps that count: their light times the area that it reaches is most. */
export function brightest(lamps: readonly number[][]): number[][] {
  const rank = ([, , , r, g, b, reach]: number[]) => Math.max(r, g, b) * reach * reach
  return [...lamps].sort((one, other) => rank(other) - rank(one)).slice(0, MOST_LAMPS)
}
