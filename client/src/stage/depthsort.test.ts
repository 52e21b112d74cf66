import { describe, expect, it } from 'vitest'
import { backToFront } from './depthsort'

describe('back to front', () => {
  const order = (values: number[]) => {
    const result = new Uint32Array(values.length)
    backToFront(Float32Array.from(values), result, values.length)
    return [...result]
  }
  it('is the order of a plain stable sort, whatever the signs and sizes', () => {
    let seed = 7
    const chance = () => (seed = (seed * 48271) % 2147483647) / 2147483647
    for (const n of [0, 1, 2, 17, 300, 5000]) {
      const values = Array.from({ length: n }, () => {
        const size = 10 ** Math.floor(chance() * 12 - 6)
        return Math.fround(chance() < 0.2 ? Math.round(chance() * 4 - 2) : (chance() * 2 - 1) * size)
      })
      const wanted = values.map((_, i) => i).sort((a, b) => values[a] - values[b] || a - b)
      expect(order(values).map((i) => values[i] + 0)).toEqual(wanted.map((i) => values[i] + 0))
      if (!values.some((v) => Object.is(v, -0))) expect(order(values)).toEqual(wanted)
    }
  })
  it('keeps equal ones as they come, and loses nobody whose depth is no number', () => {
    expect(order([1, 1, 0, 1, 0])).toEqual([2, 4, 0, 1, 3])
    expect(order([1, NaN, -5]).sort()).toEqual([0, 1, 2])
  })
})
