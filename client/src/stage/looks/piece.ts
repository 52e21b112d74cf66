/**
 * Bodies on particles, as the core paints them (kagero/core/picture/piece.py): triangles of forms, turned and sized by what a particle is drawn from.
 * Those that hide what is behind them are drawn before all particles, the others triangle by triangle among them.
 */
import * as three from 'three'
import type { DrawnPart } from '../layers'
import type { PlacedForms } from '../forms'
import type { StageLook } from './look'
import { picture } from './picture'

export const piece: StageLook = {
  kind: 3,
  slots: [
    ...picture.slots.filter((slot) => slot.column !== 'turn'),
    { column: 'deep', width: 1, at: ['h', 23], fallback: 1 },
    { column: 'turn', width: 4, at: ['f', 8], fallback: 0 },
    { column: 'pivot', width: 3, at: ['f', 12], fallback: 0 },
    { column: 'form', width: 1, at: ['f', 15], fallback: 0 },
  ],
}

const PIVOTS = ['middle', 'origin', 'base']
const FULL = three.DataUtils.toHalfFloat(0.9985) // opacity from which on a body hides what is behind it

/** Return the last rows of its look's table: its first form, how it is sized and held, what it faces; whether it is lit, culled. */
export function settings(part: DrawnPart, placed: PlacedForms): number[] {
  const { drawing } = part
  return [
    ...[placed.form, drawing.sized === 'own' ? 1 : 0, PIVOTS.indexOf(String(drawing.pivots)), drawing.eye ? 1 : 0],
    ...[drawing.lit ? 1 : 0, drawing.both ? 0 : 1, placed.forms.box.length, Number(drawing.gloss ?? 0)],
    ...[0, 0, 0, 0],
  ]
}

/** Return the number of each particle's form. */
export function formOf(part: DrawnPart, placed: PlacedForms, i: number): number {
  const given = part.columns.form as Float32Array | undefined
  const number = given ? given[i] : (part.defaults.form ?? 0)
  return Math.max(Math.trunc(number), 0) % placed.forms.box.length
}

/** Return whether a particle's body hides what is behind it, and whether it is seen at all. */
export function hiding(part: DrawnPart, i: number, clear: boolean): [hides: boolean, seen: boolean] {
  const size = part.columns.size ? part.columns.size[i] : (part.defaults.size ?? 0)
  const given = part.columns.opacity as Uint16Array | undefined
  const opacity = given ? given[i] : three.DataUtils.toHalfFloat(part.defaults.opacity ?? 1)
  const thick = opacity < 0x8000 ? opacity : 0
  return [clear && thick >= FULL, thick > 0 && size > 0]
}

const half = three.DataUtils.fromHalfFloat

/**
 * Write how deep the middles of the triangles of a particle's body are, along a view (less the further away), one after the other from `to` on.
 * view: the third row of the matrix from the world to the eye.
 */
export function depths(
  part: DrawnPart,
  placed: PlacedForms,
  i: number,
  view: readonly number[],
  out: Float32Array,
  to: number,
): void {
  const { columns, defaults, drawing } = part
  const form = formOf(part, placed, i)
  const box = placed.forms.box[form]
  const q = [0, 1, 2, 3].map((k) => (columns.turn ? (columns.turn as Float32Array)[i * 4 + k] : (defaults.turn ?? 0)))
  const n = Math.hypot(...q) || 1
  const [x, y, z, w] = q.map((v) => v / n)
  const [a, b, c] = drawing.eye ? [0, 0, 1] : view
  // the view's row times the turn
  const row = [
    a * (1 - 2 * (y * y + z * z)) + b * 2 * (x * y + z * w) + c * 2 * (x * z - y * w),
    a * 2 * (x * y - z * w) + b * (1 - 2 * (x * x + z * z)) + c * 2 * (y * z + x * w),
    a * 2 * (x * z + y * w) + b * 2 * (y * z - x * w) + c * (1 - 2 * (x * x + y * y)),
  ]
  const size = columns.size ? columns.size[i] : (defaults.size ?? 0)
  const longest = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2], 1e-9)
  const unit = drawing.sized === 'own' ? size : size / longest
  ;['wide', 'tall', 'deep'].forEach((name, k) => {
    const given = columns[name] as Uint16Array | undefined
    row[k] *= unit * (given ? half(given[i]) : (defaults[name] ?? 1))
  })
  let at = view[0] * part.position[i * 3] + view[1] * part.position[i * 3 + 1] + view[2] * part.position[i * 3 + 2]
  for (let k = 0; k < 3; k++) {
    const middle = (box[k] + box[k + 3]) / 2
    const held = drawing.pivots === 'origin' ? 0 : drawing.pivots === 'base' && k === 1 ? box[1] : middle
    const pivot = columns.pivot ? (columns.pivot as Float32Array)[i * 3 + k] : (defaults.pivot ?? 0)
    at -= row[k] * (held + (pivot * (box[k + 3] - box[k])) / 2)
  }
  const { middles, forms } = placed
  for (let t = forms.start[form]; t < forms.start[form + 1]; t++, to++)
    out[to] = at + row[0] * middles[t * 3] + row[1] * middles[t * 3 + 1] + row[2] * middles[t * 3 + 2]
}

export default piece
