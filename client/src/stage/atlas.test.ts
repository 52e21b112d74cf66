import { describe, expect, it } from 'vitest'
import { arranged } from './atlas'
import type { LookSheets, Sheet } from '../wire/arrays'

const sheet = (width: number, rows: number): Sheet => ({
  across: 1,
  levels: 1,
  cells: 1,
  width,
  texels: new Uint8Array(width * rows * 4),
  plates: new Float32Array(48),
})
const look = (key: string, ...sheets: (Sheet | null)[]): LookSheets => ({
  key,
  aspect: 1,
  reach: 0,
  opaque: false,
  sheets,
})

describe('sheets in one texture', () => {
  it('lie apart from each other and within what a texture can be', () => {
    const looks = [
      look('a', sheet(40, 70), sheet(30, 20)),
      look('b', sheet(50, 60), null, sheet(10, 10)),
      look('c', sheet(9, 100)),
    ]
    const { placed, width, height } = arranged(looks, 120)
    expect(placed.map((p) => p.name)).toEqual(['a 0', 'a 1', 'b 0', 'b 2', 'c 0'])
    const boxes = placed.map((p) => [
      p.left,
      p.top,
      p.left + p.sheet.width,
      p.top + p.sheet.texels.length / 4 / p.sheet.width,
    ])
    for (const [i, a] of boxes.entries()) {
      expect(a[2]).toBeLessThanOrEqual(width)
      expect(a[3]).toBeLessThanOrEqual(height)
      for (const b of boxes.slice(i + 1))
        expect(a[2] <= b[0] || b[2] <= a[0] || a[3] <= b[1] || b[3] <= a[1]).toBe(true)
    }
    expect(Math.max(width, height)).toBeLessThanOrEqual(120)
  })

  it('leave out whole looks for which there is no room, and go on with the next', () => {
    const { placed, width } = arranged(
      [look('a', sheet(60, 90)), look('b', sheet(60, 90), sheet(60, 90)), look('c', sheet(40, 20))],
      100,
    )
    expect(placed.map((p) => p.name)).toEqual(['a 0', 'c 0'])
    expect(width).toBeLessThanOrEqual(100)
  })
})
