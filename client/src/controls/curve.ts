/** Draws the core's curves: the same pieces as kagero/core/kernels/curves.py (monotone cubic Hermite, straight, held). */
import type { Key } from '../wire/types'

type Piece = { x: number; c: [number, number, number, number] }

export function pieces(keys: readonly Key[]): Piece[] {
  const slopes = monotoneSlopes(keys)
  return keys.map((key, i) => {
    const next = keys[i + 1]
    if (!next || key.shape === 'hold') return { x: key.x, c: [key.y, 0, 0, 0] }
    const h = next.x - key.x
    const delta = (next.y - key.y) / h
    if (key.shape === 'linear') return { x: key.x, c: [key.y, delta, 0, 0] }
    return { x: key.x, c: [key.y, slopes[i], (3 * delta - 2 * slopes[i] - slopes[i + 1]) / h, (slopes[i] + slopes[i + 1] - 2 * delta) / h ** 2] }
  })
}

function monotoneSlopes(keys: readonly Key[]): number[] {
  const n = keys.length
  if (n < 2) return [0]
  const h = keys.slice(1).map((k, i) => k.x - keys[i].x)
  const delta = keys.slice(1).map((k, i) => (k.y - keys[i].y) / h[i])
  if (n === 2) return [delta[0], delta[0]]
  const slopes = keys.map((_, i) => {
    if (i === 0 || i === n - 1 || delta[i - 1] * delta[i] <= 0) return 0
    const w1 = 2 * h[i] + h[i - 1]
    const w2 = h[i] + 2 * h[i - 1]
    return (w1 + w2) / (w1 / delta[i - 1] + w2 / delta[i])
  })
  const end = (a: number, b: number) => {
    let slope = ((2 * h[a] + h[b]) * delta[a] - h[a] * delta[b]) / (h[a] + h[b])
    if (slope * delta[a] <= 0) slope = 0
    else if (delta[a] * delta[b] <= 0 && Math.abs(slope) > 3 * Math.abs(delta[a])) slope = 3 * delta[a]
    return slope
  }
  slopes[0] = end(0, 1)
  slopes[n - 1] = end(n - 2, n - 3)
  return slopes
}

export function evaluate(table: readonly Piece[], t: number): number {
  const last = table.length - 1
  const v = Math.min(Math.max(t, table[0].x), table[last].x)
  let k = 0
  while (k < last && v >= table[k + 1].x) k++
  const d = v - table[k].x
  const [c0, c1, c2, c3] = table[k].c
  return ((c3 * d + c2) * d + c1) * d + c0
}

/** Return an SVG path of the curve in a box; y of `low`..`high` fills its height. */
export function curvePath(keys: readonly Key[], width: number, height: number, low = 0, high = 1, inset = 0): string {
  const table = pieces(keys)
  const X = (x: number) => (x * width).toFixed(1)
  const Y = (y: number) => (height - inset - ((y - low) / (high - low)) * (height - 2 * inset)).toFixed(1)
  const points: string[] = []
  const at = new Set<number>([0, 1])
  for (let i = 0; i <= 80; i++) at.add(i / 80)
  for (const key of keys) at.add(key.x)
  for (const x of [...at].sort((a, b) => a - b)) {
    const key = keys.findIndex((k) => k.x === x)
    if (key > 0 && keys[key - 1].shape === 'hold') points.push(`${X(x)},${Y(keys[key - 1].y)}`)
    points.push(`${X(x)},${Y(evaluate(table, x))}`)
  }
  return `M${points.join('L')}`
}

/** Return the curve's keys seen from the other end: left and right swapped, each piece keeping its shape. */
export function flipped(keys: readonly Key[], way: 'left-right' | 'upside-down'): Key[] {
  if (way === 'upside-down') return keys.map((k) => ({ ...k, y: 1 - k.y }))
  return keys.map((_, i) => {
    const from = keys[keys.length - 1 - i]
    const before = keys[keys.length - 2 - i]
    return { x: 1 - from.x, y: from.y, shape: (before ?? from).shape }
  })
}
