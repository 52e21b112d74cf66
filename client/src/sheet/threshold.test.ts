import { describe, expect, it } from 'vitest'
import { passing, spanOf } from './threshold'

const spread = { low: 0, high: 4, bins: [1, 2, 3, 4], side: 'above' as const, passes: 0 }

describe('the value of a cue on the spread of what it looks at', () => {
  it('counts those beyond it, a part of a bin by how much of that lies there', () => {
    expect(passing(spread, -1)).toBe(1)
    expect(passing(spread, 5)).toBe(0)
    expect(passing(spread, 2)).toBeCloseTo(0.7)
    expect(passing(spread, 3.5)).toBeCloseTo(0.2)
    expect(passing({ ...spread, side: 'below' }, 2)).toBeCloseTo(0.3)
    expect(passing({ ...spread, bins: [0, 0, 0, 0] }, 2)).toBe(0)
  })
  it('spans all spreads and the value, with room beside them', () => {
    const { low, high } = spanOf([spread, { ...spread, high: 8 }], -2)
    expect(low).toBeLessThan(-2)
    expect(high).toBeGreaterThan(8)
    expect(spanOf([{ ...spread, high: 0 }], null)).toEqual({ low: -0.03, high: 0.03 })
  })
})
