/** A colour that is about to be taken from the stage: whoever asks waits here for it, and the stage gives what is pressed. */
import type { Rgb } from './colour'

class Picking {
  /** Told of the colour under the next press on the stage, linear light; null once given up. */
  wish = $state.raw<((colour: Rgb | null) => void) | null>(null)

  give(colour: Rgb | null): void {
    const { wish } = this
    this.wish = null
    wish?.(colour)
  }
}
export const picking = new Picking()
