/** The light that props, bodies and surfaces stand in, with the lamps that particles are: kagero/core/kernels/shading.py has the same. */
import * as three from 'three'

/** How many lamps there can be at once: the core sends no more. */
export const MOST_LAMPS = 16

/** GLSL: `shaded` gives by how much a surface is lit, its rim and its gleam, for a unit normal and the vector to the eye, in the eye's space. */
export const LAMPS = /* glsl */ `
  uniform int lampCount;
  uniform vec4 lampAt[${MOST_LAMPS}]; // places in the world, and how far each reaches
  uniform vec3 lampColour[${MOST_LAMPS}];
  vec3 shaded(vec3 n, vec3 toEye, out float rim, out float gleam) {
    vec3 eye = normalize(toEye), key = normalize(vec3(0.35, 0.7, 0.62));
    float facing = dot(n, eye);
    if (facing < 0.0) n = -n;
    rim = 0.6 * pow(1.0 - abs(facing), 3.0);
    gleam = pow(max(dot(n, normalize(key + eye)), 0.0), 48.0);
    vec3 light = vec3(0.16 + 0.62 * max(dot(n, key), 0.0));
    for (int i = 0; i < lampCount; i++) {
      vec3 d = (viewMatrix * vec4(lampAt[i].xyz, 1.0)).xyz + toEye;
      float left = 1.0 - dot(d, d) / (lampAt[i].w * lampAt[i].w);
      if (left > 0.0) light += lampColour[i] * max(dot(n, d) / max(length(d), 1e-6), 0.0) * left * left;
    }
    return light;
  }`

export class Lamps {
  readonly uniforms = {
    lampCount: { value: 0 },
    lampAt: { value: Array.from({ length: MOST_LAMPS }, () => new three.Vector4()) },
    lampColour: { value: Array.from({ length: MOST_LAMPS }, () => new three.Vector3()) },
  }

  /** Let these light: x, y, z, red, green, blue, reach of each. */
  set(lamps: readonly number[][]): void {
    const { lampCount, lampAt, lampColour } = this.uniforms
    lampCount.value = Math.min(lamps.length, MOST_LAMPS)
    lamps.slice(0, MOST_LAMPS).forEach(([x, y, z, r, g, b, reach], i) => {
      lampAt.value[i].set(x, y, z, reach)
      lampColour.value[i].set(r, g, b)
    })
  }
}

/** Return those of lamps that count: their light times the area that it reaches is most. */
export function brightest(lamps: readonly number[][]): number[][] {
  const rank = ([, , , r, g, b, reach]: number[]) => Math.max(r, g, b) * reach * reach
  return [...lamps].sort((one, other) => rank(other) - rank(one)).slice(0, MOST_LAMPS)
}
