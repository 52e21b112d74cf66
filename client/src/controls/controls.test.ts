import { describe, expect, it } from 'vitest'
import { curvePath, evaluate, flipped, pieces } from './curve'
import { decode, encode, join, split } from './colour'
import { parseNumber, shown } from './numbers'
import samples from './curve.samples.json'
import type { Key } from '../wire/types'

const SECONDS = { symbol: 's', scale: 1, digits: 2 }
const PERCENT = { symbol: '%', scale: 100, digits: 0 }
const METRES = { symbol: 'm', scale: 1, digits: 3 }

describe('curves are drawn as the core computes them', () => {
  // curve.samples.json is written by tests/core/test_client_samples.py from the core, and checked there to be current
  it.each(samples)('sample %#', ({ keys, t, y }) => {
    const table = pieces(keys as Key[])
    t.forEach((x, i) => expect(evaluate(table, x)).toBeCloseTo(y[i], 4))
  })
  it('flipped twice is as it was', () => {
    for (const { keys } of samples) {
      for (const way of ['upside-down', 'left-right'] as const) {
        const twice = flipped(flipped(keys as Key[], way), way)
        twice.forEach((key, i) => {
          expect(key.x).toBeCloseTo(keys[i].x, 9)
          expect(key.y).toBeCloseTo(keys[i].y, 9)
        })
      }
    }
  })
  it('a held key is drawn as a step', () => {
    const keys = [
      { x: 0, y: 0, shape: 'hold' },
      { x: 0.5, y: 1, shape: 'hold' },
    ] as Key[]
    expect(curvePath(keys, 100, 100)).toContain('50.0,100.0L50.0,0.0')
  })
})

describe('numbers', () => {
  const value = (text: string, unit = SECONDS) => {
    const result = parseNumber(text, unit, 25)
    if ('error' in result) throw new Error(result.error)
    return result.value
  }
  it('are computed', () => {
    expect(value('1/3')).toBeCloseTo(1 / 3)
    expect(value('2*(3+1)-1')).toBe(7)
    expect(value('-(1 - .5e1)')).toBe(4)
  })
  it('take frames and seconds where the unit is time', () => {
    expect(value('12f')).toBe(0.48)
    expect(value('0.5s + 25f')).toBe(1.5)
    expect(parseNumber('12f', METRES, 25)).toHaveProperty('error')
  })
  it('are typed as they are shown', () => {
    expect(value('50 %', PERCENT)).toBe(0.5)
    expect(shown(0.5, PERCENT)).toBe('50')
    for (const x of [0, 1, 0.085, 123.456, -2.5]) expect(value(shown(x, METRES), METRES)).toBeCloseTo(x, 1)
  })
  it('say what is wrong', () => {
    for (const text of ['', 'abc', '1+', '(1', '1 2', '1/0', '1e999', 'constructor'])
      expect(parseNumber(text, SECONDS, 25), text).toHaveProperty('error')
  })
})

describe('colour', () => {
  it('encodes and decodes by IEC 61966-2-1', () => {
    for (const [linear, encoded] of [
      [0, 0],
      [0.0031308, 0.04045],
      [0.214041, 0.5],
      [1, 1],
    ]) {
      expect(encode(linear)).toBeCloseTo(encoded, 4)
      expect(decode(encoded)).toBeCloseTo(linear, 4)
    }
  })
  it('splits into hue and brightness and joins again', () => {
    const { hex, brightness } = split([2.4, 1.2, 0.3])
    expect(brightness).toBe(2.4)
    join(hex, brightness).forEach((c, i) => expect(c).toBeCloseTo([2.4, 1.2, 0.3][i], 1))
  })
})
