import { expect, test } from 'vitest'
import type { Effect } from '../wire/types'
import samples from './rate.samples.json'
import { atSameSeconds, exactRate, framesASecond, rateText } from './rate'

test('typed frame rates become the fractions that the core makes of them', () => {
  for (const [typed, exact] of samples as [number, [number, number]][]) expect(exactRate(typed)).toEqual(exact)
})

test('a rate reads as it is named in the trade, and what is read means the same rate again', () => {
  for (const [rate, text] of [
    [[24000, 1001], '23.976'],
    [[30000, 1001], '29.97'],
    [[25, 1], '25'],
    [[25, 2], '12.5'],
    [[100, 7], '14.286'],
  ] as const) {
    const clip = { frame_rate: [...rate] as [number, number] }
    expect(rateText(clip)).toBe(text)
    expect(framesASecond({ frame_rate: exactRate(Number(text)) })).toBeCloseTo(framesASecond(clip), 3)
  }
})

test('what is counted in frames keeps its seconds under another rate, to the nearest frame, and comes back', () => {
  const before = {
    clip: { frame_rate: [25, 1], first_frame: -25, last_frame: 100, run_up: 10 },
    emitters: [{ births: { bursts: [{ uid: 'a', frame: 50, count: 3 }] } }, { births: {} }],
  } as unknown as Effect
  const after = atSameSeconds({ ...before, clip: { ...before.clip, frame_rate: [50, 1] } }, [25, 1])
  expect([
    after.clip.first_frame,
    after.clip.last_frame,
    after.clip.run_up,
    after.emitters[0].births.bursts![0].frame,
  ]).toEqual([-50, 200, 20, 100])
  expect(atSameSeconds({ ...after, clip: { ...after.clip, frame_rate: [25, 1] } }, [50, 1])).toEqual(before)
})
