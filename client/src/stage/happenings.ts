/** Brief marks where cues happened, which widen and fade over a few frames, and dots where particles touch a contact. */
import * as three from 'three'
import type { DrawnEmitter } from '../wire/packets'

const LATELY = 4
const CUE: [number, number, number] = [0.9, 0.42, 0.12]
const TOUCH: [number, number, number] = [0.098, 0.381, 0.381]
const VERTEX = `
attribute vec4 tint;
attribute float across;
uniform float ratio;
varying vec4 shade;
varying float wide;
void main() {
  shade = tint;
  wide = across * ratio;
  gl_PointSize = wide;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`
const FRAGMENT = `
varying vec4 shade;
varying float wide;
void main() {
  float away = length(gl_PointCoord - 0.5) * wide;
  float rim = wide * 0.5 - 1.5;
  float ring = 1.0 - smoothstep(0.3, 1.0, abs(away - rim));
  float dot = 1.0 - smoothstep(1.0, 2.0, away);
  float there = wide > 8.0 ? ring : dot;
  gl_FragColor = vec4(shade.rgb, shade.a * there);
  if (gl_FragColor.a < 0.01) discard;
}`

/** Return the places, tints and widths (pixels) of what happened to emitters: rings for cues, the older the wider and fainter; dots for touches. */
export function marked(emitters: readonly Pick<DrawnEmitter, 'happened' | 'touching'>[]): {
  place: number[]
  tint: number[]
  across: number[]
} {
  const [place, tint, across]: number[][] = [[], [], []]
  for (const { happened, touching } of emitters) {
    for (let i = 0; touching && i < touching.length; i += 3) {
      place.push(touching[i], touching[i + 1], touching[i + 2])
      tint.push(...TOUCH, 0.9)
      across.push(5)
    }
    for (let i = 0; happened && i < happened.length; i += 5) {
      const ago = happened[i + 4]
      place.push(happened[i], happened[i + 1], happened[i + 2])
      tint.push(...CUE, 0.9 - (0.8 * ago) / LATELY)
      across.push(9 + 4 * ago)
    }
  }
  return { place, tint, across }
}

export class Happenings {
  readonly points: three.Points<three.BufferGeometry, three.ShaderMaterial>

  constructor() {
    const material = new three.ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: { ratio: { value: 1 } },
      transparent: true,
      depthTest: false,
      depthWrite: false,
    })
    this.points = new three.Points(new three.BufferGeometry(), material)
    this.points.frustumCulled = false
  }

  /** Show what happened to emitters; ratio: pixels of the picture for one of the screen. */
  show(emitters: readonly DrawnEmitter[], ratio: number): void {
    const { place, tint, across } = marked(emitters)
    const geometry = this.points.geometry
    geometry.dispose()
    this.points.visible = across.length > 0
    this.points.material.uniforms.ratio.value = ratio
    if (!across.length) return
    this.points.geometry = new three.BufferGeometry()
      .setAttribute('position', new three.Float32BufferAttribute(place, 3))
      .setAttribute('tint', new three.Float32BufferAttribute(tint, 4))
      .setAttribute('across', new three.Float32BufferAttribute(across, 1))
  }
}
