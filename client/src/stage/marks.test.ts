import { expect, test } from 'vitest'
import { gripped, type Grip, type StageMark } from './marks'

const of = { at: [1, 2, 3], direction: [0, 2, 0] } as unknown as StageMark
const grip = (what: Grip['what'], at: number[]): Grip => ({ what, address: 'a', at, of })

test('a place goes where the hand does', () => {
  expect(gripped(grip('place', [1, 2, 3]), [4, 5, 6])).toEqual([4, 5, 6])
})

test('a radius is how far along its own line, and never nought; a core may be', () => {
  expect(gripped(grip('radius', [3, 2, 3]), [4.5, 9, 9])).toBe(3.5)
  expect(gripped(grip('radius', [3, 2, 3]), [-4, 2, 3])).toBe(0.01)
  expect(gripped(grip('core', [0, 2, 3]), [4, 2, 3])).toBe(0)
  expect(gripped(grip('core', [1, 2, 3]), [1, 2, 5])).toBe(2)
})

test('an axis points to the hand and keeps its length', () => {
  expect(gripped(grip('axis', [1, 3, 3]), [4, 2, 3])).toEqual([2, 0, 0])
})
