/**
 * What is done to the picture on the stage, in order, as in the core (kagero/core/workflows/rendering.py): the light without what stands behind it goes through the
 * items; what acts on some emitters and props acts on their light as it is seen among all else.
 */
import * as three from 'three'
import type { Finish } from '../wire/types'
import type { Shot, StageFinish, Told } from './finishes/finish'
import { byName } from './kinds'

/** The kinds of finish: each is the module of its name in finishes/, by its default export. */
export const FINISHES = byName(import.meta.glob<{ default?: StageFinish }>('./finishes/*.ts', { eager: true }))

const VERTEX = /* glsl */ `void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }`
const TAKEN = /* glsl */ `
  uniform sampler2D picture;
  uniform vec3 ground;
  void main() {
    vec4 c = texelFetch(picture, ivec2(gl_FragCoord.xy), 0);
    gl_FragColor = vec4(c.rgb - ground * (1.0 - clamp(c.a, 0.0, 1.0)), c.a);
  }`
const OVER = /* glsl */ `
  uniform sampler2D picture, behind;
  void main() {
    vec4 c = texelFetch(picture, ivec2(gl_FragCoord.xy), 0);
    gl_FragColor = vec4(c.rgb + texelFetch(behind, ivec2(gl_FragCoord.xy), 0).rgb * (1.0 - clamp(c.a, 0.0, 1.0)), 1.0);
  }`
const FLAT = /* glsl */ `
  uniform vec3 ground;
  void main() { gl_FragColor = vec4(ground, 1.0); }`
const CHANGED = /* glsl */ `
  uniform sampler2D picture, before, after;
  void main() {
    vec4 c = texelFetch(picture, ivec2(gl_FragCoord.xy), 0);
    gl_FragColor = vec4(c.rgb + texelFetch(after, ivec2(gl_FragCoord.xy), 0).rgb - texelFetch(before, ivec2(gl_FragCoord.xy), 0).rgb, c.a);
  }`
const SHARED = /* glsl */ `
  uniform sampler2D picture, before, after;
  void main() {
    vec4 c = texelFetch(picture, ivec2(gl_FragCoord.xy), 0);
    vec3 share = clamp(c.rgb / max(texelFetch(before, ivec2(gl_FragCoord.xy), 0).rgb, vec3(1e-9)), 0.0, 1.0);
    gl_FragColor = vec4(share * texelFetch(after, ivec2(gl_FragCoord.xy), 0).rgb, c.a);
  }`

export type Item = { part: Finish; uniforms: Told }
/** What some items act on alone. */
export type Selection = { emitters: readonly string[]; props: readonly string[] }
export const isChosen = (part: Finish): boolean => !!(part.emitters?.length || part.props?.length)
const keyOf = (part: Finish): string =>
  JSON.stringify([[...(part.emitters ?? [])].sort(), [...(part.props ?? [])].sort()])

export class Finishing {
  private items: Item[] = []
  private pool = new Map<string, three.WebGLRenderTarget[]>()
  private used = new Map<string, number>()
  private programs = new Map<string, three.ShaderMaterial>()
  private camera = new three.OrthographicCamera()
  private quad = new three.Mesh(new three.PlaneGeometry(2, 2))
  private scene = new three.Scene().add(this.quad)

  constructor(private renderer: three.WebGLRenderer) {
    this.quad.frustumCulled = false
  }

  /** Let these be done, those that act on finished light. */
  set(items: readonly Item[]): void {
    this.items = items.filter(({ part }) => !part.muted && part.kind in FINISHES)
  }

  get some(): boolean {
    return this.items.length > 0
  }

  /** The selections whose light is needed by itself. */
  get selections(): Selection[] {
    const found = new Map<string, Selection>()
    for (const { part } of this.items)
      if (isChosen(part)) found.set(keyOf(part), { emitters: part.emitters ?? [], props: part.props ?? [] })
    return [...found.values()]
  }

  /** Return the finished picture. picture: light over the ground, and how much covers it; alone: the light of each of `selections`. */
  finished(
    picture: three.Texture,
    alone: readonly three.Texture[],
    ground: readonly [number, number, number],
    shot: Shot,
  ): three.Texture {
    this.used.clear()
    const size = [shot.width, shot.height] as const
    const pass = this.pass
    const colourOf = new three.Vector3(...ground)
    let whole = pass(TAKEN, { ground: colourOf }, picture, size)
    let behind: three.WebGLRenderTarget | null = null
    const flat = () => (behind ??= pass(FLAT, { ground: colourOf }, picture, size))
    let merged = false
    const keys = this.selections.map((each) => JSON.stringify([[...each.emitters].sort(), [...each.props].sort()]))
    const parts = new Map<string, three.Texture>(keys.map((key, i) => [key, alone[i]]))
    for (const { part, uniforms } of this.items) {
      const act = (of: three.Texture) => FINISHES[part.kind](of, uniforms, shot, pass)
      if (isChosen(part)) {
        const before = parts.get(keyOf(part))!
        const after = act(before).texture
        whole = pass(CHANGED, { before, after }, whole.texture, size)
        parts.set(keyOf(part), after)
        continue
      }
      const { linear, on_plate: onPlate } = uniforms
      let before = whole.texture
      if (onPlate && !merged && !linear) {
        whole = pass(OVER, { behind: flat().texture }, whole.texture, size)
        merged = true
        before = whole.texture
      } else if (onPlate && !merged) behind = act(flat().texture)
      whole = act(whole.texture)
      for (const [key, light] of parts)
        parts.set(
          key,
          linear ? act(light).texture : pass(SHARED, { before, after: whole.texture }, light, size).texture,
        )
    }
    return merged ? whole.texture : pass(OVER, { behind: flat().texture }, whole.texture, size).texture
  }

  private pass = (
    fragment: string,
    uniforms: Record<string, unknown>,
    from: three.Texture,
    size: readonly [number, number],
  ): three.WebGLRenderTarget => {
    const target = this.target(...size)
    let program = this.programs.get(fragment)
    if (!program) {
      program = new three.ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: fragment,
        depthTest: false,
        depthWrite: false,
        uniforms: {},
      })
      this.programs.set(fragment, program)
    }
    for (const [name, value] of Object.entries({ ...uniforms, picture: from }))
      if (program.uniforms[name]) program.uniforms[name].value = value
      else program.uniforms[name] = { value }
    program.uniformsNeedUpdate = true
    this.quad.material = program
    this.renderer.setRenderTarget(target)
    this.renderer.render(this.scene, this.camera)
    return target
  }

  /** Return a picture to draw into that nothing else of this drawing is in. */
  private target(width: number, height: number): three.WebGLRenderTarget {
    const key = `${width} ${height}`
    const there = this.pool.get(key) ?? []
    this.pool.set(key, there)
    const at = this.used.get(key) ?? 0
    this.used.set(key, at + 1)
    return (there[at] ??= new three.WebGLRenderTarget(width, height, {
      type: three.HalfFloatType,
      depthBuffer: false,
      minFilter: three.LinearFilter,
      magFilter: three.LinearFilter,
    }))
  }

  /** Let go of the pictures of another size. */
  resized(): void {
    for (const targets of this.pool.values()) for (const each of targets) each.dispose()
    this.pool.clear()
  }

  dispose(): void {
    this.resized()
    for (const program of this.programs.values()) program.dispose()
    this.quad.geometry.dispose()
  }
}
