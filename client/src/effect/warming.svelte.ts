/** What the server compiles beside serving, asked for every two seconds until it is done. */
import type { Warming as Told } from '../wire/types'

const EVERY = 2000

export class Warming {
  /** What is compiled now, or nothing. */
  progress = $state.raw<Told | null>(null)
  private timer: ReturnType<typeof setTimeout> | undefined
  private closed = false

  /** ask: asks the server. */
  constructor(private ask: () => Promise<Told>) {
    void this.again()
  }

  /** In words, with how far it is; empty: all is compiled, or the server does not say. */
  get words(): string {
    const { progress } = this
    return progress && progress.of > 0 && progress.done < progress.of
      ? `${progress.words}, ${progress.done} of ${progress.of}`
      : ''
  }

  close(): void {
    this.closed = true
    clearTimeout(this.timer)
  }

  private async again(): Promise<void> {
    this.progress = await this.ask().catch(() => null)
    if (!this.closed && this.words) this.timer = setTimeout(() => void this.again(), EVERY)
  }
}
