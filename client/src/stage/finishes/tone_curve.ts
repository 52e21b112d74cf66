/** The tone curve: kagero/core/finishing/tone_curve.py. */
import { pointwise } from './finish'

export default pointwise(
  /* glsl */ `uniform float white, byLuminance;
  vec3 rolled(vec3 l) { return min(l * (1.0 + l / (white * white)) / (1.0 + l), vec3(1.0)); }
  vec4 light(vec4 c) {
    vec3 l = max(c.rgb, vec3(0.0));
    if (byLuminance < 0.5) return vec4(rolled(l), c.a);
    float grey = dot(l, vec3(0.2126, 0.7152, 0.0722));
    return vec4(l * rolled(vec3(grey)).x / max(grey, 1e-9), c.a);
  }`,
  (facts) => ({ white: facts.white, byLuminance: facts.luminance ? 1 : 0 }),
)
