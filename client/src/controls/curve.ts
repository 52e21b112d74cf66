/** Draws the core's curves: the same pieces as kagero/core/kernels/curves.py (monotone cubic Hermite, straight, held). */
import type { Key } from '../wire/types'

type Piece = { x: number; c: [number, number, number, number] }

const FREE_CUTS = 16

export function pieces(keys: readonly Key[]): Piece[] {
  const slopes = monotoneSlopes(keys)
  return keys.flatMap((key, i): Piece[] => {
    const next = keys[i + 1]
    if (!next || key.shape === 'hold') return [{ x: key.x, c: [key.y, 0, 0, 0] }]
    if (key.shape === 'free') return freePieces(key, next, slopes[i], slopes[i + 1])
    const h = next.x - key.x
    const delta = (next.y - key.y) / h
    if (key.shape === 'linear') return [{ x: key.x, c: [key.y, delta, 0, 0] }]
    return [hermite(key.x, key.y, h, delta, slopes[i], slopes[i + 1])]
  })
}

function hermite(x: number, y: number, h: number, delta: number, a: number, b: number): Piece {
  return { x, c: [y, a, (3 * delta - 2 * a - b) / h, (a + b - 2 * delta) / h ** 2] }
}

/** Return a free piece's handles, out of its key and into the next: as kept, or along the smooth slope. */
export function handles(keys: readonly Key[], i: number): { out: [number, number]; into: [number, number] } {
  const slopes = monotoneSlopes(keys)
  const third = (keys[i + 1].x - keys[i].x) / 3
  return {
    out: keys[i].out ? ([...keys[i].out!] as [number, number]) : [third, slopes[i] * third],
    into: keys[i + 1].into ? ([...keys[i + 1].into!] as [number, number]) : [-third, -slopes[i + 1] * third],
  }
}

function freePieces(key: Key, next: Key, slope0: number, slope1: number): Piece[] {
  const h = next.x - key.x
  const [ox, oy] = key.out ?? [h / 3, (slope0 * h) / 3]
  const [ix, iy] = next.into ?? [-h / 3, (-slope1 * h) / 3]
  const a = Math.min(Math.max(ox, 0), h)
  const b = Math.min(Math.max(h + ix, 0), h)
  const at = Array.from({ length: FREE_CUTS + 1 }, (_, k) => {
    const t = (1 - Math.cos((Math.PI * k) / FREE_CUTS)) / 2
    const s = 1 - t
    return {
      x: 3 * s * s * t * a + 3 * s * t * t * b + t ** 3 * h,
      y: s ** 3 * key.y + 3 * s * s * t * (key.y + oy) + 3 * s * t * t * (next.y + iy) + t ** 3 * next.y,
      dx: 3 * s * s * a + 6 * s * t * (b - a) + 3 * t * t * (h - b),
      dy: 3 * s * s * oy + 6 * s * t * (next.y + iy - key.y - oy) - 3 * t * t * iy,
    }
  })
  const found: Piece[] = []
  for (let k = 0; k < FREE_CUTS; k++) {
    const [p, q] = [at[k], at[k + 1]]
    const wide = q.x - p.x
    if (wide < 1e-7) continue
    const delta = (q.y - p.y) / wide
    const limit = 3 * Math.abs(delta)
    const [m, n] = [p, q].map((e) => {
      const slope = e.dx > 1e-9 ? e.dy / e.dx : Math.sign(delta) * limit
      return e.dx < 0.05 * h ? Math.min(Math.max(slope, -limit), limit) : slope
    })
    found.push(hermite(key.x + p.x, p.y, wide, delta, m, n))
  }
  return found.length ? found : [{ x: key.x, c: [key.y, 0, 0, 0] }]
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
export function flipped(keys: readonly Key[], axis: 'left-right' | 'upside-down'): Key[] {
  const turn = (h: readonly number[] | null | undefined, x: number, y: number) =>
    h ? ([h[0] * x, h[1] * y] as [number, number]) : null
  if (axis === 'upside-down')
    return keys.map((k) => ({ ...k, y: 1 - k.y, into: turn(k.into, 1, -1), out: turn(k.out, 1, -1) }))
  return keys.map((_, i) => {
    const from = keys[keys.length - 1 - i]
    const before = keys[keys.length - 2 - i]
    return {
      x: 1 - from.x,
      y: from.y,
      shape: (before ?? from).shape,
      into: turn(from.out, -1, 1),
      out: turn(from.into, -1, 1),
    }
  })
}

/** Return an SVG path of a proportion, (source / reference) to a power, from nought to twice the reference. */
export function ratioPath(power: number, width: number, height: number, inset = 0): string {
  const points: string[] = []
  for (let i = 0; i <= 60; i++) {
    const x = (i / 60) * 2
    const y = Math.min(x === 0 && power < 0 ? 2 : x ** power, 2) / 2
    points.push(`${((x / 2) * width).toFixed(1)},${(height - inset - y * (height - 2 * inset)).toFixed(1)}`)
  }
  return `M${points.join('L')}`
}
