/** Grain: kagero/core/finishing/grain.py. */
import { pointwise, vector } from './finish'

export default pointwise(
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
  (facts, size, scale) => {
    const drawn = facts.drawn as number[]
    return {
      amount: facts.amount,
      grains: Math.max((facts.size as number) * scale, 1),
      tall: size[1],
      low: vector(drawn.map((z) => z % 65536)),
      high: vector(drawn.map((z) => Math.floor(z / 65536))),
    }
  },
)
