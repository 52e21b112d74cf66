/** Numbers as people read and type them, as the clip has units shown. A shown value is the stored one times the shown unit's scale. */
import type { Unit } from '../wire/types'
import { display, displayed, type ShownUnit } from './display.svelte'

/** Return a stored value as text without its unit: at most `digits` decimals, where `exact` more for small values, no trailing noise. */
export function shown(value: number, stored: Unit, exact = true): string {
  const unit = displayed(stored)
  const scaled = value * unit.scale
  const size = Math.abs(scaled)
  if (size >= 1e12) return scaled.toPrecision(6).replace('e+', 'e')
  if (size >= 10000) return Math.round(scaled).toLocaleString('en-US')
  const digits =
    size !== 0 && size < 1 && exact
      ? Math.max(unit.digits, Math.min(5, 2 - Math.floor(Math.log10(size))))
      : size >= 100
        ? Math.min(unit.digits, 1)
        : unit.digits
  const text = scaled.toFixed(digits)
  const tidy = text.includes('.') ? text.replace(/\.?0+$/, '') : text
  return tidy === '-0' ? '0' : tidy
}

export function withUnit(value: number, unit: Unit): string {
  const { symbol } = displayed(unit)
  return symbol ? `${shown(value, unit)} ${symbol}` : shown(value, unit)
}

/** A day as people read it: `4 Dec`. */
export const day = (text: string | null | undefined): string =>
  text ? new Date(text).toLocaleDateString([], { day: 'numeric', month: 'short' }) : ''

