/** What is said of a loop's seam. */
import type { Seam } from '../wire/types'

const times = (x: number) => `${x < 9.95 ? x.toFixed(1) : Math.round(x)} times`

/** How far it is over the seam, beside an ordinary frame, and beside no loop at all. */
export function asFarAs(seam: Pick<Seam, 'jump' | 'without'>): string {
  return `Over the seam the picture changes ${times(seam.jump)} as much as from frame to frame; without the loop ${times(seam.without)}.`
}

/** Who comes out of nothing there or goes into it, and how far anybody is off its way. */
export function comesAndGoes(seam: Pick<Seam, 'appear' | 'vanish' | 'shown' | 'gap'>): string {
  const changes =
    seam.appear || seam.vanish
      ? `${seam.appear} appear and ${seam.vanish} vanish there`
      : 'Nobody appears or vanishes there'
  const far = seam.gap < 1e-4 ? 'nobody is off its way' : `one is ${(seam.gap * 1000).toPrecision(2)} mm off its way`
  return `${changes}, of ${seam.shown}; ${far}.`
}
