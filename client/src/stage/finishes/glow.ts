/** Glow as the core makes it (kagero/core/finishing/glow.py): Gaussians of what is bright, each read from a picture small enough for it, added back. */
import { Vector3, type Texture, type WebGLRenderTarget } from 'three'
import type { StageFinish } from './finish'

/** The standard deviation, in pixels of the picture it is made in, from which on a smaller picture will do. */
const FINE = 3
const REACH = 3

const BRIGHT = /* glsl */ `
  uniform sampler2D picture;
  uniform float threshold, knee;
  void main() {
    vec3 c = max(texelFetch(picture, ivec2(gl_FragCoord.xy), 0).rgb, vec3(0.0));
    float most = max(c.r, max(c.g, c.b));
    if (threshold > 0.0) {
      float soft = clamp(most - threshold + knee, 0.0, 2.0 * knee);
      c *= (most > threshold + knee ? most - threshold : soft * soft / (4.0 * knee)) / max(most, 1e-9);
    }
    gl_FragColor = vec4(c, 1.0);
  }`

const HALVED = /* glsl */ `
  uniform sampler2D picture;
  void main() {
    ivec2 at = ivec2(gl_FragCoord.xy) * 2, last = textureSize(picture, 0) - 1;
    vec3 sum = vec3(0.0);
    for (int k = 0; k < 4; k++) {
      ivec2 here = at + ivec2(k & 1, k >> 1);
      if (here.x <= last.x && here.y <= last.y) sum += texelFetch(picture, here, 0).rgb;
    }
    gl_FragColor = vec4(sum / 4.0, 1.0);
  }`

const BLURRED = /* glsl */ `
  uniform sampler2D picture;
  uniform float sigma;
  uniform float down;
  void main() {
    ivec2 at = ivec2(gl_FragCoord.xy), size = textureSize(picture, 0), axis = down > 0.5 ? ivec2(0, 1) : ivec2(1, 0);
    int far = int(ceil(sigma * ${REACH}.0));
    vec3 sum = vec3(0.0);
    float whole = 0.0;
    for (int k = -far; k <= far; k++) {
      float weight = exp(-0.5 * float(k * k) / (sigma * sigma));
      whole += weight;
      ivec2 here = at + axis * k;
      if (here.x >= 0 && here.y >= 0 && here.x < size.x && here.y < size.y) sum += texelFetch(picture, here, 0).rgb * weight;
    }
    gl_FragColor = vec4(sum / whole, 1.0);
  }`

const ADDED = /* glsl */ `
  uniform sampler2D picture, blurred;
  uniform vec3 tint;
  uniform float less;
  void main() {
    vec4 c = texelFetch(picture, ivec2(gl_FragCoord.xy), 0);
    gl_FragColor = vec4(c.rgb + tint * texture2D(blurred, gl_FragCoord.xy / less / vec2(textureSize(blurred, 0))).rgb, c.a);
  }`

const glow: StageFinish = (picture, facts, shot, pass) => {
  const size: [number, number] = [shot.width, shot.height]
  const smaller: Texture[] = [pass(BRIGHT, { threshold: facts.threshold, knee: facts.knee }, picture, size).texture]
  const sizes: [number, number][] = [size]
  let sum: WebGLRenderTarget | null = null
  const tint = facts.tint as [number, number, number]
  for (const [width, share] of facts.blurs as [number, number][]) {
    const sigma = width * shot.scale
    if (share <= 0 || sigma <= 0.01) continue
    let level = 0
    while (sigma / 2 ** (level + 1) >= FINE && level < 7) level++
    while (smaller.length <= level) {
      const last = sizes.at(-1)!
      sizes.push([Math.ceil(last[0] / 2), Math.ceil(last[1] / 2)])
      smaller.push(pass(HALVED, {}, smaller.at(-1)!, sizes.at(-1)!).texture)
    }
    // halving, and reading between texels, blur too: a box and a triangle of that many pixels
    const less = 2 ** level
    const rest = Math.max(sigma * sigma - (less * less - 1) / 12 - (level ? (less * less) / 6 : 0), 0.01)
    const across = pass(BLURRED, { sigma: Math.sqrt(rest) / less, down: 0 }, smaller[level], sizes[level])
    const blurred = pass(BLURRED, { sigma: Math.sqrt(rest) / less, down: 1 }, across.texture, sizes[level])
    const times = new Vector3(...tint.map((c) => c * share))
    sum = pass(ADDED, { blurred: blurred.texture, tint: times, less }, sum?.texture ?? picture, size)
  }
  return sum ?? pass(ADDED, { blurred: smaller[0], tint: new Vector3(0, 0, 0), less: 1 }, picture, size)
}

export default glow
