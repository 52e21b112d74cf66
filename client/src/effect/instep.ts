/** Windows of one effect in step: the Desk says what is seen, a window with the stage alone shows it, and asks back to play and step. */
import type { Effect, Picked } from '../wire/types'

export type Seen = {
  document: Effect
  dragging: boolean
  frame: number
  playing: boolean
  picked: Picked | null
  shade: string
  field: string
}
type Said = { seen: Seen } | { hello: true } | { ask: 'toggle' | 'back' | 'on' } | { bye: true }

const open = (id: number) => new BroadcastChannel(`kagero-effect-${id}`)

/** The Desk's side. `seen` is asked for when a window comes, and told by `tell` when it changes. */
export class Leading {
  private channel: BroadcastChannel
  /** Whether anybody may be looking: nothing is sent to nobody. */
  private followed = false

  constructor(
    id: number,
    private seen: () => Seen,
    act: (what: 'toggle' | 'back' | 'on') => void,
  ) {
    this.channel = open(id)
    this.channel.onmessage = ({ data }: MessageEvent<Said>) => {
      if ('hello' in data) {
        this.followed = true
        this.tell()
      } else if ('ask' in data) act(data.ask)
    }
    this.channel.postMessage({ bye: true } satisfies Said) // one that was left open from before says hello again
  }
  tell(): void {
    if (this.followed) this.channel.postMessage({ seen: this.seen() } satisfies Said)
  }
  close(): void {
    this.channel.close()
  }
}

/** The other window's side. */
export class Following {
  private channel: BroadcastChannel

  constructor(id: number, show: (seen: Seen) => void) {
    this.channel = open(id)
    this.channel.onmessage = ({ data }: MessageEvent<Said>) => {
      if ('seen' in data) show(data.seen)
      else if ('bye' in data) this.channel.postMessage({ hello: true } satisfies Said)
    }
    this.channel.postMessage({ hello: true } satisfies Said)
  }
  ask(what: 'toggle' | 'back' | 'on'): void {
    this.channel.postMessage({ ask: what } satisfies Said)
  }
  close(): void {
    this.channel.close()
  }
}
