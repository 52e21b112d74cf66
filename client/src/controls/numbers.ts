/** Numbers as people read and type them. A shown value is the stored one times its unit's scale. */
import type { Unit } from '../wire/types'

/** Return a stored value as text without its unit: at most `digits` decimals, where `exact` more for small values, no trailing noise. */
export function shown(value: number, unit: Unit, exact = true): string {
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
  return unit.symbol ? `${shown(value, unit)} ${unit.symbol}` : shown(value, unit)
}

/** A day as people read it: `4 Dec`. */
export const day = (text: string | null | undefined): string =>
  text ? new Date(text).toLocaleDateString([], { day: 'numeric', month: 'short' }) : ''

/** Bytes as people read them: `820 kB`, `34.2 MB`. */
export function bytesText(bytes: number): string {
  if (bytes < 1e6) return `${Math.ceil(bytes / 1000)} kB`
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(1)} GB`
}

/**
 * Return the stored value that a text means, or a message. Arithmetic is computed (`1/3`, `2*(3+1)`); a number of
 * seconds may end in `s` and of frames in `f` where the unit is seconds.
 */
export function parseNumber(text: string, unit: Unit, frameRate: number): { value: number } | { error: string } {
  const isTime = unit.symbol === 's'
  let source = text
    .trim()
    .replace(/,(?=\d{3}\b)/g, '')
    .replace(/−/g, '-')
    .replace(/×/g, '*')
  if (unit.symbol && source.endsWith(unit.symbol) && !isTime) source = source.slice(0, -unit.symbol.length).trim()
  if (!source) return { error: 'Type a number.' }
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
    const value = Number(match[0])
    const suffix = /^(s|f)\b/.exec(source.slice(at))
    if (suffix) {
      if (!isTime) throw new Error(`“${suffix[1]}” belongs to times; this is ${unit.symbol || 'a plain number'}.`)
      at++
      return suffix[1] === 'f' ? value / frameRate : value
    }
    return value
  }
  try {
    const value = sum()
    skip()
    if (at < source.length) return { error: `“${source.slice(at)}” is not understood here.` }
    if (!Number.isFinite(value)) return { error: 'That is not a finite number.' }
    return { value: value / unit.scale }
  } catch (problem) {
    return { error: (problem as Error).message }
  }
}
