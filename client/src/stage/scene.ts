/**
 * Draws particles as the core's renderer does: as their looks say (`looks/`), blended in linear light, painted from back to front; added
 * light covers nothing. Draws only when asked.
 */
import * as three from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import type { DrawnEmitter, FramePacket } from '../wire/packets'
import { Looking } from './looking'
import { figureLines, GridLabels, groundLines } from './measures'
import { Handles } from './handles'
import { Brush } from './brush'
import { PropLayer } from './proplayer'
import { rampAt } from './ramp'
import { encode } from '../controls/colour'
import { particleBox, SIDES, standing, type Side } from './eye'
import { Happenings } from './happenings'
import { PushLayer, type PushArrow, type PushSlice } from './pushlayer'
import { markLines, type StageMark } from './marks'
import { Finishing, type Item, type Selection } from './finishing'
import { HazeLayer } from './hazelayer'
import { brightest, Lamps } from './lamps'
import { LineLayer } from './linelayer'
import { ParticleLayer } from './particlelayer'
import { SurfaceLayer } from './surfacelayer'
import type { LookSheets } from '../wire/arrays'
import type { Effect, Emitter } from '../wire/types'

const SHOW_VERTEX = /* glsl */ `void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }`
const SHOW_FRAGMENT = /* glsl */ `
  uniform sampler2D picture;
  void main() {
    vec3 x = clamp(texelFetch(picture, ivec2(gl_FragCoord.xy), 0).rgb, 0.0, 1.0);
    // sRGB's curve by square roots, right to half a step of 8 bits: a power is slow without a graphics card
    vec3 a = sqrt(x), b = sqrt(a), c = sqrt(b);
    gl_FragColor = vec4(mix(12.92 * x, 0.662002687 * a + 0.684122060 * b - 0.323583601 * c - 0.0225411470 * x, step(0.0031308, x)), 1.0);
  }`

const COPY_FRAGMENT = /* glsl */ `
  uniform sampler2D picture;
  void main() { gl_FragColor = texelFetch(picture, ivec2(gl_FragCoord.xy), 0); }`

/** Whether the stage draws. Journeys that look at no pixel let it do all but that: without a graphics card a drawing takes most of a second. */
const draws = () => window.kageroDrawsNothing !== true

/** A finished picture that takes longer than this is not finished while something moves: it is as soon as it rests. */
const SLOW_FINISH_MS = 90
const SLOW_MS = 18 // a picture that takes longer than this cannot follow a hand at full resolution
/** How large a dot is, CSS pixels. */
const DOT = 4

export class StageScene {
  readonly camera = new three.PerspectiveCamera(40, 1, 0.02, 500)
  readonly controls: OrbitControls
  /** How many different frames' packets were drawn. */
  drawn = 0

  /** The props, and the handles of the one that is chosen. */
  private readonly lamps = new Lamps()
  readonly layer = new PropLayer(() => this.ask(), this.lamps)
  readonly handles: Handles
  readonly brush: Brush
  private renderer: three.WebGLRenderer
  private target = new three.WebGLRenderTarget(1, 1, { type: three.HalfFloatType, depthBuffer: true })
  /** Props and how deep they are, where particles have to know it to fade into them. */
  private props: three.WebGLRenderTarget | null = null
  private scene = new three.Scene()
  private marks = new three.Scene()
  private ground: [number, number, number] = [0, 0, 0]
  private guides = new three.Group()
  private labels = new GridLabels()
  private somebody: three.Object3D | null = null
  /** Whether a figure 1.7 m tall stands beside the origin. */
  figure = false
  private looking: Looking
  private track = new three.Group()
  private railed = new three.Group()
  private pushes = new PushLayer()
  private happenings = new Happenings()
  private dots = false
  /** Told after every drawing. */
  ondraw: () => void = () => {}
  private readonly cloud = new ParticleLayer(this.lamps)
  private readonly surfaces = new SurfaceLayer(this.lamps)
  private readonly haze = new HazeLayer()
  private readonly shownLines = new LineLayer()
  private readonly bodies = new three.Scene()
  private show: { scene: three.Scene; camera: three.OrthographicCamera; picture: three.IUniform<three.Texture | null> }
  private finishing: Finishing
  /** Whether the clip plays or a hand drags something; whether one looks about; whether this picture is finished, and how long such a one takes. */
  private moving = false
  private turning = false
  private finishes = false
  private finishCost = 0
  /** Pictures of the light of some emitters and props alone. */
  private alone: three.WebGLRenderTarget[] = []
  /** How high the frame is at its full size, pixels. */
  private frameHeight = 720
  /** A whole picture that stands in for what is drawn here: what only the core can make. */
  private taken: three.DataTexture | null = null
  private packet: FramePacket | null = null
  private visible: boolean[] = []
  private timing = false
  private coarse = false
  private cost = 0
  private requested = false
  private fresh = false