/** Bytes as people read them: `820 kB`, `34.2 MB`. */
export function bytesText(bytes: number): string {
  if (bytes < 1e6) return `${Math.ceil(bytes / 1000)} kB`
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(1)} GB`
}

/** What may stand behind a number, by what its unit measures: how many of the stored unit (SI) one of it is. */
const TURN = 2 * Math.PI
const LENGTHS = { mm: 1e-3, cm: 1e-2, m: 1, km: 1e3 }
const ANGLES = { '°': TURN / 360, deg: TURN / 360, rad: 1, turn: TURN, turns: TURN }
const G = 9.80665 // standard gravity, m/s², CODATA
const a_second = (what: Record<string, number>) =>
  Object.fromEntries(Object.entries(what).map(([name, factor]) => [`${name}/s`, factor]))
const a_frame = (what: Record<string, number>, rate: number) =>
  Object.fromEntries(Object.entries(what).map(([name, factor]) => [`${name}/f`, factor * rate]))
const squared = (what: Record<string, number>, by: 's' | 'f', times: number) =>
  Object.fromEntries(
    Object.entries(what).flatMap(([name, factor]) =>
      ['²', '2', '^2'].map((two) => [`${name}/${by}${two}`, factor * times]),
    ),
  )

function suffixes(unit: ShownUnit, rate: number): Record<string, number> {
  const times = { ms: 1e-3, s: 1, min: 60, f: 1 / rate }
  const known: Record<string, Record<string, number>> = {
    m: LENGTHS,
    s: times,
    f: { f: 1, s: rate, ms: rate / 1000 },
    '°': ANGLES,
    '%': { '%': 0.01 },
    '×': { '×': 1, x: 1 },
    'm²/s': { 'm²/s': 1, 'cm²/s': 1e-4, 'mm²/s': 1e-6, 'm²/f': rate, 'cm²/f': 1e-4 * rate, 'mm²/f': 1e-6 * rate },
    kg: { g: 1e-3, kg: 1, t: 1e3 },
    'm/s': { ...a_second(LENGTHS), ...a_frame(LENGTHS, rate), 'km/h': 1 / 3.6 },
    'm/s²': { ...squared(LENGTHS, 's', 1), ...squared(LENGTHS, 'f', rate * rate), g: G },
    '°/s': { ...a_second(ANGLES), ...a_frame(ANGLES, rate) },
    '/s': { '/s': 1, '/min': 1 / 60, '/f': rate },
  }
  return known[unit.measures ?? unit.symbol] ?? (unit.symbol ? { [unit.symbol]: 1 / unit.scale } : {})
}

/** What a typed text does to a stored value. anyUnit: the same to numbers of whatever unit, as a factor is. */
export type Change = { apply: (was: number) => number; anyUnit: boolean }

/**
 * Return the stored value that a text means, or a message. Arithmetic is computed (`1/3`, `2*(3+1)`). A number without a unit
 * is in the one that is shown; with one it may be in another that measures the same (`500ms`, `12f`, `3cm`, `90°`, `1,5`).
 * `+=0.1`, `-=1`, `*1.1` and `/2` change what is there now, a stored value.
 */
export function parseNumber(
  text: string,
  stored: Unit,
  now?: number,
): { value: number; change: Change } | { error: string } {
  const unit = displayed(stored)
  let source = text
    .trim()
    .replace(/(?<=\d),(?=\d{3}(?!\d))/g, '')
    .replace(/(?<=\d),(?=\d)/g, '.')
    .replace(/−/g, '-')
  if (!unit.symbol || unit.symbol !== '×') source = source.replace(/×/g, '*')
  const change = now === undefined ? null : /^(\+=|-=|\*=?|\/=?)/.exec(source)?.[1]
  if (change) source = source.slice(change.length).trim()
  if (!source) return { error: 'Type a number.' }
  const behind = suffixes(unit, display.frameRate)
  const names = Object.keys(behind).sort((a, b) => b.length - a.length)
  let at = 0
  const peek = () => source[at]
  const skip = () => {
    while (peek() === ' ') at++
  }
  function sum(): number {
    let value = product()
    for (;;) {
      skip()
      if (peek() === '+') {
        at++
        value += product()
      } else if (peek() === '-') {
        at++
        value -= product()
      } else return value
    }
  }
  function product(): number {
    let value = term()
    for (;;) {
      skip()
      if (peek() === '*') {
        at++
        value *= term()
      } else if (peek() === '/') {
        at++
        value /= term()
      } else return value
    }
  }
  function term(): number {
    skip()
    if (peek() === '-') return (at++, -term())
    if (peek() === '+') return (at++, term())
    if (peek() === '(') {
      at++
      const value = sum()
      skip()
      if (peek() !== ')') throw new Error('A bracket is not closed.')
      at++
      return value
    }
    const match = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(source.slice(at))
    if (!match)
      throw new Error(
        at < source.length ? `“${source.slice(at)}” is not a number.` : 'Something is missing at the end.',
      )
    at += match[0].length
    return Number(match[0]) * unitHere()
  }
  /** What a number counts by the unit that follows it; 1 where none does. */
  function unitHere(): number {
    const before = at
    skip()
    const rest = source.slice(at)
    const name = names.find((each) => rest.startsWith(each) && !/[\p{L}\d]/u.test(rest[each.length] ?? ''))
    if (name) {
      at += name.length
      return behind[name] * unit.scale
    }
    const word = /^[\p{L}%°²/][\p{L}°²/]*/u.exec(rest)?.[0]
    if (word && !/^\/\s*[\d.(]/.test(rest) && word !== '/')
      throw new Error(
        names.length
          ? `“${word}” is no unit here; this is in ${unit.symbol || 'plain numbers'}${
              names.length > 1
                ? `, or ${names
                    .filter((each) => each !== unit.symbol)
                    .slice(0, 4)
                    .join(', ')}`
                : ''
            }.`
          : `“${word}” is no unit here; this is a plain number.`,
      )
    at = before
    return 1
  }
  try {
    const value = sum()
    skip()
    if (at < source.length) return { error: `“${source.slice(at)}” is not understood here.` }
    const by = change?.[0] === '*' ? value : change?.[0] === '/' ? 1 / value : null
    const to = value / unit.scale
    // what a conversion leaves behind the fifteenth digit nobody typed: 700 mm are 0.7 m
    const apply = (was: number) =>
      Number((by !== null ? was * by : change === '+=' ? was + to : change === '-=' ? was - to : to).toPrecision(15))
    const result = apply(now ?? 0)
    if (!Number.isFinite(result)) return { error: 'That is not a finite number.' }
    return { value: result, change: { apply, anyUnit: by !== null } }
  } catch (problem) {
    return { error: (problem as Error).message }
  }
}
