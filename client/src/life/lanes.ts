/** Lanes of the life strip: the curves that life drives, on one axis, and moving several of their keys at once. */
import type { Catalog, PlacedRow } from '../effect/catalog.svelte'
import { put } from '../effect/path'
import type { CurveResponse, Emitter, Key } from '../wire/types'

/** A row that life or age drives. response: the curve whose keys are edited in place; null where only its course is shown. */
export type Lane = { placed: PlacedRow; response: CurveResponse | null; index: number }
/** Names a key of a lane. */
export type KeyName = `${string}:${number}`

const ALWAYS = new Set(['look.size', 'look.opacity'])

export function lanesOf(catalog: Catalog, emitter: Emitter): Lane[] {
  return catalog
    .rowsOf(emitter)
    .filter((row) => row.spec.kind === 'number' && row.spec.stage === 'live' && !row.unused)
    .map((placed): Lane | null => {
      const responses = placed.row.responses ?? []
      const index = responses.findIndex(
        (r) => r.kind === 'curve' && r.source.kind === 'life' && catalog.isActive(emitter, placed, r),
      )
      const aged = responses.some(
        (r) => (r.source.kind === 'life' || r.source.kind === 'age') && catalog.isActive(emitter, placed, r),
      )
      if (index < 0 && !aged && !ALWAYS.has(placed.address)) return null
      return { placed, response: index < 0 ? null : (responses[index] as CurveResponse), index }
    })
    .filter((lane): lane is Lane => lane !== null)
    .sort((a, b) => Number(b.placed.spec.band === 'look') - Number(a.placed.spec.band === 'look'))
}

/** Return where a key stands on the axis of life, from 0 to 1. */
export function lifeOf(response: CurveResponse, key: Key): number {
  const [low, high] = response.input
  return low + key.x * (high - low)
}

/** Return the emitter with the named keys moved along life and, by `up`, in height; keys keep their order and stay inside. */
export function moveKeys(
  emitter: Emitter,
  lanes: Lane[],
  names: ReadonlySet<string>,
  along: number,
  up: number,
): Emitter {
  const GAP = 2e-3
  let changed = emitter
  for (const { placed, response, index } of lanes) {
    if (!response) continue
    const span = response.input[1] - response.input[0] || 1
    const chosen = response.curve.keys.map((_, i) => names.has(`${response.uid}:${i}`))
    if (!chosen.some(Boolean)) continue
    const keys = response.curve.keys.map((k) => ({ ...k }))
    const step = along / span
    // together as far as the first of them can go
    let least = -Infinity
    let most = Infinity
    keys.forEach((key, i) => {
      if (!chosen[i]) return
      const before = i ? keys[i - 1].x + GAP : 0
      const after = i < keys.length - 1 ? keys[i + 1].x - GAP : 1
      if (i === 0 || !chosen[i - 1]) least = Math.max(least, before - key.x)
      if (i === keys.length - 1 || !chosen[i + 1]) most = Math.min(most, after - key.x)
    })
    const by = Math.min(Math.max(step, least), most)
    keys.forEach((key, i) => {
      if (!chosen[i]) return
      key.x = Number(Math.min(Math.max(key.x + by, 0), 1).toFixed(4))
      key.y = Number(Math.min(Math.max(key.y + up, 0), 1).toFixed(4))
    })
    changed = put(changed, [...placed.path, 'responses', index, 'curve', 'keys'], keys)
  }
  return changed
}