  constructor(private canvas: HTMLCanvasElement) {
    this.renderer = new three.WebGLRenderer({
      canvas,
      antialias: false,
      alpha: false,
      preserveDrawingBuffer: false,
      powerPreference: 'high-performance',
    })
    this.renderer.autoClear = false
    // a graphics card, or what stands in for one, that was taken away and is back: all is handed over and drawn anew
    canvas.addEventListener('webglcontextrestored', this.restore)
    this.controls = new OrbitControls(this.camera, canvas)
    this.controls.addEventListener('change', () => this.ask())
    this.controls.addEventListener('start', () => (this.turning = true))
    this.controls.addEventListener('end', () => {
      this.turning = false
      this.ask()
    })
    this.scene.add(this.cloud.mesh)
    this.bodies.add(this.cloud.solids)
    this.marks.add(
      this.shownLines.group,
      this.guides,
      this.track,
      this.railed,
      this.pushes.group,
      this.happenings.points,
      this.layer.over,
    )
    this.finishing = new Finishing(this.renderer)
    this.handles = new Handles(this.camera, canvas, this.controls, this.marks, () => this.ask())
    this.brush = new Brush(this.layer, this.camera, this.controls, this.marks, () => this.ask())
    this.looking = new Looking(this.camera, canvas, this.controls, (x, y) => this.under(x, y))
    const quad = new three.Mesh(
      new three.PlaneGeometry(2, 2),
      new three.ShaderMaterial({
        vertexShader: SHOW_VERTEX,
        fragmentShader: SHOW_FRAGMENT,
        uniforms: { picture: { value: this.target.texture } },
        depthTest: false,
      }),
    )
    quad.frustumCulled = false
    const scene = new three.Scene()
    scene.add(quad)
    this.show = { scene, camera: new three.OrthographicCamera(), picture: quad.material.uniforms.picture }
  }

  /** Fit the drawing to the element's size. */
  resize(width: number, height: number): void {
    const ratio = Math.min(window.devicePixelRatio, 2) * (this.coarse ? 0.5 : 1)
    this.renderer.setPixelRatio(ratio)
    this.renderer.setSize(width, height, false)
    // as large as what is shown, to the pixel: else showing it would blur it
    const { drawingBufferWidth, drawingBufferHeight } = this.renderer.getContext()
    this.target.setSize(drawingBufferWidth, drawingBufferHeight)
    for (const each of this.alone) each.setSize(drawingBufferWidth, drawingBufferHeight)
    this.finishing.resized()
    this.camera.aspect = drawingBufferWidth / drawingBufferHeight
    this.camera.updateProjectionMatrix()
    this.ask()
  }

  background(colour: readonly number[]): void {
    this.ground = [colour[0], colour[1], colour[2]]
    const dark = colour[0] + colour[1] + colour[2] < 0.3
    this.guideColour = dark ? [0.84, 0.78, 0.69] : [0.05, 0.06, 0.07]
    this.ask()
  }
  private guideColour = [0.84, 0.78, 0.69]

  /** Look from the effect's camera. */
  lookFrom(camera: Effect['camera']): void {
    this.camera.position.fromArray(camera.position)
    this.controls.target.fromArray(camera.target)
    this.camera.fov = ((camera.field_of_view ?? 0.7) * 180) / Math.PI
    this.camera.updateProjectionMatrix()
    this.controls.update()
    this.ask()
  }

