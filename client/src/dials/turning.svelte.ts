/** Dials turned by somebody who does not build the effect: values beside the artist's own, kept on the server by name. */
import { api } from '../wire/api'
import type { Dial, Effect } from '../wire/types'

const KEEP_MS = 700
const NAME = 'kagero.turned-by'

export class Turning {
  /** What was turned, by the dial's uid. */
  values = $state.raw<Record<string, number>>({})
  name = $state('')
  state = $state<'untouched' | 'turned' | 'keeping' | 'kept' | 'unreachable'>('untouched')
  problem = $state('')
  /** Look at the artist's values for a while. */
  artists = $state(false)
  names = $state.raw<string[]>([])

  private waiting: ReturnType<typeof setTimeout> | undefined

  constructor(
    private id: number,
    private document: Effect,
    private onchange: (dragging: boolean) => void,
  ) {
    this.name = localStorage.getItem(NAME) ?? ''
  }

  get dials(): readonly Dial[] {
    return this.document.dials ?? []
  }

  value(dial: Dial): number {
    return this.artists ? dial.value : (this.values[dial.uid] ?? dial.value)
  }

  /** The document with what was turned, or the artist's own. */
  played(): Effect {
    return this.artists
      ? this.document
      : {
          ...this.document,
          dials: this.dials.map((d) => (d.uid in this.values ? { ...d, value: this.values[d.uid], keys: [] } : d)),
        }
  }

  turn(dial: Dial, value: number, dragging: boolean): void {
    this.artists = false
    const held = Math.min(Math.max(value, dial.low), dial.high)
    const { [dial.uid]: _, ...rest } = this.values
    // what is the artist's again is no longer turned
    this.values = held === dial.value ? rest : { ...rest, [dial.uid]: held }
    this.state = 'turned'
    this.onchange(dragging)
    if (!dragging) this.later()
  }

  compare(): void {
    this.artists = !this.artists
    this.onchange(false)
  }

  /** Give them another name; what is kept under the old one stays. */
  rename(name: string): void {
    this.name = name.trim().slice(0, 60)
    localStorage.setItem(NAME, this.name)
    if (Object.keys(this.values).length) {
      this.state = 'turned'
      this.later()
    }
  }

  async load(): Promise<void> {
    const found = await api.overlays(this.id)
    this.names = found.map((o) => o.name)
    const mine = found.find((o) => o.name === this.name)
    if (!mine || this.state !== 'untouched') return
    this.values = Object.fromEntries(
      Object.entries(mine.values).filter(([uid]) => this.dials.some((d) => d.uid === uid)),
    )
    this.state = 'kept'
    this.onchange(false)
  }

  close(): void {
    if (this.state === 'turned') void this.keep()
  }

  private later(): void {
    clearTimeout(this.waiting)
    this.waiting = setTimeout(() => void this.keep(), KEEP_MS)
  }

  private async keep(): Promise<void> {
    clearTimeout(this.waiting)
    if (!this.name) return // kept as soon as it has a name
    this.state = 'keeping'
    const values = this.values
    try {
      // all of them back at the artist's: still an answer, so that it is seen that somebody looked
      const all = Object.keys(values).length
        ? values
        : Object.fromEntries(this.dials.slice(0, 1).map((d) => [d.uid, d.value]))
      await api.keepOverlay(this.id, this.name, all)
      this.problem = ''
      if (values === this.values) this.state = 'kept'
      else this.later()
    } catch (problem) {
      this.state = 'unreachable'
      this.problem = (problem as Error).message || 'The server does not answer; trying again.'
      this.waiting = setTimeout(() => void this.keep(), 3000)
    }
  }
}
