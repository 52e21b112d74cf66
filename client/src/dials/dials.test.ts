import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api } from '../wire/api'
import type { Dial, Effect } from '../wire/types'
import { differences, inShort, stepOf } from './dials.svelte'
import { Turning } from './turning.svelte'

const dial = (uid: string, value: number): Dial => ({
  uid,
  name: uid.toUpperCase(),
  value,
  default: value,
  low: 0,
  high: 10,
  unit: '',
  note: '',
})
const effect = { dials: [dial('a', 1), dial('b', 2)] } as unknown as Effect
const use = (how: string) => ({ emitter: 'e', emitter_name: 'E', address: 'x', label: 'X', how })

describe('dials', () => {
  it('are said in short', () => {
    expect(inShort([use('multiplies'), use('limits'), use('multiplies'), use('is read by the formula of')])).toBe(
      'multiplies 2, limits 1, in 1 formula',
    )
    expect(inShort([])).toBe('')
  })
  it('turn in round steps, some hundred over their range', () => {
    for (const [low, high] of [
      [0, 1],
      [0, 12],
      [-50, 50],
      [0, 3e6],
      [0, 0.02],
    ]) {
      const step = stepOf({ low, high })
      expect(Math.log10(step) % 1).toBeCloseTo(0)
      expect((high - low) / step).toBeGreaterThanOrEqual(99)
      expect((high - low) / step).toBeLessThan(1001)
    }
  })
  it('differ where somebody turned them, and a dial that is gone does not', () => {
    expect(differences(effect.dials!, { a: 5, b: 2, gone: 1 }).map((d) => [d.dial.uid, d.theirs])).toEqual([['a', 5]])
  })
})

describe('turning', () => {
  const keep = vi.spyOn(api, 'keepOverlay')
  beforeEach(() => {
    vi.useFakeTimers()
    vi.stubGlobal('localStorage', { getItem: () => 'Night crew', setItem: () => undefined })
    keep.mockReset().mockImplementation(async (_, name, values) => ({ id: 1, name, values, saved: '' }))
  })
  afterEach(() => void vi.useRealTimers())
  const begin = () => new Turning(7, effect, () => undefined)

  it('never touches the artist’s document, and plays what was turned', () => {
    const turning = begin()
    turning.turn(effect.dials![0], 99, true)
    expect(turning.played().dials!.map((d) => d.value)).toEqual([10, 2])
    expect(effect.dials!.map((d) => d.value)).toEqual([1, 2])
    turning.compare()
    expect([turning.played(), turning.value(effect.dials![0])]).toEqual([effect, 1])
    turning.turn(effect.dials![1], 3, true)
    expect(turning.artists).toBe(false)
  })

  it('keeps the last of many turns once, under a name', async () => {
    const turning = begin()
    for (const v of [3, 4, 5]) turning.turn(effect.dials![0], v, false)
    await vi.advanceTimersByTimeAsync(2000)
    expect(keep.mock.calls).toEqual([[7, 'Night crew', { a: 5 }]])
    expect(turning.state).toBe('kept')
  })

  it('keeps nothing without a name, and all of it as soon as there is one', async () => {
    const turning = begin()
    turning.name = ''
    turning.turn(effect.dials![0], 3, false)
    await vi.advanceTimersByTimeAsync(2000)
    expect(keep).not.toHaveBeenCalled()
    turning.rename('  Day crew ')
    await vi.advanceTimersByTimeAsync(2000)
    expect(keep.mock.calls).toEqual([[7, 'Day crew', { a: 3 }]])
  })

  it('tries again while the server does not answer, and loses nothing', async () => {
    keep.mockRejectedValueOnce(new Error('no answer'))
    const turning = begin()
    turning.turn(effect.dials![0], 3, false)
    await vi.advanceTimersByTimeAsync(1000)
    expect([turning.state, turning.problem]).toEqual(['unreachable', 'no answer'])
    await vi.advanceTimersByTimeAsync(4000)
    expect([turning.state, keep.mock.calls.length]).toEqual(['kept', 2])
  })

  it('goes on from what was kept under the name, leaving out dials that are gone', async () => {
    vi.spyOn(api, 'overlays').mockResolvedValue([{ id: 1, name: 'Night crew', values: { b: 7, gone: 1 }, saved: '' }])
    const turning = begin()
    await turning.load()
    expect([turning.values, turning.state]).toEqual([{ b: 7 }, 'kept'])
  })
})
