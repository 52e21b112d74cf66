/** The core's own picture of what the stage shows: a quick small one first, then all of it. */
import { api } from '../wire/api'
import type { Effect } from '../wire/types'

/** Where a picture is taken from. */
export type Eye = { position: Vector; target: Vector; up: Vector; field_of_view: number }
type Vector = [number, number, number]
/** A part of a picture: left, top, width, height, shares of its size. */
export type Region = [number, number, number, number]
export const WHOLE: Region = [0, 0, 1, 1]

/** A picture, in pixels: as it is shown, and its linear light in half floats, red, green, blue; scale: 1 once it is as fine as it gets. */
export type Shot = {
  name: string
  width: number
  height: number
  shown: ImageData
  light: Uint16Array
  scale: number
  region: Region
  seconds: number
}
/** What to make a picture of. */
export type Wish = {
  document: Effect
  frame: number
  width: number
  height: number
  eye: Eye
  region: Region
  name: string
  how?: How
}
/** How a picture is looked at: as it is, where its light is cut, or over black, grey and white with its alpha apart. */
export type How = 'seen' | 'clipped' | 'edges'

const QUICK = 0.25
const REST_MS = 140

export class Renders {
  /** The picture as it is now; with a region, within the one before it. */
  shot = $state.raw<Shot | null>(null)
  /** Whether a finer one is on its way. */
  busy = $state(false)
  problem = $state('')
  private requested: AbortController | null = null
  private waiting: ReturnType<typeof setTimeout> | undefined

  /** Make a picture: a small one at once, all of it when nothing has changed for a while. quick: only the small one. */
  make(wish: Wish, quick: boolean): void {
    this.stop()
    const requested = (this.requested = new AbortController())
    const whole = wish.region.every((share, i) => share === WHOLE[i])
    this.busy = true
    void this.step(wish, whole ? QUICK : 1, requested)
    if (whole && !quick)
      this.waiting = setTimeout(() => this.requested === requested && void this.step(wish, 1, requested), REST_MS)
  }

  /** Make all of a picture once nothing has changed for a while, and hand it over. */
  rest(wish: Wish, hand: (shot: Pick<Shot, 'light' | 'width' | 'height'>) => void): void {
    this.stop()
    const requested = (this.requested = new AbortController())
    this.waiting = setTimeout(async () => {
      const result = await api.render({ ...wish, scale: 1 }, requested.signal).catch(() => null)
      if (result && this.requested === requested) hand(result)
    }, REST_MS)
  }

  private async step(wish: Wish, scale: number, requested: AbortController): Promise<void> {
    const started = performance.now()
    try {
      const result = await api.render({ ...wish, scale }, requested.signal)
      if (this.requested !== requested || (this.shot?.scale === 1 && scale < 1 && this.last === requested)) return
      const seconds = (performance.now() - started) / 1000
      this.shot = { ...result, name: wish.name, scale, region: wish.region, seconds }
      this.last = requested
      this.problem = ''
      if (scale === 1) this.busy = false
    } catch (problem) {
      if (requested.signal.aborted) return
      this.problem =
        (problem as Error).message || 'The server does not answer. The picture is tried again with the next change.'
      this.busy = false
    }
  }
  private last: AbortController | null = null

  stop(): void {
    clearTimeout(this.waiting)
    this.requested?.abort()
    this.requested = null
    this.busy = false
  }
}
