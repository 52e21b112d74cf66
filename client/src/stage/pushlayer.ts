/** What pushes: arrows to scale on the picked particle, each with its name, and their sum; and a slice of what would push it elsewhere. */
import * as three from 'three'
import { label } from './measures'

export type PushArrow = { name: string; vector: readonly number[]; sum?: boolean }
export type PushSlice = {
  points: readonly (readonly number[])[]
  pushes: readonly (readonly number[])[]
  reach: number
  /** Streamlines: places, each with its push as a share of the strongest. */
  lines: readonly (readonly (readonly number[])[])[]
  /** Whether these are shown rather than arrows. */
  flowing: boolean
}

/** How long the strongest arrow is, of the distance it is seen from. */
const LENGTH = 0.16
const SLICE: [number, number, number] = [0.098, 0.381, 0.381]
const PUSH: [number, number, number] = [0.831, 0.78, 0.687]
const SUM: [number, number, number] = [0.8, 0.13, 0.045]

/** Which way is across and up as it is looked at, and from how far off, metres. */
export type Facing = { across: readonly number[]; up: readonly number[]; distance: number }
type Named = { words: string; colour: string; tip: [number, number, number]; x: number; y: number }
/** How high and how wide a name is, of the distance it is seen from. */
const NAME = { high: 0.024, wide: 0.2 }

/** Return names with how far up each goes so that none covers another. */
export function apart<T extends { x: number; y: number }>(named: readonly T[]): (T & { lift: number })[] {
  const put: (T & { lift: number })[] = []
  for (const each of [...named].sort((a, b) => a.y - b.y)) {
    let y = each.y
    for (const other of [...put].sort((a, b) => a.y + a.lift - b.y - b.lift))
      if (Math.abs(other.x - each.x) < NAME.wide && Math.abs(other.y + other.lift - y) < NAME.high)
        y = other.y + other.lift + NAME.high
    put.push({ ...each, lift: y - each.y })
  }
  return put
}

export class PushLayer {
  readonly group = new three.Group()
  private arrows: readonly PushArrow[] = []
  private slice: PushSlice | null = null

  /** Take what is to be shown; nothing shows nothing. */
  set(arrows: readonly PushArrow[], slice: PushSlice | null): void {
    this.arrows = arrows
    this.slice = slice
  }

  /** Draw it about a particle; null: nobody is picked. distance: from where it is looked at, metres. */
  place(at: readonly [number, number, number] | null, { across, up, distance }: Facing): void {
    this.clear()
    if (at && this.arrows.length) {
      const named: Named[] = []
      const most = Math.max(...this.arrows.map(({ vector }) => Math.hypot(...vector)), 1e-9)
      for (const { name, vector, sum } of this.arrows) {
        const strength = Math.hypot(...vector)
        if (strength < most * 1e-3) continue
        const scale = (LENGTH * distance) / most
        const tip = vector.map((v, i) => at[i] + v * scale) as [number, number, number]
        const points = arrowLines(at, tip, distance * 0.012)
        this.lines(points, sum ? SUM : PUSH, 1)
        const words = `${name} ${Number(strength.toPrecision(strength < 10 ? 2 : 3))} m/s²`
        const [x, y] = [across, up].map((along) => along.reduce((sum, w, i) => sum + w * tip[i], 0) / distance)
        named.push({ words, colour: sum ? '#e8643c' : '#ece5d8', tip, x, y })
      }
      for (const { words, colour, tip, lift } of apart(named)) {
        const there = tip.map((v, i) => v + up[i] * lift * distance) as [number, number, number]
        this.group.add(label(words, colour, there, true))
      }
    }
    if (this.slice?.flowing) this.flow(this.slice)
    else if (this.slice) {
      const { points, pushes, reach } = this.slice
      const side = Math.max(2, Math.round(Math.sqrt(points.length)))
      const cell = (2 * reach) / (side - 1)
      const strengths = pushes.map((v) => Math.hypot(...v))
      const most = Math.max(...strengths, 1e-9)
      const [strong, weak]: number[][] = [[], []]
      points.forEach((point, i) => {
        const length = strengths[i] / most
        if (length < 1e-3) return
        // what is weak is still seen: by the root, so that a tenth is a third as long
        const scale = (0.92 * cell * Math.sqrt(length)) / strengths[i]
        const tip = point.map((x, k) => x + pushes[i][k] * scale)
        ;(length > 0.25 ? strong : weak).push(...arrowLines(point, tip, 0.22 * cell * Math.sqrt(length)))
      })
      this.lines(weak, SLICE, 0.6)
      this.lines(strong, SLICE, 1)
    }
  }

  /** Draw streamlines: the stronger the brighter, with a head now and then for their direction. */
  private flow({ lines, reach }: PushSlice): void {
    const [points, heads, shades]: [number[], number[], number[]] = [[], [], []]
    for (const line of lines) {
      const bright = (share: number) => 0.3 + 0.7 * Math.sqrt(share)
      for (let i = 1; i < line.length; i++)
        for (const [x, y, z, share] of [line[i - 1], line[i]]) {
          points.push(x, y, z)
          shades.push(...SLICE.map((channel) => channel * bright(share)))
        }
      const every = Math.max(12, Math.round(line.length / 3))
      for (let i = Math.min(every, line.length) >> 1; i + 1 < line.length; i += every)
        heads.push(...arrowHead(line[i], line[i + 1], 0.022 * reach))
    }
    this.lines(points, [1, 1, 1], 1, shades)
    this.lines(heads, SLICE, 1)
  }

  private lines(points: number[], [r, g, b]: [number, number, number], opacity: number, shades?: number[]): void {
    if (!points.length) return
    const geometry = new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3))
    if (shades) geometry.setAttribute('color', new three.Float32BufferAttribute(shades, 3))
    const color = new three.Color().setRGB(r, g, b, three.LinearSRGBColorSpace)
    this.group.add(
      new three.LineSegments(
        geometry,
        new three.LineBasicMaterial({ color, transparent: true, opacity, depthTest: false, vertexColors: !!shades }),
      ),
    )
  }

  private clear(): void {
    for (const each of this.group.children as (three.LineSegments | three.Sprite)[]) {
      if (each instanceof three.Sprite) each.material.map?.dispose()
      else each.geometry.dispose()
      ;(each.material as three.Material).dispose()
    }
    this.group.clear()
  }
}

/** Return an arrow as lines: its shaft and two sides of its head, which is so large. */
export function arrowLines(from: readonly number[], tip: readonly number[], head: number): number[] {
  const length = Math.hypot(...tip.map((x, i) => x - from[i]))
  if (length < 1e-12) return []
  return [...from.slice(0, 3), ...tip.slice(0, 3), ...arrowHead(from, tip, Math.min(head, 0.4 * length))]
}

/** Return the two sides of an arrow's head as lines, so large. */
function arrowHead(from: readonly number[], tip: readonly number[], size: number): number[] {
  const [a, b] = [from, tip].map(([x, y, z]) => new three.Vector3(x, y, z))
  const along = b.clone().sub(a).normalize()
  const side = Math.abs(along.z) > 0.9 ? new three.Vector3(1, 0, 0) : new three.Vector3(0, 0, 1)
  const across = new three.Vector3()
    .crossVectors(along, side)
    .normalize()
    .multiplyScalar(size * 0.5)
  const neck = b.clone().addScaledVector(along, -size)
  return [b, neck.clone().add(across), b, neck.clone().sub(across)].flatMap((v) => v.toArray())
}
