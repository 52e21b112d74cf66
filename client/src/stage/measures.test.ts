import { describe, expect, it } from 'vitest'
import { figureLines, groundLines, TALL } from './measures'
import { rampAt, RAMP_STOPS } from './ramp'

describe('what scale is judged by', () => {
  it('is a figure that stands on the ground and is as tall as it says', () => {
    const up = figureLines(3).filter((_, i) => i % 3 === 1)
    expect([Math.min(...up), Math.max(...up)]).toEqual([0, expect.closeTo(TALL, 9)])
    const across = figureLines(3).filter((_, i) => i % 3 === 0)
    expect((Math.min(...across) + Math.max(...across)) / 2).toBeCloseTo(3, 9)
  })
  it('and a grid of whole metres on the ground, its axes apart', () => {
    const { fine, axes } = groundLines()
    expect(fine.filter((_, i) => i % 3 === 1).every((y) => y === 0)).toBe(true)
    expect(fine.every((v) => Number.isInteger(v))).toBe(true)
    expect(axes).toHaveLength(12)
  })
})

describe('the colours of values', () => {
  it('meet their stops, go on between them, and hold at the ends', () => {
    RAMP_STOPS.forEach((stop, i) =>
      rampAt(i / (RAMP_STOPS.length - 1)).forEach((v, k) => expect(v).toBeCloseTo(stop[k], 9)),
    )
    expect([rampAt(-3), rampAt(9)]).toEqual([rampAt(0), rampAt(1)])
    expect(rampAt(0.125)[1]).toBeCloseTo((RAMP_STOPS[0][1] + RAMP_STOPS[1][1]) / 2, 9)
  })
})
