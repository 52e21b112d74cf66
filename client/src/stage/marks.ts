/** Marks of where parts are: what the core says of them (`guides` of the layout), as line segments in metres. */
import * as three from 'three'
import { numbers, type Catalog } from '../effect/catalog.svelte'
import type { Emitter, GuideSpec } from '../wire/types'

/** small: of a cross, that it only marks a point that others are seen from. address: of its place's row; moved: a hand may move it. */
export type StageMark = {
  mark: GuideSpec['mark']
  at: readonly number[]
  radius: number
  size: readonly number[]
  direction: readonly number[]
  small: boolean
  address: string
  moved: boolean
  core: number
  /** Over how many metres it fades, and how: factors from nought to there. */
  span: number
  fade: readonly number[]
  /** The prop in whose space it stands; nothing for the world. */
  space: string
}

/** Return the marks of an emitter's parts. A base that is read from a source is drawn at its row's default. */
export function marksOf(catalog: Catalog, emitter: Emitter): StageMark[] {
  const made: StageMark[] = []
  const laid = catalog.thing(emitter)
  const value = (address: string, fallback: number[]) => {
    const row = address ? catalog.rowAt(emitter, address) : undefined
    return row ? numbers(row.row.base, [row.spec.default].flat() as number[]) : fallback
  }
  for (const [path, part] of Object.entries(laid?.parts ?? {})) {
    for (const guide of part.guides) {
      if (!catalog.rowAt(emitter, guide.at)) continue // it went since
      const [at, size, direction] = [
        value(guide.at, [0, 0, 0]),
        value(guide.size, [1, 1, 1]),
        value(guide.direction, [0, 1, 0]),
      ]
      const row = catalog.rowAt(emitter, guide.at)!.row
      const free = typeof row.base !== 'object' || Array.isArray(row.base)
      made.push({
        mark: guide.mark,
        at,
        radius: value(guide.radius, [0.5])[0],
        size,
        direction,
        small: path !== 'births.place',
        address: guide.at,
        moved: guide.moved && free && !row.responses?.length && !guide.space,
        core: value(guide.core, [0])[0],
        span: guide.span,
        fade: guide.fade,
        space: guide.space,
      })
    }
  }
  return made
}

export function markLines(made: StageMark): number[] {
  const { mark, at, radius, size, direction, small } = made
  const [x, y, z] = at
  if (mark === 'falloff' || mark === 'axis') return fadeLines(made)
  if (mark === 'disc') return circle(x, y, z, radius, 'y')
  if (mark === 'ball')
    return [...circle(x, y, z, radius, 'x'), ...circle(x, y, z, radius, 'y'), ...circle(x, y, z, radius, 'z')]
  if (mark === 'box') {
    const [w, h, d] = size.map((s) => s / 2)
    const corner = (i: number) => [x + (i & 1 ? w : -w), y + (i & 2 ? h : -h), z + (i & 4 ? d : -d)]
    const points: number[] = []
    for (let a = 0; a < 8; a++)
      for (const bit of [1, 2, 4]) if (!(a & bit)) points.push(...corner(a), ...corner(a | bit))
    return points
  }
  if (mark === 'arrow') return arrow(at, direction)
  const r = small ? 0.08 : 0.06
  return [x - r, y, z, x + r, y, z, x, y - r, z, x, y + r, z, x, y, z - r, x, y, z + r]
}

function circle(cx: number, cy: number, cz: number, r: number, axis: 'x' | 'y' | 'z'): number[] {
  const points: number[] = []
  const at = (t: number) => {
    const [c, s] = [r * Math.cos(t), r * Math.sin(t)]
    return axis === 'y' ? [cx + c, cy, cz + s] : axis === 'x' ? [cx, cy + c, cz + s] : [cx + c, cy + s, cz]
  }
  for (let i = 0; i < 64; i++) points.push(...at((i / 64) * 2 * Math.PI), ...at(((i + 1) / 64) * 2 * Math.PI))
  return points
}

function arrow(at: readonly number[], direction: readonly number[]): number[] {
  const start = new three.Vector3().fromArray(at as number[])
  const way = new three.Vector3().fromArray(direction as number[])
  if (way.lengthSq() < 1e-12) way.set(0, 1, 0)
  way.normalize()
  const side = Math.abs(way.y) > 0.9 ? new three.Vector3(1, 0, 0) : new three.Vector3(0, 1, 0)
  const across = new three.Vector3().crossVectors(way, side).cross(way).normalize()
  const tip = start.clone().addScaledVector(way, 0.32)
  const neck = start.clone().addScaledVector(way, 0.25)
  return [
    start,
    tip,
    tip,
    neck.clone().addScaledVector(across, 0.035),
    tip,
    neck.clone().addScaledVector(across, -0.035),
  ].flatMap((v) => v.toArray())
}

/** Return a place or axis with how strong it is about it: its core and reach as rings, and its strength drawn as a height over the distance. */
function fadeLines({ mark, at, radius, direction, core, span, fade }: StageMark): number[] {
  const middle = new three.Vector3().fromArray(at as number[])
  const axis = mark === 'axis' ? new three.Vector3().fromArray(direction as number[]) : new three.Vector3(0, 1, 0)
  if (axis.lengthSq() < 1e-12) axis.set(0, 1, 0)
  axis.normalize()
  const right = new three.Vector3().crossVectors(
    axis,
    Math.abs(axis.z) > 0.9 ? new three.Vector3(1, 0, 0) : new three.Vector3(0, 0, 1),
  )
  right.normalize()
  const back = new three.Vector3().crossVectors(right, axis)
  const points: number[] = []
  const put = (across: number, up: number, deep = 0) =>
    middle.clone().addScaledVector(right, across).addScaledVector(axis, up).addScaledVector(back, deep).toArray()
  const ring = (r: number, turns = 64) => {
    for (let i = 0; i < turns; i++) {
      const [a, b] = [(i / turns) * 2 * Math.PI, ((i + 1) / turns) * 2 * Math.PI]
      points.push(...put(r * Math.cos(a), 0, r * Math.sin(a)), ...put(r * Math.cos(b), 0, r * Math.sin(b)))
    }
  }
  const cross = 0.06
  points.push(
    ...put(-cross, 0),
    ...put(cross, 0),
    ...put(0, -cross),
    ...put(0, cross),
    ...put(0, 0, -cross),
    ...put(0, 0, cross),
  )
  if (core > 0.01) ring(core, 32)
  if (mark === 'axis') points.push(...put(0, -span / 2), ...put(0, span / 2))
  if (fade.length && span > 0) {
    if (mark === 'axis' || new Set(fade.slice(4).map((f) => f.toFixed(2))).size > 1)
      ring(radius > 0 ? radius : span / 2)
    const most = Math.max(...fade.map(Math.abs), 1e-9)
    const high = 0.3 * span
    for (const side of [-1, 1])
      for (let i = 0; i + 1 < fade.length; i++) {
        const [a, b] = [i, i + 1].map((k) => (k / (fade.length - 1)) * span * side)
        points.push(...put(a, (fade[i] / most) * high), ...put(b, (fade[i + 1] / most) * high))
      }
  }
  return points
}
