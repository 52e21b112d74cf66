/** A clip's frame rate is an exact fraction, as the document holds it; people read and type decimals. */
import type { Clip, Effect } from '../wire/types'

export type Rate = Clip['frame_rate']

/** Frames a second, as a number. */
export const framesASecond = (clip: { frame_rate: Rate }): number => clip.frame_rate[0] / clip.frame_rate[1]

/** As people name it: `25`, `23.976`, `12.5`. */
export const rateText = (clip: { frame_rate: Rate }): string => String(Number(framesASecond(clip).toFixed(3)))

/** The fraction that a typed decimal means: 23.976, 23.98, 29.97 … are whole rates over 1.001 (SMPTE ST 12-1), others what they say. */
export function exactRate(decimal: number): Rate {
  if (decimal !== Math.round(decimal)) {
    const whole = [24, 30, 48, 60, 120].find((each) => Math.abs(decimal - (each * 1000) / 1001) < 0.006)
    if (whole) return [whole * 1000, 1001]
  }
  let [low, high]: [Rate, Rate] = [
    [Math.floor(decimal), 1],
    [Math.floor(decimal) + 1, 1],
  ]
  let best: Rate = decimal - low[0] <= high[0] - decimal ? low : high
  for (;;) {
    // the mediants of Stern and Brocot close in on it
    const middle: Rate = [low[0] + high[0], low[1] + high[1]]
    if (middle[1] > 1001) return best
    if (Math.abs(middle[0] / middle[1] - decimal) < Math.abs(best[0] / best[1] - decimal)) best = middle
    if (middle[0] / middle[1] === decimal) return middle
    if (middle[0] / middle[1] < decimal) low = middle
    else high = middle
  }
}

/** The document with what is counted in frames (the clip's ends, bursts) moved to the seconds it had under another rate, from frame nought. */
export function atSameSeconds(document: Effect, before: Rate): Effect {
  const times = framesASecond(document.clip) / (before[0] / before[1])
  const frame = (n: number) => Math.round(n * times) || 0
  const { clip } = document
  return {
    ...document,
    clip: {
      ...clip,
      first_frame: frame(clip.first_frame),
      last_frame: frame(clip.last_frame),
      run_up: frame(clip.run_up ?? 0),
    },
    ...(document.moments?.length && { moments: document.moments.map((m) => ({ ...m, frame: frame(m.frame) })) }),
    emitters: document.emitters.map((e) =>
      e.births.bursts?.length
        ? { ...e, births: { ...e.births, bursts: e.births.bursts.map((b) => ({ ...b, frame: frame(b.frame) })) } }
        : e,
    ),
  }
}
