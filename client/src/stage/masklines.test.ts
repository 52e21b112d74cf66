import { describe, expect, it } from 'vitest'
import { maskLines } from './masklines'

const points = (flat: number[]) => Array.from({ length: flat.length / 3 }, (_, i) => flat.slice(3 * i, 3 * i + 3))
const extent = { radius: 2, size: [2, 4, 6], falloff: 0.5 }

describe('the extent of a mask', () => {
  it('of a sphere lies at its radius, and the falloff beyond it is in metres of the world', () => {
    const [inner, outer] = maskLines('sphere', extent, [4, 4, 4])
    for (const p of points(inner)) expect(Math.hypot(...p)).toBeCloseTo(2)
    for (const p of points(outer)) expect(Math.hypot(...p) * 4).toBeCloseTo(2 * 4 + 0.5)
  })
  it('has half of its falloff on either side of the edge where it is centred', () => {
    const [inner, outer] = maskLines('sphere', { ...extent, within: 0.25 }, [1, 1, 1])
    for (const p of points(inner)) expect(Math.hypot(...p)).toBeCloseTo(1.75)
    for (const p of points(outer)) expect(Math.hypot(...p)).toBeCloseTo(2.25)
  })
  it('of a box has its twelve edges, however it is scaled', () => {
    const [inner, outer] = maskLines('box', extent, [1, 2, 5])
    expect(points(inner)).toHaveLength(24)
    for (const p of points(inner)) expect(p.map(Math.abs)).toEqual([1, 2, 3])
    for (const p of points(outer))
      [1.5, 4.5, 15.5].forEach((at, k) => expect(Math.abs(p[k]) * [1, 2, 5][k]).toBeCloseTo(at))
  })
  it('of a cylinder and a slab end at half their height, a plane at nought', () => {
    expect(new Set(points(maskLines('slab', extent, [1, 1, 1])[0]).map((p) => Math.abs(p[1])))).toEqual(new Set([2]))
    for (const p of points(maskLines('cylinder', extent, [1, 1, 1])[0])) {
      expect(Math.hypot(p[0], p[2])).toBeCloseTo(2)
      expect(Math.abs(p[1])).toBe(2)
    }
    expect(Math.max(...points(maskLines('plane', extent, [1, 1, 1])[0]).map((p) => p[1]))).toBe(0)
  })
  it('has no outer line where the edge is sharp, and none at all where there is no edge to draw', () => {
    expect(maskLines('sphere', { ...extent, falloff: 0 }, [1, 1, 1])[1]).toEqual([])
    expect(maskLines('noise', extent, [1, 1, 1])).toEqual([[], []])
  })
})
