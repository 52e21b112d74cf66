/** Lift, gain, temperature, saturation: kagero/core/finishing/colour.py. */
import { Matrix3 } from 'three'
import { pointwise, vector } from './finish'

export default pointwise(
  /* glsl */ `uniform mat3 daylight;
  uniform vec3 lift, gain;
  uniform float saturation;
  vec4 light(vec4 c) {
    vec3 x = daylight * (gain * (c.rgb + lift * (c.a - c.rgb)));
    float grey = dot(x, vec3(0.2126, 0.7152, 0.0722));
    return vec4(max(grey + (x - grey) * saturation, vec3(0.0)), c.a);
  }`,
  (facts) => ({
    daylight: new Matrix3().set(...(facts.matrix as Parameters<Matrix3['set']>)),
    lift: vector(facts.lift),
    gain: vector(facts.gain),
    saturation: facts.saturation,
  }),
)
