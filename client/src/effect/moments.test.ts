import { expect, test } from 'vitest'
import type { Effect, Emitter, Moment } from '../wire/types'
import { before, momentTimes, placed, runsFrom } from './moments'

const effect = (moments: Partial<Moment>[]) =>
  ({ clip: { frame_rate: [25, 1], first_frame: 5, last_frame: 105 }, moments }) as unknown as Effect
const GATHER = { uid: 'g', name: 'Gather', frame: 15 }
const ENDS = { uid: 'e', name: 'Gather ends', frame: 0, after: 'g', seconds: 0.4 }
const FLARE = { uid: 'f', name: 'Flare', frame: 0, after: 'e', seconds: 0.5 }

test('each comes after another, and moving one moves all', () => {
  const times = momentTimes(effect([GATHER, ENDS, FLARE]))
  expect([...times.values()].map((t) => t.toFixed(6))).toEqual(['0.400000', '0.800000', '1.300000'])
  const later = momentTimes(effect([placed(effect([GATHER]), GATHER, 0.8), ENDS, FLARE]))
  expect(later.get('f')).toBeCloseTo(1.7)
})

test('a circle has times all the same', () => {
  expect(momentTimes(effect([{ ...GATHER, after: 'f' }, ENDS, FLARE])).size).toBe(3)
})

test('put at a time it keeps what it comes after, and only what does not come after it can be that', () => {
  const all = effect([GATHER, ENDS, FLARE])
  expect(placed(all, ENDS, 1).seconds).toBeCloseTo(0.6)
  expect(before(all, ENDS).map((m) => m.uid)).toEqual(['g'])
  expect(before(all, FLARE).map((m) => m.uid)).toEqual(['g', 'e'])
})

test('births run from one moment until another, else for their duration', () => {
  const times = momentTimes(effect([GATHER, ENDS, FLARE]))
  const runs = (births: object) => runsFrom({ births } as unknown as Emitter, times)
  expect(runs({ start: 0.2, after: 'g', until: 'f' })).toEqual({ from: 0.6000000000000001, to: 1.3 })
  expect(runs({ start: 0.5, duration: 1 })).toEqual({ from: 0.5, to: 1.5 })
  expect(runs({ start: 0.5 })).toEqual({ from: 0.5, to: null })
})
