/** In what the open effect's numbers are shown and typed: its clip says so. They are stored in SI units whatever it says. */
import type { Unit } from '../wire/types'

const PARTS_OF_A_METRE = { m: 1, cm: 100, mm: 1000 }

class Display {
  times = $state<'seconds' | 'frames'>('seconds')
  lengths = $state<keyof typeof PARTS_OF_A_METRE>('m')
  rates = $state<'per_second' | 'per_frame'>('per_second')
  /** Frames a second. */
  frameRate = $state(25)

  /** Show numbers as a clip says; without one, in SI units. */
  follow(
    clip: {
      frame_rate: [number, number]
      shown?: {
        times: 'seconds' | 'frames'
        lengths: keyof typeof PARTS_OF_A_METRE
        rates: 'per_second' | 'per_frame'
      }
    } | null,
  ): void {
    this.times = clip?.shown?.times ?? 'seconds'
    this.lengths = clip?.shown?.lengths ?? 'm'
    this.rates = clip?.shown?.rates ?? 'per_second'
    this.frameRate = clip ? clip.frame_rate[0] / clip.frame_rate[1] : 25
  }
}
export const display = new Display()

/** A unit as it is shown. measures: the stored unit's symbol, where the one shown is another. */
export type ShownUnit = Unit & { measures?: string }

/** Return a stored unit as the clip has it shown. */
export function displayed(unit: ShownUnit): ShownUnit {
  const { times, lengths, rates, frameRate } = display
  if (unit.measures) return unit
  const scaled = (symbol: string, scale: number) => ({
    symbol,
    scale: unit.scale * scale,
    digits: Math.min(6, Math.max(0, unit.digits - Math.round(Math.log10(scale)))),
    measures: unit.symbol,
  })
  if (unit.symbol === 's') return times === 'frames' ? { ...scaled('f', frameRate), digits: 1 } : unit
  const [top, below] = unit.symbol.split('/')
  const a_frame = rates === 'per_frame' && (below === 's' || below === 's²')
  const long = top === 'm' || top === 'm²'
  if (!a_frame && !(long && lengths !== 'm')) return unit
  const upper = long ? top.replace('m', lengths) : top
  const lower = below === undefined ? '' : `/${a_frame ? below.replace('s', 'f') : below}`
  const scale =
    (long ? PARTS_OF_A_METRE[lengths] ** (top === 'm²' ? 2 : 1) : 1) /
    (a_frame ? frameRate ** (below === 's²' ? 2 : 1) : 1)
  return scaled(upper + lower, scale)
}
/** What stands behind a number of a stored unit as it is shown. */
export const symbolOf = (unit: Unit): string => displayed(unit).symbol
