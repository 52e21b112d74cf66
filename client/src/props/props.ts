/** Props as edits: made, brought in, replaced, taken away; who uses them; and what they are in words. */
import { formulaName } from '../effect/edits'
import type { OpenEffect } from '../effect/open.svelte'
import { newUid, withUids } from '../effect/path'
import type { AddSpec, BroughtIn, Effect, Prop } from '../wire/types'

export const SHAPES = ['disc', 'ring', 'sphere', 'box', 'plane', 'cylinder', 'funnel'] as const
export type Shape = (typeof SHAPES)[number]
/** The sizes of each shape, and what they are called. */
export const SIZES: Record<Shape, [name: 'radius' | 'inner' | 'width' | 'height' | 'depth', label: string][]> = {
  disc: [['radius', 'radius']],
  ring: [['inner', 'inner radius'], ['radius', 'radius']],
  sphere: [['radius', 'radius']],
  box: [['width', 'width'], ['height', 'height'], ['depth', 'depth']],
  plane: [['width', 'width'], ['depth', 'depth']],
  cylinder: [['radius', 'radius'], ['height', 'height']],
  funnel: [],
}
const SHAPE_FIELDS = { radius: 0.5, inner: 0.3, width: 1, height: 1, depth: 1, profile: [[0.15, 0], [0.3, 0.4], [0.6, 1]] }

const row = (base: number[]) => ({ base, responses: [], muted: false })

/** Return a new prop of a kind; more: what its kind needs besides. */
export function newProp(kind: Prop['kind'], name: string, more: Record<string, unknown>): Prop {
  const common = { uid: newUid(), name, position: row([0, 0, 0]), rotation: row([0, 0, 0]), scale: row([1, 1, 1]), follow: null, shown: 'shaded', tint: [0.32, 0.3, 0.27] }
  return { ...common, kind, ...(kind === 'shape' ? SHAPE_FIELDS : {}), ...more } as unknown as Prop
}

/** Return a new mask as the core offers it. Throws, in words, where it lacks what it would be of. */
export function newMask(effect: Effect, add: AddSpec): Prop {
  if (add.why) throw new Error(add.why)
  return { ...withUids(structuredClone(add.value) as Prop), name: freeName(effect, `${add.label.toLowerCase()} mask`) }
}

export function freeName(effect: Effect, name: string): string {
  const taken = new Set((effect.props ?? []).map((p) => formulaName(p.name)))
  for (let i = 1; ; i++) {
    const wanted = i === 1 ? name : `${name} ${i}`
    if (!taken.has(formulaName(wanted))) return wanted
  }
}

export function addProp(effect: OpenEffect, prop: Prop): void {
  effect.edit(`Add ${prop.name}`, ['props'], [...(effect.document.props ?? []), prop])
  effect.propUid = prop.uid
}

/** Return a prop of a file: a mesh in metres with y up as far as can be guessed, or a picture on a plane. */
export function propOf(effect: Effect, file: BroughtIn): Prop {
  const name = freeName(effect, file.name.replace(/\.[^.]*$/, '').replace(/[_-]+/g, ' ').slice(0, 60) || 'prop')
  const ref = { content: file.content, name: file.name }
  if (file.kind === 'picture') return newProp('picture', name, { files: [ref], start: 0, loops: true })
  if (file.kind === 'drawing') return newProp('logo', name, { file: ref, height: 1, depth: 0 })
  if (file.kind === 'points') return newProp('points', name, { file: ref, unit: file.unit, up: file.up })
  return newProp('mesh', name, { file: ref, unit: file.unit, up: file.up, start: 0, speed: 1, loops: false })
}

