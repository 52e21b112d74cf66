/** Looking around with the pointer: about what is under it, where the press was; with Ctrl in steps of 5 degrees. */
import * as three from 'three'
import type { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { turnedAbout, walked, type Eye } from './eye'

const STEP = (5 * Math.PI) / 180

export class Looking {
  private hand: { x: number; y: number; eye: Eye; about: three.Vector3; moved: boolean } | null = null

  constructor(
    private camera: three.PerspectiveCamera,
    private canvas: HTMLCanvasElement,
    private controls: OrbitControls,
    /** Return what is under a place of the stage (pixels), in the world; null where nothing is. */
    private under: (x: number, y: number) => three.Vector3 | null,
  ) {
    // the left button is ours: what the library turns about is what it looks at
    controls.mouseButtons = { LEFT: null, MIDDLE: three.MOUSE.DOLLY, RIGHT: three.MOUSE.PAN }
    canvas.addEventListener('pointerdown', this.down)
    canvas.addEventListener('pointermove', this.move)
    canvas.addEventListener('pointerup', this.up)
    canvas.addEventListener('pointercancel', this.up)
    canvas.addEventListener('keydown', this.walk)
  }

  private eye(): Eye {
    return { position: this.camera.position.clone(), target: this.controls.target.clone() }
  }
  private put(eye: Eye): void {
    this.camera.position.copy(eye.position)
    this.controls.target.copy(eye.target)
    this.camera.lookAt(eye.target)
    this.controls.update()
    this.controls.dispatchEvent({ type: 'change' })
  }

  private down = (event: PointerEvent) => {
    if (event.button !== 0 || event.pointerType === 'touch' || !this.controls.enabled) return
    const box = this.canvas.getBoundingClientRect()
    const about = this.under(event.clientX - box.left, event.clientY - box.top) ?? this.controls.target.clone()
    this.hand = { x: event.clientX, y: event.clientY, eye: this.eye(), about, moved: false }
    this.canvas.setPointerCapture(event.pointerId)
  }
  private move = (event: PointerEvent) => {
    const { hand } = this
    if (!hand) return
    if (!this.controls.enabled) return void (this.hand = null) // a handle was taken instead
    const [dx, dy] = [event.clientX - hand.x, event.clientY - hand.y]
    if (!hand.moved && Math.hypot(dx, dy) < 3) return
    if (!hand.moved) this.controls.dispatchEvent({ type: 'start' })
    hand.moved = true
    const turn = (pixels: number) => {
      const angle = (-2 * Math.PI * pixels) / this.canvas.clientHeight
      return event.ctrlKey || event.metaKey ? Math.round(angle / STEP) * STEP : angle
    }
    this.put(turnedAbout(hand.eye, hand.about, turn(dx), turn(dy)))
  }
  private up = () => {
    if (this.hand?.moved) this.controls.dispatchEvent({ type: 'end' })
    this.hand = null
  }
  /** Arrows walk and turn, page keys rise and sink; Shift goes in smaller steps. */
  private walk = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return
    const small = event.shiftKey ? 0.2 : 1
    const eye = this.eye()
    const far = Math.min(Math.max(eye.position.distanceTo(eye.target) * 0.08, 0.05), 2) * small
    const turn = STEP * small
    const result = (
      {
        ArrowUp: () => walked(eye, far, 0, 0),
        ArrowDown: () => walked(eye, -far, 0, 0),
        ArrowLeft: () => (event.altKey ? walked(eye, 0, -far, 0) : turnedAbout(eye, eye.position, turn, 0)),
        ArrowRight: () => (event.altKey ? walked(eye, 0, far, 0) : turnedAbout(eye, eye.position, -turn, 0)),
        PageUp: () => walked(eye, 0, 0, far),
        PageDown: () => walked(eye, 0, 0, -far),
      } as Record<string, () => Eye>
    )[event.key]?.()
    if (!result) return
    event.preventDefault()
    event.stopPropagation()
    this.controls.dispatchEvent({ type: 'start' })
    this.put(result)
    this.controls.dispatchEvent({ type: 'end' })
  }

  dispose(): void {
    for (const [name, listener] of [
      ['pointerdown', this.down],
      ['pointermove', this.move],
      ['pointerup', this.up],
      ['pointercancel', this.up],
      ['keydown', this.walk],
    ] as const)
      this.canvas.removeEventListener(name, listener as EventListener)
  }
}
