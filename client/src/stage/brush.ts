/** The soft brush on the stage: where it is over the chosen prop, and the line of a stroke in the prop's own space. */
import * as three from 'three'
import type { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import type { PropLayer } from './proplayer'

const MOST_POINTS = 400

export class Brush {
  private ring: three.LineLoop
  private line: [number, number, number][] | null = null
  private on: string | null = null
  private radius = 0.2

  constructor(
    private layer: PropLayer,
    private camera: three.PerspectiveCamera,
    private orbit: OrbitControls,
    scene: three.Scene,
    private ask: () => void,
  ) {
    const points = Array.from(
      { length: 48 },
      (_, i) => new three.Vector3(Math.cos((i / 48) * 2 * Math.PI), Math.sin((i / 48) * 2 * Math.PI), 0),
    )
    this.ring = new three.LineLoop(
      new three.BufferGeometry().setFromPoints(points),
      new three.LineBasicMaterial({ color: 0xece5d8, depthTest: false, transparent: true }),
    )
    this.ring.visible = false
    scene.add(this.ring)
  }

  /** Take the brush in hand for a prop, or put it away. radius: metres, in the prop's own space. */
  hold(prop: string | null, radius: number): void {
    this.on = prop
    this.radius = radius
    if (!prop) {
      this.ring.visible = false
      this.orbit.enabled = true
      this.line = null
    }
    this.ask()
  }
  get stroking(): boolean {
    return this.line !== null
  }

  /** The pointer is at a place of the stage (-1..1). Returns the stroke so far when one is being drawn and grew. */
  over(x: number, y: number): [number, number, number][] | null {
    if (!this.on) return null
    const hit = this.layer.hit(x, y, this.camera, this.on)
    this.ring.visible = !!hit
    this.ask()
    if (!hit) return null
    this.ring.position.copy(hit.world).addScaledVector(hit.normal, 0.002)
    this.ring.lookAt(hit.world.clone().add(hit.normal))
    this.ring.scale.setScalar(this.radius * hit.scale)
    if (!this.line) return null
    const last = this.line.at(-1)
    const far = last ? Math.hypot(...hit.local.map((v, i) => v - last[i])) : Infinity
    if (far < this.radius / 6 || this.line.length >= MOST_POINTS) return null
    this.line.push(tidy(hit.local))
    return this.line
  }

  /** A press. The stroke begins where the hand first meets the prop; one that misses it never turns the view. */
  press(x: number, y: number): [number, number, number][] | null {
    if (!this.on) return null
    this.orbit.enabled = false
    this.line = []
    return this.over(x, y)
  }
  /** The hand lets go: returns the whole stroke, or null when it never met the prop. */
  release(): [number, number, number][] | null {
    const result = this.line
    this.line = null
    this.orbit.enabled = true
    return result?.length ? result : null
  }
}

const tidy = (p: readonly number[]) => p.map((v) => Number(v.toFixed(5))) as [number, number, number]
