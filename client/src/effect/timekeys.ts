/**
 * Keys over the clip: of rows that clip time drives through a curve, and of dials. What is set at a frame becomes a key there; the
 * curve's ranges grow to hold it, and the other keys keep their times and values.
 */
import { evaluate, pieces } from '../controls/curve'
import type { CurveResponse, Dial, Key, Response, Row } from '../wire/types'
import { isSourced } from './catalog.svelte'
import { newUid } from './path'

/** Which number of a row: of a vector 0, 1, 2; of a number -1. */
export type Component = -1 | 0 | 1 | 2
const AXES: Record<number, 'x' | 'y' | 'z'> = { 0: 'x', 1: 'y', 2: 'z' }

const acts = (r: Response, which: Component) =>
  !r.muted && (r.kind === 'gradient' || which < 0 || r.component === 'all' || r.component === AXES[which])
const fromClip = (r: Response): r is CurveResponse => r.kind === 'curve' && r.source.kind === 'clip_time'
const number = (row: Row, which: Component): number => (which < 0 ? row.base : (row.base as number[])[which]) as number

/** Whether a response is plain keys over the clip: nothing but its curve says what it gives. */
const plain = (r: CurveResponse): boolean =>
  r.read === 'live' &&
  r.amount === 1 &&
  (r.shift ?? 0) === 0 &&
  (r.exponent ?? 1) === 1 &&
  (r.beyond ?? 'hold') === 'hold' &&
  r.output.every((o) => typeof o === 'number') &&
  r.input[0] < r.input[1]

/**
 * What may be set of a number of a row as it stands: 'free', nothing drives it and its base is it; its keys over the clip; or null,
 * where something else decides.
 */
export function settable(row: Row, which: Component): 'free' | CurveResponse | null {
  if (isSourced(row.base as never)) return null
  const those = row.muted ? [] : (row.responses ?? []).filter((r) => acts(r, which))
  if (!those.length) return 'free'
  const [one] = those
  if (those.length > 1 || !fromClip(one) || !plain(one) || (which >= 0 && one.component === 'all')) return null
  if (!['set', 'add', 'multiply'].includes(one.operation)) return null
  return one.operation === 'multiply' && !number(row, which) ? null : one
}

const timeOf = (r: CurveResponse, x: number) => r.input[0] + (r.input[1] - r.input[0]) * x
const answerOf = (r: CurveResponse, y: number) =>
  (r.output[0] as number) + ((r.output[1] as number) - (r.output[0] as number)) * y

/** Return a number of a row at a time, which may be set (`settable`). time: clip seconds. */
export function valueAt(row: Row, which: Component, time: number): number {
  const base = number(row, which)
  const r = settable(row, which)
  if (r === 'free' || !r) return base
  const x = Math.min(Math.max((time - r.input[0]) / (r.input[1] - r.input[0]), 0), 1)
  const answer = answerOf(r, evaluate(pieces(r.curve.keys), x))
  return r.operation === 'add' ? base + answer : r.operation === 'multiply' ? base * answer : answer
}

type TimeKey = { time: number; value: number; shape: Key['shape']; into?: Key['into']; out?: Key['out'] }
/** Return a response's keys in seconds and in what it answers; handles in these too. */
function keysOf(r: CurveResponse): TimeKey[] {
  const [wide, tall] = [r.input[1] - r.input[0], answerOf(r, 1) - answerOf(r, 0)]
  const handle = (h: Key['into']) => (h ? ([h[0] * wide, h[1] * tall] as [number, number]) : null)
  return r.curve.keys.map((k) => ({
    time: timeOf(r, k.x),
    value: answerOf(r, k.y),
    shape: k.shape,
    into: handle(k.into),
    out: handle(k.out),
  }))
}
/** Return the response with other keys, its ranges grown where they must be. */
function withKeys(r: CurveResponse, keys: TimeKey[]): CurveResponse {
  const times = keys.map((k) => k.time)
  const values = keys.map((k) => k.value)
  const input: [number, number] = [Math.min(r.input[0], ...times), Math.max(r.input[1], ...times)]
  let [low, high] = [r.output[0] as number, r.output[1] as number]
  const [least, most] = [Math.min(low, high, ...values), Math.max(low, high, ...values)]
  if (low <= high) [low, high] = [least, most]
  else [low, high] = [most, least]
  if (low === high) high = low + 1
  const share = (t: number) => Number(((t - input[0]) / (input[1] - input[0])).toFixed(7))
  const handle = (h: Key['into']) =>
    h ? ([h[0] / (input[1] - input[0]), h[1] / (high - low)] as [number, number]) : null
  return {
    ...r,
    input,
    output: [low, high],
    curve: {
      keys: keys.map((k) => ({
        x: share(k.time),
        y: Number(((k.value - low) / (high - low)).toFixed(7)),
        shape: k.shape,
        into: handle(k.into),
        out: handle(k.out),
      })),
    },
  }
}