/** Return a path along a drawing's first outline or a table's points. Throws when the file has none. */
export function pathOf(effect: Effect, file: BroughtIn): Prop {
  if (file.line.length < 2) throw new Error(`${file.name} holds no line.`)
  const name = freeName(effect, file.name.replace(/\.[^.]*$/, '').slice(0, 60) || 'path')
  // a drawing's units are pixels: a metre high, standing on the ground
  const ys = file.line.map((p) => p[1])
  const [low, high] = [Math.min(...ys), Math.max(...ys)]
  const xs = file.line.map((p) => p[0])
  const middle = (Math.min(...xs) + Math.max(...xs)) / 2
  const scale = file.kind === 'drawing' ? 1 / Math.max(high - low, 1e-9) : 1
  const points = file.kind === 'drawing' ? file.line.map(([x, y]) => [(x - middle) * scale, (y - low) * scale, 0]) : file.line
  return newProp('path', name, { points: points.map((p) => p.map((v) => Number(v.toFixed(5)))), closed: false, smooth: false, formula: '' })
}

type CameraKey = { time: number; place: number[] }
/** Return a camera of a file; one that moves gets a response from clip time for each number, which is what keyframes are. */
export function cameraOf(effect: Effect, camera: { name: string; field_of_view: number; place: number[]; keys: CameraKey[] }, unit: number): Prop {
  // a matrix by rows: turned about y, then tilted about x, then rolled about z
  const position = (m: number[]) => [m[3], m[7], m[11]].map((v) => Number((v * unit).toFixed(5)))
  const rotation = (m: number[]) => [Math.asin(Math.max(-1, Math.min(1, -m[6]))), Math.atan2(m[2], m[10]), Math.atan2(m[4], m[5])].map((v) => Number(v.toFixed(5)))
  const driven = (of: (m: number[]) => number[], turns: boolean) => {
    const values = camera.keys.map((k) => of(k.place))
    // the short way round from key to key
    if (turns) for (let k = 1; k < values.length; k++) for (let i = 0; i < 3; i++) values[k][i] += 2 * Math.PI * Math.round((values[k - 1][i] - values[k][i]) / (2 * Math.PI))
    const last = camera.keys.at(-1)?.time ?? 0
    const responses = [0, 1, 2].flatMap((i) => {
      const [low, high] = [Math.min(...values.map((v) => v[i])), Math.max(...values.map((v) => v[i]))]
      if (!(high - low > 1e-5) || last <= 0) return []
      const keys = camera.keys.map((k, n) => ({ x: Math.min(k.time / last, 1), y: (values[n][i] - low) / (high - low), shape: 'linear' }))
      return [{ kind: 'curve', uid: newUid(), source: { kind: 'clip_time' }, read: 'live', operation: 'set', amount: 1, muted: false, input: [0, last], beyond: 'hold', shift: 0, curve: { keys }, exponent: 1, output: [low, high], component: 'xyz'[i] }]
    })
    return { base: of(camera.place), responses, muted: false }
  }
  return newProp('camera', freeName(effect, camera.name), { field_of_view: { base: camera.field_of_view, responses: [], muted: false }, position: driven(position, false), rotation: driven(rotation, true) })
}

/** Return whether a prop may follow another without following itself. */
export function mayFollow(effect: Effect, prop: Prop, other: Prop): boolean {
  let here: Prop | undefined = other
  for (let i = 0; here && i < 65; i++) {
    if (here.uid === prop.uid) return false
    const next: string | undefined = here.follow?.prop
    here = next ? (effect.props ?? []).find((p) => p.uid === next) : undefined
  }
  return true
}

export function kindWords(prop: Prop): string {
  if (prop.kind === 'shape') return prop.shape
  if (prop.kind === 'mesh' || prop.kind === 'points' || prop.kind === 'logo') return prop.file.name
  if (prop.kind === 'picture') return prop.files.length > 1 ? `${prop.files.length} pictures` : prop.files[0].name
  if (prop.kind === 'text') return 'words'
  if (prop.kind === 'mask') return `mask: ${prop.shape === 'mesh' ? 'inside a mesh' : prop.shape}${prop.invert ? ', inverted' : ''}`
  return prop.kind
}

/** Return what a prop's geometry depends on: equal for props that look alike in their own space. */
export function geometryKey(prop: Prop): string {
  if (prop.kind === 'mask') return 'mask'
  const { uid: _u, name: _n, position: _p, rotation: _r, scale: _s, follow: _f, shown: _w, tint: _t, dissolve: _d, ...rest } = prop as unknown as Record<string, unknown>
  return JSON.stringify(rest)
}
