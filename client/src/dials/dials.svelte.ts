/** What the drawer of dials knows besides the document: what each dial does, how it fares at its ends, and what others turned it to. */
import type { OpenEffect } from '../effect/open.svelte'
import { Queue } from '../effect/queue'
import { api } from '../wire/api'
import type { Dial, DialUse, Trial, TurnedOverlay } from '../wire/types'

const SETTLE_MS = 350
const TRY_MS = 1500

/** Return what a dial does in a few words: "multiplies 2, limits 1"; empty when it drives nothing. */
export function inShort(uses: readonly DialUse[]): string {
  const counts = new Map<string, number>()
  for (const { how } of uses) counts.set(how, (counts.get(how) ?? 0) + 1)
  return [...counts]
    .map(([how, n]) => (how.startsWith('is read') ? `in ${n} formula${n > 1 ? 's' : ''}` : `${how} ${n}`))
    .join(', ')
}

/** Return the step of a slider over a dial's range: a round number, some hundred of them. */
export function stepOf(dial: { low: number; high: number }): number {
  return 10 ** Math.floor(Math.log10((dial.high - dial.low) / 100))
}

/** Return the dials whose values differ in an overlay, with both values. */
export function differences(dials: readonly Dial[], values: Record<string, number>): { dial: Dial; theirs: number }[] {
  return dials.flatMap((dial) =>
    dial.uid in values && values[dial.uid] !== dial.value ? [{ dial, theirs: values[dial.uid] }] : [],
  )
}

export class Dials {
  uses = $state.raw<Record<string, DialUse[]>>({})
  trials = $state.raw<Record<string, Trial>>({})
  /** The dial that is being tried now. */
  trying = $state<string | null>(null)
  overlays = $state.raw<TurnedOverlay[]>([])
  problem = $state('')

  private settling: ReturnType<typeof setTimeout> | undefined
  private waiting: ReturnType<typeof setTimeout> | undefined
  private tried = new Map<string, string>()
  private requested = 0
  private turn = new Queue()

  constructor(private effect: OpenEffect) {}

  /** The document changed, or the drawer was opened: look again once it rests. */
  refresh(): void {
    clearTimeout(this.settling)
    clearTimeout(this.waiting)
    this.requested++
    this.settling = setTimeout(() => void this.attempt(() => this.look()), SETTLE_MS)
    this.waiting = setTimeout(() => void this.tryAll(), TRY_MS)
  }

  /** Learn what each dial does. */
  async look(): Promise<void> {
    this.uses = await api.dialUses(this.effect.plain())
  }

  async load(): Promise<void> {
    await this.turn.add(() => this.attempt(() => this.fetch()))
  }

  /** Take some of an overlay's values, or throw them away, one after the other; they are out of it then. */
  async takeOut(overlay: TurnedOverlay, uids: string[]): Promise<void> {
    await this.turn.add(() =>
      this.attempt(async () => {
        await api.takeOut(this.effect.id, overlay.id, uids)
        await this.fetch()
      }),
    )
  }

  private async fetch(): Promise<void> {
    this.overlays = await api.overlays(this.effect.id)
  }

  close(): void {
    clearTimeout(this.settling)
    clearTimeout(this.waiting)
    this.requested++
  }

  /** Try every dial that was not tried as the effect is now. What a dial's own value is does not matter to its trial. */
  private async tryAll(): Promise<void> {
    const mine = this.requested
    const document = this.effect.document
    for (const dial of document.dials ?? []) {
      const state = JSON.stringify({
        ...document,
        name: '',
        dials: (document.dials ?? []).map((d) => (d.uid === dial.uid ? { ...d, value: 0 } : d)),
      })
      if (this.tried.get(dial.uid) === state) continue
      this.trying = dial.uid
      await this.attempt(async () => {
        const trial = await api.tryDial(document as unknown as Record<string, unknown>, dial.uid)
        this.trials = { ...this.trials, [dial.uid]: trial }
        this.tried.set(dial.uid, state)
      })
      if (mine !== this.requested) break
    }
    this.trying = null
  }

  private async attempt(work: () => Promise<unknown>): Promise<void> {
    try {
      await work()
      this.problem = ''
    } catch (problem) {
      this.problem = (problem as Error).message || 'The server does not answer.'
    }
  }
}
