/** Moments: named points in the clip's time that starts, ends, bursts, rows and props hang on. */
import type { Effect, Emitter, Moment } from '../wire/types'
import { framesASecond } from './rate'

/** Return each moment's clip time, seconds, by its uid, as the core has it: in a circle the first one counts by its frame. */
export function momentTimes(effect: Effect): Map<string, number> {
  const moments = effect.moments ?? []
  const rate = framesASecond(effect.clip)
  const times = new Map<string, number>()
  const time = (moment: Moment, path: readonly string[]): number => {
    const known = times.get(moment.uid)
    if (known !== undefined) return known
    const before = moment.after ? moments.find((each) => each.uid === moment.after) : undefined
    if (!before || path.includes(before.uid))
      return (moment.frame - effect.clip.first_frame) / rate + (moment.seconds ?? 0)
    const at = time(before, [...path, moment.uid]) + (moment.seconds ?? 0)
    times.set(moment.uid, at)
    return at
  }
  return new Map(moments.map((moment) => [moment.uid, time(moment, [moment.uid])]))
}

/** From when to when an emitter gives births, clip seconds; null: to the clip's end. */
export function runsFrom(emitter: Emitter, times: ReadonlyMap<string, number>): { from: number; to: number | null } {
  const { start = 0, duration = null, after, until } = emitter.births as Emitter['births'] & When
  const from = start + (times.get(after ?? '') ?? 0)
  return { from, to: times.get(until ?? '') ?? (duration === null ? null : from + duration) }
}
export type When = {
  start?: number
  duration?: number | null
  every?: number | null
  after?: string | null
  until?: string | null
}

/** The moments that may stand after which one: those that do not come after it themselves. */
export function before(effect: Effect, moment: Moment): Moment[] {
  const moments = effect.moments ?? []
  const comesAfter = (each: Moment, seen: readonly string[] = []): boolean =>
    each.uid === moment.uid ||
    (!!each.after &&
      !seen.includes(each.uid) &&
      moments.some((other) => other.uid === each.after && comesAfter(other, [...seen, each.uid])))
  return moments.filter((each) => !comesAfter(each))
}

/** The document with a moment at a clip time, seconds: what it is measured from stays. */
export function placed(effect: Effect, moment: Moment, seconds: number): Moment {
  const times = momentTimes(effect)
  const rate = framesASecond(effect.clip)
  const from = moment.after ? times.get(moment.after) : undefined
  if (from !== undefined) return { ...moment, seconds: Number((seconds - from).toFixed(6)) }
  return { ...moment, frame: Math.round(effect.clip.first_frame + seconds * rate), seconds: 0 }
}
