import { describe, expect, it } from 'vitest'
import type { Dial, Row } from '../wire/types'
import { dialAt, dialMoved, dialTurned, keyed, moved, settable, timesOf, valueAt, withValue } from './timekeys'

const still = (base: unknown): Row => ({ base, responses: [], muted: false }) as Row
const NEAR = 0.02
const byLife = {
  kind: 'curve',
  uid: 'l',
  source: { kind: 'life' },
  read: 'live',
  operation: 'multiply',
  amount: 1,
  muted: false,
  input: [0, 1],
  output: [0, 1],
  component: 'all',
  curve: { keys: [{ x: 0, y: 0, shape: 'linear' }] },
}

describe('what is set at a frame', () => {
  it('is the base where nothing drives the number, and nothing where something else does', () => {
    expect(withValue(still([1, 2, 3]), 1, 5, 9, NEAR)).toEqual(still([1, 9, 3]))
    const driven = { ...still(2), responses: [byLife] } as unknown as Row
    expect([settable(driven, -1), withValue(driven, -1, 1, 9, NEAR)]).toEqual([null, driven])
    expect(
      settable({ base: { source: { kind: 'age' }, read: 'live' }, responses: [], muted: false } as never, -1),
    ).toBe(null)
  })
  it('is a key where clip time drives it: every key set before is still what it was', () => {
    let row = keyed(still([0, 1.5, 0]), 1, 4)
    const set: [0 | 1 | 2, number, number][] = [
      [1, 0, 0],
      [1, 2.4, 12],
      [0, 1, -3],
      [1, 6, 0.25],
      [1, 1, 4],
      [0, -1, 100],
    ]
    for (const [axis, time, value] of set) row = withValue(row, axis, time, value, NEAR)
    for (const [axis, time, value] of set) expect(valueAt(row, axis, time), `${axis} at ${time}`).toBeCloseTo(value, 4)
    expect(valueAt(row, 2, 3)).toBeCloseTo(0, 6)
    for (const r of row.responses)
      if (r.kind === 'curve')
        for (const k of r.curve.keys) {
          expect(k.x).toBeGreaterThanOrEqual(0)
          expect(k.x).toBeLessThanOrEqual(1)
          expect(k.y).toBeGreaterThanOrEqual(-1)
          expect(k.y).toBeLessThanOrEqual(2)
        }
  })
  it('takes the place of a key within half a frame', () => {
    const row = withValue(withValue(keyed(still(1), 1, 4), -1, 1.01, 5, NEAR), -1, 2, 3, NEAR)
    expect(timesOf(row).map((t) => Number(t.toFixed(3)))).toEqual([1.01, 2])
  })
  it('counts from the base where the response adds or multiplies', () => {
    const row = keyed(still(4), 0, 2)
    for (const operation of ['add', 'multiply'] as const) {
      const other = { ...row, responses: row.responses.map((r) => ({ ...r, operation })) } as Row
      const result = withValue(other, -1, 1, 7, NEAR)
      expect(valueAt(result, -1, 1)).toBeCloseTo(7, 5)
    }
  })
})

describe('keys on the transport', () => {
  const row = [0.5, 1, 3].reduce((r, t) => withValue(r, -1, t, t * 10, NEAR), keyed(still(0), 0, 4))
  it('move with their values, are copied, are taken away; the last one stays', () => {
    const later = moved(row, 1, 2, NEAR)
    expect([valueAt(later, -1, 2), timesOf(later).length]).toEqual([expect.closeTo(10, 4), 4])
    const both = moved(row, 1, 2, NEAR, true)
    expect([valueAt(both, -1, 1), valueAt(both, -1, 2)].map((v) => Math.round(v * 1e4) / 1e4)).toEqual([10, 10])
    let gone = row
    for (const t of timesOf(row)) gone = moved(gone, t, null, NEAR)
    expect(timesOf(gone)).toHaveLength(1)
    expect(moved(row, 1.7, 2, NEAR)).toBe(row)
  })
  it('are those of dials too, which stay at the last one once none is left', () => {
    const dial = { uid: 'd', name: 'D', value: 1, low: 0, high: 10, default: 1, unit: '', note: '' } as Dial
    expect(dialTurned(dial, 1, 4, NEAR)).toEqual({ ...dial, value: 4 })
    let keyedDial: Dial = { ...dial, keys: [{ time: 0, value: 1, shape: 'linear' }] }
    keyedDial = dialTurned(dialTurned(keyedDial, 2, 9, NEAR), 2.01, 8, NEAR)
    expect([dialAt(keyedDial, 1), keyedDial.keys!.length]).toEqual([expect.closeTo(1 + 7 / 2.01, 3), 2])
    keyedDial = dialMoved(keyedDial, 2.01, 1, NEAR)
    expect(dialAt(keyedDial, 1)).toBe(8)
    keyedDial = dialMoved(dialMoved(keyedDial, 0, null, NEAR), 1, null, NEAR)
    expect([keyedDial.keys, keyedDial.value]).toEqual([[], 8])
  })
})
