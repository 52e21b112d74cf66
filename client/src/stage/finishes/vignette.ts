/** Darker towards the corners: kagero/core/finishing/vignette.py. */
import { pointwise } from './finish'

export default pointwise(
  /* glsl */ `uniform float amount, begins, softness;
  uniform vec2 size;
  vec4 light(vec4 c) {
    float away = length(gl_FragCoord.xy / size * 2.0 - 1.0) / 1.41421356;
    float share = clamp((away - begins) / max(softness, 1e-6), 0.0, 1.0);
    return vec4(c.rgb * (1.0 - amount * share * share * (3.0 - 2.0 * share)), c.a);
  }`,
  (facts, size) => ({ amount: facts.amount, begins: facts.begins, softness: facts.softness, size: [...size] }),
)
