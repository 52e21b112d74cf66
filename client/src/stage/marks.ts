/** Marks of where parts are: what the core says of them (`guides` of the layout), as line segments in metres. */
import * as three from 'three'
import { numbers, type Catalog } from '../effect/catalog.svelte'
import type { Emitter, GuideSpec } from '../wire/types'

/** small: of a cross, that it only marks a point that others are seen from. address: of its place's row; moved: a hand may move it. */
export type Grip = {
  what: 'place' | 'radius' | 'core' | 'axis' | 'side' | 'point'
  address: string
  at: number[]
  of: StageMark
  /** Of a side of a box, which axis it lies on; of a point of a lattice, which it is. */
  which?: number
  /** Of what is no row: where it stands in the emitter's document. */
  path?: (string | number)[]
}
export type StageMark = {
  mark: GuideSpec['mark']
  at: readonly number[]
  radius: number
  size: readonly number[]
  direction: readonly number[]
  small: boolean
  /** Where a hand can take it: what that is, the row it sets, and where it lies. */
  grips: Grip[]
  core: number
  /** Over how many metres it fades, and how: factors from nought to there. */
  span: number
  fade: readonly number[]
  /** The prop in whose space it stands; nothing for the world. */
  space: string
  /** Of a box, how it is turned, radians; and the points of a lattice in it, in sizes of the box from its middle. */
  turn: readonly number[]
  counts: readonly number[]
  points: readonly (readonly number[])[]
}

/** Return the marks of an emitter's parts. A base that is read from a source is drawn at its row's default. */
export function marksOf(catalog: Catalog, emitter: Emitter): StageMark[] {
  const result: StageMark[] = []
  const laid = catalog.thing(emitter)
  const value = (address: string, fallback: number[]) => {
    const row = address ? catalog.rowAt(emitter, address) : undefined
    return row ? numbers(row.row.base, [row.spec.default].flat() as number[]) : fallback
  }
  for (const [path, part] of Object.entries(laid?.parts ?? {})) {
    if (part.muted) continue
    for (const guide of part.guides) {
      if (!catalog.rowAt(emitter, guide.at)) continue // it went since
      const [at, size, direction] = [
        value(guide.at, [0, 0, 0]),
        value(guide.size, [1, 1, 1]),
        value(guide.direction, [0, 1, 0]),
      ]
      const free = (address: string) => {
        const placed = address ? catalog.rowAt(emitter, address) : undefined
        if (!placed || placed.unused || guide.space) return false
        const { base, responses } = placed.row
        return (typeof base !== 'object' || Array.isArray(base)) && !responses?.length
      }
      const mark: StageMark = {
        mark: guide.mark,
        at,
        radius: value(guide.radius, [0.5])[0],
        size,
        direction,
        small: path !== 'births.place',
        grips: [],
        core: value(guide.core, [0])[0],
        span: guide.span,
        fade: guide.fade,
        space: guide.space,
        turn: value(guide.turn, [0, 0, 0]),
        counts: guide.counts,
        points: guide.points,
      }
      const grip = (what: Grip['what'], address: string, where: number[]) =>
        free(address) && mark.grips.push({ what, address, at: where, of: mark })
      if (guide.moved) {
        grip('place', guide.at, [...at])
        const { right, axis } = axesOf(mark)
        const beside = (far: number) => at.map((x, k) => x + right.getComponent(k) * far)
        if (mark.fade.length && new Set(mark.fade.slice(4).map((f) => f.toFixed(2))).size > 1)
          grip('radius', guide.radius, beside(mark.radius))
        if (mark.mark === 'box' || mark.mark === 'lattice')
          for (const which of [0, 1, 2])
            if (free(guide.size))
              mark.grips.push({ what: 'side', address: guide.size, at: inBox(mark, unit(which)), of: mark, which })
        mark.points.forEach((point, which) =>
          mark.grips.push({
            what: 'point',
            address: '',
            at: inBox(mark, point),
            of: mark,
            which,
            path: [...part.path, 'offsets', which],
          }),
        )
        if (mark.mark === 'falloff' || mark.mark === 'axis') grip('core', guide.core, beside(-mark.core))
        if (mark.mark === 'axis')
          grip(
            'axis',
            guide.direction,
            at.map((x, k) => x + (axis.getComponent(k) * mark.span) / 2),
          )
      }
      result.push(mark)
    }
  }
  return result
}

export function markLines(result: StageMark): number[] {
  const { mark, at, radius, direction, small } = result
  const [x, y, z] = at
  if (mark === 'falloff' || mark === 'axis') return fadeLines(result)
  if (mark === 'disc') return circle(x, y, z, radius, 'y')
  if (mark === 'ball')
    return [...circle(x, y, z, radius, 'x'), ...circle(x, y, z, radius, 'y'), ...circle(x, y, z, radius, 'z')]
  if (mark === 'lattice') return cage(result)
  if (mark === 'box') {
    const half = (on: number) => (on ? 0.5 : -0.5)
    const corner = (i: number) => inBox(result, [half(i & 1), half(i & 2), half(i & 4)])
    const points: number[] = []
    for (let a = 0; a < 8; a++)
      for (const bit of [1, 2, 4]) if (!(a & bit)) points.push(...corner(a), ...corner(a | bit))
    return points
  }
  if (mark === 'arrow') return arrow(at, direction)
  const r = small ? 0.08 : 0.06
  return [x - r, y, z, x + r, y, z, x, y - r, z, x, y + r, z, x, y, z - r, x, y, z + r]
}

