/** Exposure: kagero/core/finishing/exposure.py. */
import { pointwise } from './finish'

export default pointwise(
  /* glsl */ `uniform float times;
  vec4 light(vec4 c) { return vec4(c.rgb * times, c.a); }`,
  (facts) => ({ times: facts.times }),
)
