/** Handles on the stage: a prop is moved, turned and sized; a path's points are dragged. */
import * as three from 'three'
import type { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js'

export type Placing = { position: number[]; rotation: number[]; scale: number[] }
export type Mode = 'translate' | 'rotate' | 'scale'
const NEAR = 12 // pixels

/** With Ctrl a handle moves by tenths of a metre and turns by 5 degrees. */
const GRID = 0.1
const TURN = (5 * Math.PI) / 180

export class Handles {
  private parent = new three.Group()
  private proxy = new three.Object3D()
  private controls: TransformControls
  private points: three.Points
  private local: number[][] = []
  private toWorld = new three.Matrix4()
  private held = -1
  /** Told while a hand moves something, and once when it lets go. */
  onplace: (placing: Placing, done: boolean) => void = () => {}
  onpoint: (index: number, to: [number, number, number], done: boolean) => void = () => {}

  constructor(
    private camera: three.PerspectiveCamera,
    private canvas: HTMLCanvasElement,
    private orbit: OrbitControls,
    readonly scene: three.Scene,
    private ask: () => void,
  ) {
    this.controls = new TransformControls(camera, canvas)
    this.controls.setSize(0.7)
    this.controls.setColors(0xd9a441, 0x86a85a, 0x58a6a6, 0xe8643c)
    this.proxy.rotation.order = 'YXZ' // turned, then tilted, then rolled, as the rows say
    this.parent.matrixAutoUpdate = false
    this.parent.add(this.proxy)
    scene.add(this.parent, this.controls.getHelper())
    this.controls.addEventListener('change', () => this.ask())
    const snap = (on: boolean) => {
      this.controls.setTranslationSnap(on ? GRID : null)
      this.controls.setRotationSnap(on ? TURN : null)
      this.controls.setScaleSnap(on ? GRID : null)
    }
    this.keys = (event) => snap(event.ctrlKey || event.metaKey)
    window.addEventListener('keydown', this.keys)
    window.addEventListener('keyup', this.keys)
    this.controls.addEventListener('objectChange', () => this.onplace(this.placing(), false))
    this.controls.addEventListener('dragging-changed', (event) => {
      this.orbit.enabled = !event.value
      if (!event.value) this.onplace(this.placing(), true)
    })
    this.points = new three.Points(
      new three.BufferGeometry(),
      new three.PointsMaterial({ color: 0xece5d8, size: 9, sizeAttenuation: false, depthTest: false }),
    )
    this.points.frustumCulled = false
    this.points.matrixAutoUpdate = false
    this.points.visible = false
    scene.add(this.points)
    this.show(null, null, 'translate')
  }

  get busy(): boolean {
    return this.controls.dragging || this.held >= 0
  }

  /** Offer handles for a prop: where it stands (by rows), and its own numbers, unless something drives them. */
  show(place: readonly number[] | null, own: Placing | null, mode: Mode): void {
    if (this.controls.dragging) return
    if (!place || !own) {
      this.controls.detach()
      this.controls.enabled = false
      return this.ask()
    }
    this.proxy.position.fromArray(own.position)
    this.proxy.rotation.set(own.rotation[0], own.rotation[1], own.rotation[2], 'YXZ')
    this.proxy.scale.fromArray(own.scale)
    this.proxy.updateMatrix()
    // what stands between its own place and the world: what it follows
    this.parent.matrix.fromArray(place).transpose().multiply(this.proxy.matrix.clone().invert())
    this.parent.matrixWorldNeedsUpdate = true
    this.controls.enabled = true
    this.controls.setMode(mode)
    this.controls.setSpace(mode === 'translate' ? 'world' : 'local')
    this.controls.attach(this.proxy)
    this.ask()
  }

  /** Offer the points of a path, in its own space. */
  path(place: readonly number[] | null, points: number[][]): void {
    this.local = points
    this.points.visible = !!place
    if (!place) return this.ask()
    this.toWorld.fromArray(place).transpose()
    this.points.matrix.copy(this.toWorld)
    this.points.matrixWorldNeedsUpdate = true
    this.points.geometry.setAttribute('position', new three.Float32BufferAttribute(points.flat(), 3))
    this.ask()
  }

  /** A press on the stage: returns whether it took hold of a point. */
  press(x: number, y: number): boolean {
    if (!this.points.visible || this.controls.axis) return false
    let best = NEAR
    this.local.forEach((point, i) => {
      const [px, py] = this.onScreen(point)
      const away = Math.hypot(px - x, py - y)
      if (away < best) {
        best = away
        this.held = i
      }
    })
    if (this.held < 0) return false
    this.orbit.enabled = false
    return true
  }
  drag(x: number, y: number): void {
    if (this.held < 0) return
    this.onpoint(this.held, this.under(x, y, this.local[this.held]), false)
  }
  release(x: number, y: number): void {
    if (this.held < 0) return
    const held = this.held
    this.held = -1
    this.orbit.enabled = true
    this.onpoint(held, this.under(x, y, this.local[held]), true)
  }

  /** Return where a point put in at a place of the stage belongs in the path, and where it is in the path's own space. */
  insert(x: number, y: number): { at: number; point: [number, number, number] } | null {
    if (!this.points.visible || !this.local.length) return null
    const on = this.local.map((p) => this.onScreen(p))
    if (on.some(([px, py]) => Math.hypot(px - x, py - y) < NEAR)) return null
    let best = { away: NEAR * 2, at: this.local.length, share: 1 }
    for (let i = 0; i + 1 < on.length; i++) {
      const [ax, ay] = on[i]
      const [bx, by] = [on[i + 1][0] - ax, on[i + 1][1] - ay]
      const share = Math.min(Math.max(((x - ax) * bx + (y - ay) * by) / (bx * bx + by * by || 1), 0), 1)
      const away = Math.hypot(ax + share * bx - x, ay + share * by - y)
      if (away < best.away) best = { away, at: i + 1, share }
    }
    const a = this.local[best.at - 1]
    const b = this.local[best.at] ?? a
    return {
      at: best.at,
      point: this.under(
        x,
        y,
        a.map((v, k) => v + (b[k] - v) * best.share),
      ),
    }
  }
  private onScreen(point: readonly number[]): [number, number] {
    const at = new three.Vector3()
      .fromArray(point as number[])
      .applyMatrix4(this.toWorld)
      .project(this.camera)
    return [((at.x + 1) / 2) * this.canvas.clientWidth, ((1 - at.y) / 2) * this.canvas.clientHeight]
  }
  /** Return the place under the pointer, as far away as a point is, in the path's own space. */
  private under(x: number, y: number, point: readonly number[]): [number, number, number] {
    const depth = new three.Vector3()
      .fromArray(point as number[])
      .applyMatrix4(this.toWorld)
      .project(this.camera).z
    const at = new three.Vector3(
      (x / this.canvas.clientWidth) * 2 - 1,
      1 - (y / this.canvas.clientHeight) * 2,
      depth,
    ).unproject(this.camera)
    return at
      .applyMatrix4(this.toWorld.clone().invert())
      .toArray()
      .map((v) => Number(v.toFixed(4))) as [number, number, number]
  }
  private placing(): Placing {
    const tidy = (values: number[]) => values.map((v) => Number(v.toFixed(4)))
    const { position, rotation, scale } = this.proxy
    return {
      position: tidy(position.toArray()),
      rotation: tidy([rotation.x, rotation.y, rotation.z]),
      scale: tidy(scale.toArray()),
    }
  }
  private keys: (event: KeyboardEvent) => void
  dispose(): void {
    window.removeEventListener('keydown', this.keys)
    window.removeEventListener('keyup', this.keys)
    this.controls.dispose()
  }
}