const unit = (which: number) => [0, 1, 2].map((k) => (k === which ? 0.5 : 0))
const turned = ({ turn }: StageMark) => new three.Euler(turn[0], turn[1], turn[2], 'YXZ')

/** Return where a place of a box lies, given in sizes of the box from its middle. */
function inBox(box: StageMark, share: readonly number[]): number[] {
  const step = new three.Vector3(...(share.map((s, k) => s * box.size[k]) as [number, number, number]))
  return step
    .applyEuler(turned(box))
    .add(new three.Vector3().fromArray(box.at as number[]))
    .toArray()
}

/** Return the lines between the points of a lattice that are beside each other. */
function cage(mark: StageMark): number[] {
  const [nx, ny, nz] = mark.counts
  const points: number[] = []
  const at = (i: number, j: number, k: number) => inBox(mark, mark.points[(i * ny + j) * nz + k])
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++)
      for (let k = 0; k < nz; k++) {
        if (i + 1 < nx) points.push(...at(i, j, k), ...at(i + 1, j, k))
        if (j + 1 < ny) points.push(...at(i, j, k), ...at(i, j + 1, k))
        if (k + 1 < nz) points.push(...at(i, j, k), ...at(i, j, k + 1))
      }
  return points
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
  const step = new three.Vector3().fromArray(direction as number[])
  if (step.lengthSq() < 1e-12) step.set(0, 1, 0)
  step.normalize()
  const side = Math.abs(step.y) > 0.9 ? new three.Vector3(1, 0, 0) : new three.Vector3(0, 1, 0)
  const across = new three.Vector3().crossVectors(step, side).cross(step).normalize()
  const tip = start.clone().addScaledVector(step, 0.32)
  const neck = start.clone().addScaledVector(step, 0.25)
  return [
    start,
    tip,
    tip,
    neck.clone().addScaledVector(across, 0.035),
    tip,
    neck.clone().addScaledVector(across, -0.035),
  ].flatMap((v) => v.toArray())
}

/** Which way a mark's axis runs, and across it. */
function axesOf({ mark, direction }: StageMark): { axis: three.Vector3; right: three.Vector3 } {
  const axis = mark === 'axis' ? new three.Vector3().fromArray(direction as number[]) : new three.Vector3(0, 1, 0)
  if (axis.lengthSq() < 1e-12) axis.set(0, 1, 0)
  axis.normalize()
  const right = new three.Vector3().crossVectors(
    axis,
    Math.abs(axis.z) > 0.9 ? new three.Vector3(1, 0, 0) : new three.Vector3(0, 0, 1),
  )
  return { axis, right: right.normalize() }
}

/** Return what a row becomes when a hand takes a grip somewhere: a place, how far from it, which way from it. */
export function gripped({ what, of, at, which = 0 }: Grip, to: readonly number[]): number | [number, number, number] {
  const gap = to.map((x, k) => x - of.at[k])
  const tidy = (values: number[]) => values.map((x) => Number(x.toFixed(4))) as [number, number, number]
  if (what === 'side' || what === 'point') {
    const here = new three.Vector3()
      .fromArray(gap)
      .applyQuaternion(new three.Quaternion().setFromEuler(turned(of)).invert())
    const local = here.toArray()
    if (what === 'side') return tidy(of.size.map((s, k) => (k === which ? Math.max(2 * local[k], 0.01) : s)))
    const [, ny, nz] = of.counts
    const place = [Math.floor(which / (ny * nz)), Math.floor(which / nz) % ny, which % nz]
    return tidy(local.map((x, k) => x / Math.max(of.size[k], 1e-6) + 0.5 - place[k] / (of.counts[k] - 1)))
  }
  if (what === 'place') return [to[0], to[1], to[2]]
  if (what === 'axis') {
    const length = Math.hypot(...gap)
    const was = Math.hypot(...of.direction) || 1
    return gap.map((x) => Number(((x / Math.max(length, 1e-9)) * was).toFixed(4))) as [number, number, number]
  }
  const far = Math.hypot(...at.map((x, k) => x - of.at[k]))
  // along its own line: what a hand does across it changes nothing
  const along = far > 1e-6 ? gap.reduce((sum, x, k) => sum + (x * (at[k] - of.at[k])) / far, 0) : Math.hypot(...gap)
  return Number(Math.max(along, what === 'core' ? 0 : 0.01).toFixed(4))
}

/** Return a place or axis with how strong it is about it: its core and reach as rings, and its strength drawn as a height over the distance. */
function fadeLines(result: StageMark): number[] {
  const { mark, at, radius, core, span, fade } = result
  const middle = new three.Vector3().fromArray(at as number[])
  const { axis, right } = axesOf(result)
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
