/** Kinds of finish that make each pixel's light of its own: kagero/core/finishing has a namesake of each. */
import { Matrix3, Vector3 } from 'three'
import type { StageFinish, Told } from './finish'

const three = (of: unknown) => new Vector3(...(of as [number, number, number]))

/** A shader of `light` (vec4 c, ivec2 at) with its uniforms. */
function pointwise(
  body: string,
  uniforms: (told: Told, size: readonly [number, number], scale: number) => Record<string, unknown>,
): StageFinish {
  const fragment = /* glsl */ `
    uniform sampler2D picture;
    ${body}
    void main() { gl_FragColor = light(texelFetch(picture, ivec2(gl_FragCoord.xy), 0)); }`
  return (picture, told, shot, pass) =>
    pass(fragment, uniforms(told, [shot.width, shot.height], shot.scale), picture, [shot.width, shot.height])
}

export const exposure = pointwise(
  /* glsl */ `uniform float times;
  vec4 light(vec4 c) { return vec4(c.rgb * times, c.a); }`,
  (told) => ({ times: told.times }),
)

export const colour = pointwise(
  /* glsl */ `uniform mat3 daylight;
  uniform vec3 lift, gain;
  uniform float saturation;
  vec4 light(vec4 c) {
    vec3 x = daylight * (gain * (c.rgb + lift * (c.a - c.rgb)));
    float grey = dot(x, vec3(0.2126, 0.7152, 0.0722));
    return vec4(max(grey + (x - grey) * saturation, vec3(0.0)), c.a);
  }`,
  (told) => ({
    daylight: new Matrix3().set(...(told.matrix as Parameters<Matrix3['set']>)),
    lift: three(told.lift),
    gain: three(told.gain),
    saturation: told.saturation,
  }),
)

export const vignette = pointwise(
  /* glsl */ `uniform float amount, begins, softness;
  uniform vec2 size;
  vec4 light(vec4 c) {
    float away = length(gl_FragCoord.xy / size * 2.0 - 1.0) / 1.41421356;
    float share = clamp((away - begins) / max(softness, 1e-6), 0.0, 1.0);
    return vec4(c.rgb * (1.0 - amount * share * share * (3.0 - 2.0 * share)), c.a);
  }`,
  (told, size) => ({ amount: told.amount, begins: told.begins, softness: told.softness, size: [...size] }),
)

export const toneCurve = pointwise(
  /* glsl */ `uniform float white, byLuminance;
  vec3 rolled(vec3 l) { return min(l * (1.0 + l / (white * white)) / (1.0 + l), vec3(1.0)); }
  vec4 light(vec4 c) {
    vec3 l = max(c.rgb, vec3(0.0));
    if (byLuminance < 0.5) return vec4(rolled(l), c.a);
    float grey = dot(l, vec3(0.2126, 0.7152, 0.0722));
    return vec4(l * rolled(vec3(grey)).x / max(grey, 1e-9), c.a);
  }`,
  (told) => ({ white: told.white, byLuminance: told.luminance ? 1 : 0 }),
)

export const grain = pointwise(
  /* glsl */ `uniform float amount, grains, tall;
  uniform vec3 low, high; // of the number each channel's noise is hashed with: its 16 lower bits, and the others
  uint pcg(uint v) {
    uint state = v * 747796405u + 2891336453u;
    uint word = ((state >> ((state >> 28u) + 4u)) ^ state) * 277803737u;
    return (word >> 22u) ^ word;
  }
  float drawn(ivec2 at, uint z) {
    uint bits = pcg(uint(at.x) + pcg(uint(at.y) + pcg(z)));
    float sum = float(bits & 255u) + float((bits >> 8u) & 255u) + float((bits >> 16u) & 255u) + float(bits >> 24u);
    return (sum / 255.0 - 2.0) * 1.7320508;
  }
  float noise(uint z) {
    vec2 at = vec2(gl_FragCoord.x, tall - gl_FragCoord.y) / grains;
    ivec2 first = ivec2(floor(at));
    if (grains <= 1.0) return drawn(first, z);
    vec2 f = at - vec2(first), g = 1.0 - f;
    vec4 w = vec4(g.x * g.y, f.x * g.y, g.x * f.y, f.x * f.y);
    vec4 n = vec4(drawn(first, z), drawn(first + ivec2(1, 0), z), drawn(first + ivec2(0, 1), z), drawn(first + ivec2(1, 1), z));
    return dot(w, n) / length(w);
  }
  vec4 light(vec4 c) {
    vec3 varies;
    for (int k = 0; k < 3; k++) varies[k] = noise(uint(low[k]) + uint(high[k]) * 65536u) * amount;
    return vec4(max(c.rgb + sqrt(max(c.rgb, vec3(0.0))) * varies, vec3(0.0)), c.a);
  }`,
  (told, size, scale) => {
    const drawn = told.drawn as number[]
    return {
      amount: told.amount,
      grains: Math.max((told.size as number) * scale, 1),
      tall: size[1],
      low: three(drawn.map((z) => z % 65536)),
      high: three(drawn.map((z) => Math.floor(z / 65536))),
    }
  },
)