  /**
   * Stand so that all is seen, or one emitter's particles, or one prop; as one looks now, or from a side. Returns whether
   * there was anything to see.
   */
  frame(what: { emitter?: string; prop?: string }, side?: Side): boolean {
    const box = what.emitter ? new three.Box3() : this.layer.box(what.prop)
    if (this.packet && !what.prop) box.union(particleBox(this.packet, this.visible, what.emitter))
    if (box.isEmpty()) return false
    const now = this.camera.position.clone().sub(this.controls.target)
    const view = (this.camera.fov * Math.PI) / 180
    const { position, target } = standing(box, side ? SIDES[side] : now.toArray(), view, this.camera.aspect)
    this.camera.position.fromArray(position)
    this.controls.target.fromArray(target)
    this.controls.update()
    this.ask()
    return true
  }
  /** Whether any of an emitter's particles, of some evenly chosen, is in view as one looks now. */
  sees(drawn: DrawnEmitter): boolean {
    this.camera.updateMatrixWorld()
    const at = new three.Vector3()
    const every = Math.max(1, Math.floor(drawn.count / 400))
    for (let i = 0; i < drawn.count; i += every) {
      at.fromArray(drawn.position, 3 * i).project(this.camera)
      if (Math.abs(at.x) < 1.1 && Math.abs(at.y) < 1.1 && Math.abs(at.z) < 1) return true
    }
    return false
  }
  /** Return what is under a place of the stage, in pixels: a prop, a particle, or the ground near by. */
  private under(x: number, y: number): three.Vector3 | null {
    const [u, v] = [(x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2]
    const hit = this.layer.hit(u, v, this.camera)
    if (hit) return hit.world.clone()
    const near = this.nearest(x, y, 40)
    const drawn = near && this.packet?.emitters.find((e) => e.uid === near.emitter)
    if (drawn) return new three.Vector3().fromArray(drawn.position, 3 * near.index)
    const ray = new three.Raycaster()
    ray.setFromCamera(new three.Vector2(u, v), this.camera)
    const ground = ray.ray.intersectPlane(new three.Plane(new three.Vector3(0, 1, 0), 0), new three.Vector3())
    return ground && ground.distanceTo(this.camera.position) < 30 ? ground : null
  }
  /** Show or hide all that is no part of the picture: grid, guides, handles, outlines. */
  plain(on: boolean): void {
    this.marks.visible = !on
    this.ask()
  }

  /** Return where a point of the world is on the stage, in pixels. */
  onScreen(point: readonly [number, number, number]): [number, number] {
    const at = new three.Vector3(...point).project(this.camera)
    return [((at.x + 1) / 2) * this.canvas.clientWidth, ((1 - at.y) / 2) * this.canvas.clientHeight]
  }
  /** Look through a camera that stands in the world: its matrix by rows, its view in radians. */
  lookThrough(place: readonly number[], view: number): void {
    const at = new three.Matrix4().fromArray(place as number[]).transpose()
    const [position, turn, size] = [new three.Vector3(), new three.Quaternion(), new three.Vector3()]
    at.decompose(position, turn, size)
    this.camera.position.copy(position)
    this.camera.quaternion.copy(turn)
    this.controls.target.copy(new three.Vector3(0, 0, -3).applyQuaternion(turn).add(position))
    this.camera.fov = (view * 180) / Math.PI
    this.camera.updateProjectionMatrix()
    this.ask()
  }
  /** Return where the stage is looked at from, as a camera's position and rotation (x, y, z), and its view. */
  standpoint(): { position: number[]; rotation: number[]; view: number } {
    const turn = new three.Euler().setFromQuaternion(this.camera.quaternion, 'YXZ')
    const tidy = (values: number[]) => values.map((v) => Number(v.toFixed(4)))
    return {
      position: tidy(this.camera.position.toArray()),
      rotation: tidy([turn.x, turn.y, turn.z]),
      view: Number(((this.camera.fov * Math.PI) / 180).toFixed(4)),
    }
  }
  get lineColour(): three.Color {
    const [r, g, b] = this.guideColour
    return new three.Color().setRGB(r, g, b, three.LinearSRGBColorSpace)
  }

  viewpoint(): { position: [number, number, number]; target: [number, number, number] } {
    const tidy = (v: three.Vector3) => v.toArray().map((x) => Number(x.toFixed(4))) as [number, number, number]
    return { position: tidy(this.camera.position), target: tidy(this.controls.target) }
  }

  /** Where the stage is looked at from, as the core's renderer takes it. */
  eye(): {
    position: [number, number, number]
    target: [number, number, number]
    up: [number, number, number]
    field_of_view: number
  } {
    this.camera.updateMatrixWorld()
    const m = this.camera.matrixWorld.elements
    const place = (x: number, y: number, z: number) => [x, y, z] as [number, number, number]
    return {
      position: place(m[12], m[13], m[14]),
      target: place(m[12] - m[8], m[13] - m[9], m[14] - m[10]),
      up: place(m[4], m[5], m[6]),
      field_of_view: (this.camera.fov * Math.PI) / 180,
    }
  }
  /** How large its picture is, pixels. */
  get size(): [number, number] {
    return [this.target.width, this.target.height]
  }

  /** Show a frame's particles. sheets: what looks are drawn with, by key; range: what the colours of a shaded packet span. */
  particles(
    packet: FramePacket,
    emitters: readonly Emitter[],
    sheets: (key: string) => LookSheets | undefined,
    range: readonly [number, number] | null = null,
  ): void {
    this.fresh ||= packet !== this.packet
    this.packet = packet
    const byUid = new Map(emitters.map((e) => [e.uid, e]))
    this.visible = packet.emitters.map((e) => byUid.get(e.uid)?.visible !== false)
    this.cloud.show(
      packet.emitters.filter((_, i) => this.visible[i]),
      sheets,
      range,
    )
    const shown = packet.emitters.filter((_, i) => this.visible[i])
    this.surfaces.show(shown, sheets, this.dots || range !== null)
    this.haze.show(shown, this.dots || range !== null)
    const lamps = brightest(shown.flatMap((emitter) => emitter.lamps ?? []))
    this.lamps.set(lamps, packet.lights)
    this.shownLines.show(shown, this.marksLamps ? lamps : [])
    this.showAround(packet.around)
    this.ask()
  }

  /** A mask's value at places about it, as coloured points. */
  private about: three.Points<three.BufferGeometry, three.PointsMaterial> | null = null
  private showAround(around: Float32Array | undefined): void {
    if (!around) {
      if (this.about) this.about.visible = false
      return
    }
    this.about ??= new three.Points(
      new three.BufferGeometry(),
      new three.PointsMaterial({
        size: 5,
        sizeAttenuation: false,
        vertexColors: true,
        transparent: true,
        opacity: 0.85,
      }),
    )
    if (!this.about.parent) {
      this.about.frustumCulled = false
      this.marks.add(this.about)
    }
    this.about.visible = true
    const count = around.length / 4
    const [places, colours] = [new Float32Array(count * 3), new Float32Array(count * 4)]
    for (let i = 0; i < count; i++) {
      places.set(around.subarray(4 * i, 4 * i + 3), 3 * i)
      colours.set([...rampAt(around[4 * i + 3]).map(encode), 0.12 + 0.88 * around[4 * i + 3]], 4 * i)
    }
    this.about.geometry.setAttribute('position', new three.BufferAttribute(places, 3))
    this.about.geometry.setAttribute('color', new three.BufferAttribute(colours, 4))
  }

  /** Return how many triangles of bodies are drawn: of those that hide what is behind them, and of the others. */
  triangles(): [number, number] {
    return this.cloud.triangles
  }

  /** Whether the lamps that count are marked. */
  marksLamps = false

  /** Show every living particle as a dot like any other, or as it looks. */
  asDots(dots: boolean): void {
    this.dots = dots
    this.ask()
  }

  /** Return the particle nearest to a place on the stage (CSS pixels from its corner), within `reach` pixels. */
  nearest(x: number, y: number, reach = 18): { emitter: string; index: number } | null {
    if (!this.packet) return null
    const { clientWidth: w, clientHeight: h } = this.canvas
    const v = new three.Vector3()
    let best: { emitter: string; index: number } | null = null
    let least = reach * reach
    this.packet.emitters.forEach((part, e) => {
      if (!this.visible[e]) return
      for (let i = 0; i < part.count; i++) {
        if (!(this.sizeOf(part, i) > 0)) continue
        v.fromArray(part.position, i * 3).project(this.camera)
        if (v.z > 1) continue
        const away = ((v.x * 0.5 + 0.5) * w - x) ** 2 + ((0.5 - v.y * 0.5) * h - y) ** 2
        if (away < least) {
          least = away
          best = { emitter: part.uid, index: i }
        }
      }
    })
    return best
  }

  /** Return how large a particle is drawn, in metres. */
  private sizeOf(part: DrawnEmitter, index: number): number {
    return part.columns.size?.[index] ?? part.defaults?.size ?? 0
  }

  /** Return where the picked particle stands on the stage, and how large it is, in CSS pixels. */
  pickedAt(): { x: number; y: number; r: number } | null {
    const part = this.packet?.emitters.find((e) => e.picked !== undefined)
    if (!part) return null
    const i = part.picked!
    const { clientWidth: w, clientHeight: h } = this.canvas
    const eye = new three.Vector3().fromArray(part.position, i * 3).applyMatrix4(this.camera.matrixWorldInverse)
    if (eye.z > -0.02) return null
    const r = ((this.sizeOf(part, i) / 2) * (h / (2 * Math.tan((this.camera.fov * Math.PI) / 360)))) / -eye.z
    const v = eye.applyMatrix4(this.camera.projectionMatrix)
    return { x: (v.x * 0.5 + 0.5) * w, y: (0.5 - v.y * 0.5) * h, r }
  }

  /** Where the picked particle is, metres; null where nobody is picked or it does not live now. */
  pickedPlace(): [number, number, number] | null {
    const part = this.packet?.emitters.find((e) => e.picked !== undefined)
    return part ? ([0, 1, 2].map((axis) => part.position[part.picked! * 3 + axis]) as [number, number, number]) : null
  }

  /** Which way the stage is across and up as it is looked at now, and how far off a point is, metres. */
  facing(point: readonly [number, number, number]): { across: number[]; up: number[]; distance: number } {
    this.camera.updateMatrixWorld()
    const m = this.camera.matrixWorld.elements
    return {
      across: [m[0], m[1], m[2]],
      up: [m[4], m[5], m[6]],
      distance: this.camera.position.distanceTo(new three.Vector3(...point)),
    }
  }

  /** Show what pushes the picked particle, and a slice of what would push it elsewhere. */
  pushed(arrows: readonly PushArrow[], slice: PushSlice | null): void {
    this.pushes.set(arrows, slice)
    const at = this.pickedPlace()
    this.pushes.place(at, this.facing(at ?? [0, 0, 0]))
    this.ask()
  }

  /** Show where cues happened lately to emitters, and where they touch; none shows none. */
  happen(emitters: readonly DrawnEmitter[]): void {
    this.happenings.show(emitters, this.renderer.getPixelRatio())
    this.ask()
  }

  /** Show the rails of rides, lines of points in the world; none shows none. */
  rails(lines: readonly (readonly (readonly number[])[])[]): void {
    if (!lines.length && !this.railed.children.length) return
    for (const child of this.railed.children) (child as three.LineSegments).geometry.dispose()
    this.railed.clear()
    const points = lines.flatMap((line) => line.slice(1).flatMap((point, i) => [...line[i], ...point]))
    if (points.length) {
      const color = new three.Color().setRGB(0.098, 0.381, 0.381, three.LinearSRGBColorSpace)
      this.railed.add(
        new three.LineSegments(
          new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3)),
          new three.LineBasicMaterial({ color, transparent: true, opacity: 0.6, depthTest: false }),
        ),
      )
    }
    this.ask()
  }

  /** Show the path of one particle, or none. */
  path(points: readonly (readonly number[])[] | null): void {
    for (const child of this.track.children) (child as three.Line).geometry.dispose()
    this.track.clear()
    if (points && points.length > 1) {
      const geometry = new three.BufferGeometry().setAttribute(
        'position',
        new three.Float32BufferAttribute(points.flat(), 3),
      )
      const colour = new three.Color().setRGB(0.8, 0.13, 0.045, three.LinearSRGBColorSpace)
      this.track.add(
        new three.Line(
          geometry,
          new three.LineBasicMaterial({ color: colour, transparent: true, opacity: 0.85, depthTest: false }),
        ),
      )
    }
    this.ask()
  }

  /** Draw the ground, and marks of where the parts of the chosen emitter are. */
  guide(marks: readonly StageMark[], places: ReadonlyMap<string, readonly number[]> = new Map()): void {
    for (const child of this.guides.children) (child as three.LineSegments).geometry?.dispose()
    this.guides.clear()
    const { fine, axes } = groundLines()
    this.lines(fine, 0.13, null)
    this.lines(axes, 0.28, null)
    if (this.figure) {
      this.lines(figureLines(0), 0.8, null)
      this.somebody = this.guides.children.at(-1)!
      this.somebody.position.x = 1.2
    } else this.somebody = null
    this.labels.write(`rgb(${this.guideColour.map((c) => Math.round(encode(c) * 255)).join(' ')})`)
    this.guides.add(this.labels.group)
    for (const mark of marks) {
      this.lines(markLines(mark), 0.75, mark.mark === 'arrow' || mark.small ? null : [0.05, 0.05])
      const place = mark.space ? places.get(mark.space) : undefined
      const lines = place && this.guides.children.at(-1)
      if (lines) {
        lines.matrixAutoUpdate = false
        lines.matrix.fromArray(place as number[])
      }
    }
    this.ask()
  }

  private lines(points: number[], strength: number, dash: [number, number] | null): void {
    if (!points.length) return
    const geometry = new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3))
    const [r, g, b] = this.guideColour
    const colour = new three.Color().setRGB(r, g, b, three.LinearSRGBColorSpace)
    const look = { color: colour, transparent: true, opacity: strength, depthTest: false }
    const material = dash
      ? new three.LineDashedMaterial({ ...look, dashSize: dash[0], gapSize: dash[1] })
      : new three.LineBasicMaterial(look)
    const lines = new three.LineSegments(geometry, material)
    if (dash) lines.computeLineDistances()
    this.guides.add(lines)
  }

  ask(): void {
    if (this.requested) return
    this.requested = true
    requestAnimationFrame(() => {
      this.requested = false
      this.draw()
    })
  }

  /** Particles in linear light first, only where there are any; then all of it encoded for the screen, guides on top. */
  private draw(): void {
    this.camera.updateMatrixWorld()
    if (this.somebody) {
      // it turns its front to whoever looks
      const { x, z } = this.somebody.position
      this.somebody.rotation.y = Math.atan2(this.camera.position.x - x, this.camera.position.z - z)
    }
    this.cloud.sort(this.camera)
    const gl = this.renderer.getContext()
    const focal = this.target.height / (2 * Math.tan((this.camera.fov * Math.PI) / 360))
    const { width, height } = this.target
    this.lamps.before(this.camera)
    this.cloud.frame(focal, width, height, this.dots ? DOT * this.renderer.getPixelRatio() : 0)
    // props may be anywhere, and hide what stands behind them; what is done to the picture may reach everywhere
    const solid = this.layer.solid || this.cloud.hides || this.surfaces.there
    const moves = this.moving || this.turning
    const finishes = this.finishing.some && !this.dots && !(moves && this.finishCost > SLOW_FINISH_MS)
    this.finishes = finishes
    const box: [number, number, number, number] | null =
      solid || this.dots || this.haze.there || finishes
        ? [0, 0, width, height]
        : this.cloud.bounds(this.camera, focal, width, height)
    if (!draws()) return this.ended()
    const reads = solid && (this.cloud.soft || this.haze.there) && !this.dots
    const props = reads ? this.deep() : null
    this.cloud.behind(solid, props?.depthTexture ?? null, this.camera)
    const only = (then: () => void) => {
      gl.enable(gl.SCISSOR_TEST)
      gl.scissor(...box!)
      then()
      gl.disable(gl.SCISSOR_TEST)
    }
    const paint = (target: three.WebGLRenderTarget, ground: readonly [number, number, number]) => {
      this.renderer.setRenderTarget(props ?? target)
      only(() => {
        gl.clearColor(...ground, 0) // what covers it is counted from nothing on
        this.renderer.state.buffers.depth.setMask(true)
        gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT)
        if (this.layer.solid) this.renderer.render(this.layer.scene, this.camera)
        if (this.cloud.hides) this.renderer.render(this.bodies, this.camera)
        if (this.surfaces.there) this.renderer.render(this.surfaces.scene, this.camera)
        if (props) {
          this.renderer.setRenderTarget(target)
          this.copy.uniforms.picture.value = props.texture
          this.renderer.render(this.copied, this.show.camera)
        }
        if (this.haze.there) {
          this.haze.seen(this.camera, width, height, props?.depthTexture ?? null)
          this.renderer.render(this.haze.scene, this.show.camera)
        }
        this.renderer.render(this.scene, this.camera)
      })
    }
    let shown: three.Texture = this.target.texture
    if (this.taken) shown = this.taken
    else if (box) paint(this.target, this.ground)
    if (finishes && box && !this.taken) {
      const alone = this.finishing.selections.map((selection, i) => {
        this.shine(selection)
        const target = (this.alone[i] ??= new three.WebGLRenderTarget(width, height, { type: three.HalfFloatType }))
        paint(target, [0, 0, 0])
        return target.texture
      })
      if (alone.length) this.shine(null)
      shown = this.finishing.finished(shown, alone, this.ground, { width, height, scale: height / this.frameHeight })
    }
    this.show.picture.value = shown
    this.renderer.setRenderTarget(null)
    gl.clearColor(...(this.ground.map(encode) as [number, number, number]), 1)
    gl.clear(gl.COLOR_BUFFER_BIT)
    if (this.taken) this.renderer.render(this.show.scene, this.show.camera)
    else if (box) only(() => this.renderer.render(this.show.scene, this.show.camera))
    this.renderer.render(this.marks, this.camera)
    this.clock(gl as WebGL2RenderingContext)
    this.ended()
  }

  /** Count a drawing, and tell of it. */
  private ended(): void {
    if (this.fresh) {
      this.fresh = false
      this.drawn++
    }
    this.ondraw()
  }

  /** Let these be done to the picture, whose frame is so high at its full size. */
  finish(items: readonly Item[], frameHeight: number): void {
    this.finishing.set(items)
    this.frameHeight = frameHeight
    this.ask()
  }

  /** Let only what is selected give light; null: all. */
  private shine(selection: Selection | null): void {
    this.cloud.shining(selection && selection.emitters)
    this.surfaces.shining(selection && selection.emitters)
    this.haze.shining(selection && selection.emitters)
    this.layer.shining(selection && selection.props)
  }

  /** Show a whole picture in place of what is drawn here, linear light in half floats, rows from the top down; null: what is drawn here. */
  stand(picture: { light: Uint16Array; width: number; height: number } | null): void {
    this.taken?.dispose()
    this.taken = null
    if (picture && picture.width === this.target.width && picture.height === this.target.height) {
      const { width, height, light } = picture
      const texels = new Uint16Array(width * height * 4)
      for (let y = 0; y < height; y++)
        for (let x = 0, from = (height - 1 - y) * width * 3, to = y * width * 4; x < width; x++, from += 3, to += 4) {
          texels[to] = light[from]
          texels[to + 1] = light[from + 1]
          texels[to + 2] = light[from + 2]
          texels[to + 3] = 0x3c00
        }
      this.taken = new three.DataTexture(texels, width, height, three.RGBAFormat, three.HalfFloatType)
      this.taken.needsUpdate = true
    }
    this.ask()
  }

  private copy = new three.ShaderMaterial({
    vertexShader: SHOW_VERTEX,
    fragmentShader: COPY_FRAGMENT,
    uniforms: { picture: { value: null as three.Texture | null } },
    depthTest: false,
    depthWrite: false,
  })
  private copied = (() => {
    const quad = new three.Mesh(new three.PlaneGeometry(2, 2), this.copy)
    quad.frustumCulled = false
    return new three.Scene().add(quad)
  })()

  /** Return what props are drawn into so that how deep they are can be read. */
  private deep(): three.WebGLRenderTarget {
    const { width, height } = this.target
    if (!this.props || this.props.width !== width || this.props.height !== height) {
      this.props?.dispose()
      this.props = new three.WebGLRenderTarget(width, height, { type: three.HalfFloatType })
      this.props.depthTexture = new three.DepthTexture(width, height, three.UnsignedIntType)
    }
    return this.props
  }

  /** Learn how long the graphics card, or what stands in for one, takes for a picture. */
  private clock(gl: WebGL2RenderingContext): void {
    if (this.timing) return
    const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0)
    if (!sync) return
    this.timing = true
    const started = performance.now()
    const finished = this.finishes
    gl.flush()
    const look = () => {
      if (gl.isContextLost()) return
      const took = performance.now() - started
      if (gl.getSyncParameter(sync, gl.SYNC_STATUS) !== gl.SIGNALED && took < 500) return void setTimeout(look, 2)
      gl.deleteSync(sync)
      this.timing = false
      if (finished) this.finishCost = this.finishCost ? this.finishCost * 0.7 + took * 0.3 : took
      else if (!this.coarse) this.cost = this.cost ? this.cost * 0.7 + took * 0.3 : took
    }
    setTimeout(look, 2)
  }

  /** Say whether the clip plays, or a hand moves something. */
  moves(on: boolean): void {
    if (on === this.moving) return
    this.moving = on
    if (!on) this.ask()
  }

  /** While a hand is moving something, draw at half the resolution where a whole picture takes too long to follow it. */
  hurry(on: boolean): void {
    const coarse = on && this.cost > SLOW_MS
    if (coarse === this.coarse) return
    this.coarse = coarse
    this.resize(this.canvas.clientWidth, this.canvas.clientHeight)
  }

  /** Return pixels of a rectangle of the stage in shares of its size, sRGB, rows from the bottom up; drawn anew for it. */
  private pixels(x: number, y: number, w: number, h: number): { data: Uint8Array; width: number; height: number } {
    if (!draws()) throw new Error('This stage draws nothing: the journey has to be one that looks at its picture.')
    this.draw()
    const gl = this.renderer.getContext()
    const [W, H] = [gl.drawingBufferWidth, gl.drawingBufferHeight]
    const [width, height] = [Math.max(1, Math.floor(w * W)), Math.max(1, Math.floor(h * H))]
    const data = new Uint8Array(width * height * 4)
    gl.readPixels(Math.floor(x * W), Math.floor((1 - y - h) * H), width, height, gl.RGBA, gl.UNSIGNED_BYTE, data)
    return { data, width, height }
  }

  /** Draw once more, the data of the particles handed over anew; return how long until the picture is there, and the script's own part of it, ms. */
  timed(): [whole: number, script: number] {
    const gl = this.renderer.getContext()
    gl.finish()
    const started = performance.now()
    this.cloud.again()
    this.draw()
    const scripted = performance.now() - started
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4))
    return [performance.now() - started, scripted]
  }

  /** Return the whole stage: its size, and its pixels in base 64, RGBA, rows from the bottom up. */
  picture(): { width: number; height: number; pixels: string } {
    const { data, width, height } = this.pixels(0, 0, 1, 1)
    let text = ''
    for (let at = 0; at < data.length; at += 32768) text += String.fromCharCode(...data.subarray(at, at + 32768))
    return { width, height, pixels: btoa(text) }
  }

  /** Return the mean sRGB colour (0..255) of a rectangle of the stage in shares of its size. */
  mean(x: number, y: number, w: number, h: number): [number, number, number] {
    const { data } = this.pixels(x, y, w, h)
    const sum = [0, 0, 0]
    for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c] += data[i + c]
    return sum.map((s) => s / (data.length / 4)) as [number, number, number]
  }

  private restore = (): void => {
    this.timing = false
    this.renderer.autoClear = false
    this.cloud.again()
    this.ask()
  }

  dispose(): void {
    this.canvas.removeEventListener('webglcontextrestored', this.restore)
    this.looking.dispose()
    this.labels.clear()
    this.controls.dispose()
    this.handles.dispose()
    this.finishing.dispose()
    for (const each of this.alone) each.dispose()
    this.taken?.dispose()
    this.cloud.dispose()
    this.surfaces.dispose()
    this.haze.dispose()
    this.shownLines.dispose()
    this.target.dispose()
    this.props?.dispose()
    this.copy.dispose()
    this.renderer.dispose()
  }
}
