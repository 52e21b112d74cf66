import { afterEach, describe, expect, it } from 'vitest'
import { curvePath, evaluate, flipped, pieces } from './curve'
import { decode, encode, hueOf, join, ofCode, ofHue, split } from './colour'
import { display, symbolOf } from './display.svelte'
import { parseNumber, shown, withUnit } from './numbers'
import samples from './curve.samples.json'
import type { Key } from '../wire/types'

const SECONDS = { symbol: 's', scale: 1, digits: 2 }
const PERCENT = { symbol: '%', scale: 100, digits: 0 }
const METRES = { symbol: 'm', scale: 1, digits: 3 }

describe('curves are drawn as the core computes them', () => {
  // curve.samples.json is written by tests/project/test_client_samples.py from the core, and checked there to be current
  it.each(samples)('sample %#', ({ keys, t, y }) => {
    const table = pieces(keys as Key[])
    t.forEach((x, i) => expect(evaluate(table, x)).toBeCloseTo(y[i], 4))
  })
  it('flipped twice is as it was', () => {
    for (const { keys } of samples) {
      for (const axis of ['upside-down', 'left-right'] as const) {
        const twice = flipped(flipped(keys as Key[], axis), axis)
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
    const result = parseNumber(text, unit)
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
    expect(parseNumber('12f', METRES)).toHaveProperty('error')
  })
  it('are typed as they are shown', () => {
    expect(value('50 %', PERCENT)).toBe(0.5)
    expect(shown(0.5, PERCENT)).toBe('50')
    for (const x of [0, 1, 0.085, 123.456, -2.5]) expect(value(shown(x, METRES), METRES)).toBeCloseTo(x, 1)
  })
  it('take every unit that measures the same, as people write it', () => {
    const SPEED = { symbol: 'm/s', scale: 1, digits: 2 }
    const DEGREES = { symbol: '°', scale: 180 / Math.PI, digits: 0 }
    const ACCELERATION = { symbol: 'm/s²', scale: 1, digits: 2 }
    const RATE = { symbol: '/s', scale: 1, digits: 2 }
    const cases: [string, typeof SECONDS, number][] = [
      ['2 s', SECONDS, 2],
      ['500ms', SECONDS, 0.5],
      ['1,5', SECONDS, 1.5],
      ['1,500', SECONDS, 1500],
      ['1 min', SECONDS, 60],
      ['20 %', PERCENT, 0.2],
      ['20', PERCENT, 0.2],
      ['3cm', METRES, 0.03],
      ['1m + 20 cm', METRES, 1.2],
      ['2*3mm', METRES, 0.006],
      ['36 km/h', SPEED, 10],
      ['5 cm/f', SPEED, 1.25],
      ['90°', DEGREES, Math.PI / 2],
      ['90', DEGREES, Math.PI / 2],
      ['1/4 * 1 turn', DEGREES, Math.PI / 2],
      ['1 g', ACCELERATION, 9.80665],
      ['9.8 m/s2', ACCELERATION, 9.8],
      ['2 /f', RATE, 50],
      ['6/3', RATE, 2],
    ]
    for (const [text, unit, stored] of cases) expect(value(text, unit), text).toBeCloseTo(stored, 9)
  })
  it('change what is there', () => {
    const changed = (text: string, now: number, unit = METRES) => {
      const result = parseNumber(text, unit, now)
      if ('error' in result) throw new Error(result.error)
      return result.value
    }
    expect(changed('+=0.1', 2)).toBeCloseTo(2.1)
    expect(changed('-= 5cm', 2)).toBeCloseTo(1.95)
    expect(changed('*1.1', 2)).toBeCloseTo(2.2)
    expect(changed('/4', 2)).toBeCloseTo(0.5)
    expect(changed('+=10', 0.5, PERCENT)).toBeCloseTo(0.6)
    expect(changed('+3', 2)).toBe(3) // a sign alone is a sign
  })
  it('say which units there are where one is not known', () => {
    expect(parseNumber('3 kg', METRES)).toMatchObject({ error: expect.stringContaining('cm') })
    expect(parseNumber('12 apples', SECONDS)).toMatchObject({ error: expect.stringContaining('apples') })
  })
  it('say what is wrong', () => {
    for (const text of ['', 'abc', '1+', '(1', '1 2', '1/0', '1e999', 'constructor'])
      expect(parseNumber(text, SECONDS), text).toHaveProperty('error')
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

describe('numbers as the clip has them shown', () => {
  const clip = (
    shown: Partial<{ times: 'seconds' | 'frames'; lengths: 'm' | 'cm' | 'mm'; rates: 'per_second' | 'per_frame' }>,
  ) => ({
    frame_rate: [24000, 1001] as [number, number],
    shown: { times: 'seconds', lengths: 'm', rates: 'per_second', ...shown } as never,
  })
  const UNITS = ['m', 's', 'm/s', 'm/s²', 'm²/s', '°/s', '/s', '%', 'kg', ''].map((symbol) => ({
    symbol,
    scale: symbol === '%' ? 100 : symbol === '°/s' ? 180 / Math.PI : 1,
    digits: 3,
  }))
  afterEach(() => display.follow(null))

  it('are read back as they were written, in whatever they are shown', () => {
    for (const times of ['seconds', 'frames'] as const)
      for (const lengths of ['m', 'cm', 'mm'] as const)
        for (const rates of ['per_second', 'per_frame'] as const) {
          display.follow(clip({ times, lengths, rates }))
          for (const unit of UNITS)
            for (const value of [0.25, 1.5, 40]) {
              const text = withUnit(value, unit)
              const back = parseNumber(text, unit)
              expect('value' in back && Math.abs(back.value / value - 1), `${text} of ${unit.symbol}`).toBeLessThan(
                0.01,
              )
            }
        }
  })
  it('name the unit that is shown, and still take every other', () => {
    display.follow(clip({ lengths: 'cm', rates: 'per_frame', times: 'frames' }))
    const rate = 24000 / 1001
    expect(withUnit(0.25, METRES)).toBe('25 cm')
    expect(withUnit(1, SECONDS)).toBe('24 f')
    expect(symbolOf({ symbol: 'm/s²', scale: 1, digits: 2 })).toBe('cm/f²')
    for (const [text, unit, stored] of [
      ['2 m', METRES, 2],
      ['30', METRES, 0.3],
      ['2 s', SECONDS, 2],
      ['12', SECONDS, 12 / rate],
      ['3 m/s', { symbol: 'm/s', scale: 1, digits: 2 }, 3],
      ['1 g', { symbol: 'm/s²', scale: 1, digits: 2 }, 9.80665],
    ] as const)
      expect(parseNumber(text, unit), text).toMatchObject({ value: expect.closeTo(stored, 9) })
  })
  it('say what they do to other numbers: a factor to any, a sum to those of the same unit', () => {
    const twice = parseNumber('*2', SECONDS, 3)
    const more = parseNumber('+=50 cm', METRES, 1)
    if ('error' in twice || 'error' in more) throw new Error('not read')
    expect([twice.value, twice.change.apply(0.1), twice.change.anyUnit]).toEqual([6, 0.2, true])
    expect([more.value, more.change.apply(2), more.change.anyUnit]).toEqual([1.5, 2.5, false])
  })
})

describe('hues', () => {
  it('are those of the colours that have a name (CSS Color Module Level 4, section 6.1)', () => {
    for (const [code, degrees] of [
      ['#ff0000', 0],
      ['#ffff00', 60],
      ['#008000', 120],
      ['#00ffff', 180],
      ['#0000ff', 240],
      ['#ff00ff', 300],
      ['#ffa500', 38.82],
    ] as const)
      expect(hueOf(ofCode(code)!).hue * 360, code).toBeCloseTo(degrees, 1)
  })
  it('come back as they were, whatever the brightness', () => {
    for (let i = 0; i < 200; i++) {
      const [a, b, c] = [(i * 0.37) % 1, (i * 0.61 + 0.05) % 1, (i * 0.83 + 0.1) % 1]
      const colour = ofHue({ hue: a, purity: b, value: 1 }, 1 + c * 4)
      const back = ofHue(hueOf(colour), Math.max(1, ...colour))
      back.forEach((v, k) => expect(v).toBeCloseTo(colour[k], 1))
    }
    expect(hueOf([0.5, 0.5, 0.5], 0.3).hue).toBe(0.3)
    expect([ofCode('#f80'), ofCode('zz'), ofCode('#ffff')]).toEqual([ofCode('#ff8800'), null, null])
  })
})