/** Return keys with one at a time: what is nearer to it than `near` gives way. */
function placed<K extends { time: number }>(keys: readonly K[], key: K, near: number): K[] {
  return [...keys.filter((k) => Math.abs(k.time - key.time) > near), key].sort((a, b) => a.time - b.time)
}

/** Return the row in which a number has a value at a time: a key where clip time drives it, else its base. near: half a frame, seconds. */
export function withValue(row: Row, which: Component, time: number, value: number, near: number): Row {
  const r = settable(row, which)
  if (!r) return row
  const base = number(row, which)
  if (r === 'free')
    return {
      ...row,
      base: which < 0 ? value : (row.base as number[]).map((b, i) => (i === which ? value : b)),
    } as Row
  const answer = r.operation === 'add' ? value - base : r.operation === 'multiply' ? value / base : value
  const keys = keysOf(r)
  const before = keys.filter((k) => k.time <= time + near).at(-1)
  const result = withKeys(r, placed(keys, { time, value: answer, shape: before?.shape ?? 'smooth' }, near))
  return { ...row, responses: row.responses.map((each) => (each.uid === r.uid ? result : each)) } as Row
}

/** Return the row keyed over the clip: each of its numbers that nothing drives has keys of its own, the first one here. */
export function keyed(row: Row, time: number, length: number): Row {
  if (isSourced(row.base as never)) return row
  const every: Component[] = typeof row.base === 'number' ? [-1] : [0, 1, 2]
  const result = every
    .filter((which) => settable(row, which) === 'free')
    .map((which) => {
      const value = number(row, which)
      const reach = Math.abs(value) || 1
      const fresh = {
        kind: 'curve',
        uid: newUid(),
        source: { kind: 'clip_time' },
        read: 'live',
        operation: 'set',
        amount: 1,
        muted: false,
        input: [0, Math.max(length, 0.04)],
        beyond: 'hold',
        shift: 0,
        exponent: 1,
        output: [value - reach, value + reach],
        component: which < 0 ? 'all' : AXES[which],
        curve: { keys: [{ x: 0, y: 0, shape: 'smooth' }] },
      } as unknown as CurveResponse
      return withKeys(fresh, [{ time: Math.min(Math.max(time, 0), fresh.input[1]), value, shape: 'smooth' }])
    })
  return { ...row, responses: [...(row.responses ?? []), ...result] } as Row
}

/** Return the times of a row's keys over the clip, seconds. */
export const timesOf = (row: Row): number[] =>
  (row.responses ?? []).filter(fromClip).flatMap((r) => r.curve.keys.map((k) => timeOf(r, k.x)))

/** Return the row in which the keys at a time are at another, or, with `copies`, at both; with no other time they are gone. */
export function moved(row: Row, from: number, to: number | null, near: number, copies = false): Row {
  let changed = false
  const responses = (row.responses ?? []).map((r) => {
    if (!fromClip(r)) return r
    const keys = keysOf(r)
    const those = keys.filter((k) => Math.abs(k.time - from) <= near)
    const rest = copies ? keys : keys.filter((k) => !those.includes(k))
    if (!those.length || (to === null && !rest.length)) return r
    changed = true
    return withKeys(
      r,
      to === null ? rest : those.reduce((all, k) => placed(all, { ...k, time: k.time + to - from }, near / 4), rest),
    )
  })
  return changed ? ({ ...row, responses } as Row) : row
}

/** What a dial is turned to at a time. */
export function dialAt(dial: Dial, time: number): number {
  if (!dial.keys?.length) return dial.value
  return evaluate(pieces(dial.keys.map((k) => ({ x: k.time, y: k.value, shape: k.shape }))), time)
}
/** Return the dial turned to a value: a key at the time where it is keyed, else its value. */
export function dialTurned(dial: Dial, time: number, value: number, near: number): Dial {
  if (!dial.keys?.length) return { ...dial, value }
  const before = dial.keys.filter((k) => k.time <= time + near).at(-1)
  return { ...dial, keys: placed(dial.keys, { time, value, shape: before?.shape ?? 'smooth' }, near) }
}
/** Return the dial in which the key at a time is at another, or at both, or with no other time gone; after the last one it stays as it was there. */
export function dialMoved(dial: Dial, from: number, to: number | null, near: number, copies = false): Dial {
  const keys = dial.keys ?? []
  const one = keys.find((k) => Math.abs(k.time - from) <= near)
  if (!one) return dial
  const rest = copies ? keys : keys.filter((k) => k !== one)
  if (to === null) return { ...dial, keys: rest, value: rest.length ? dial.value : one.value }
  return { ...dial, keys: placed(rest, { ...one, time: to }, near / 4) }
}
