/** The boxes of shapings: made from where particles are, as numbers that stay. */
import { api } from '../wire/api'
import type { AddSpec, Bounds, Shaping, TimeKey } from '../wire/types'
import { addTo } from './edits'
import type { OpenEffect } from './open.svelte'

const within = (box: Bounds, of: Shaping): Partial<Shaping> =>
  box.middle
    ? ({ middle: { ...of.middle, base: box.middle }, size: { ...of.size, base: box.size } } as Partial<Shaping>)
    : {}

/** A retiming to begin with: the middle third of a clip so long (seconds) at half speed. */
export function timeOfAll(length: number): { muted: boolean; keys: TimeKey[] } {
  const at = (x: number, y: number): TimeKey => ({
    at: Number((x * length).toFixed(4)),
    shows: Number((y * length).toFixed(4)),
    shape: 'linear',
  })
  return { muted: false, keys: [at(0, 0), at(1 / 3, 1 / 3), at(2 / 3, 1 / 2), at(1, 5 / 6)] }
}

/** Put a shaping's box about what comes to it: over the whole clip, or at a frame. Returns whether anybody was there. */
export async function takeBox(effect: OpenEffect, uid: string, frame: number, whole: boolean): Promise<boolean> {
  const box = await api.bounds(effect.plain(), { emitter: effect.emitter.uid, shaping: uid, frame, whole })
  const list = effect.emitter.shaping ?? []
  if (!box.middle) return false
  effect.edit(
    whole ? 'Take the bounds of the clip' : 'Take the bounds of this frame',
    effect.inEmitter(['shaping']),
    list.map((each) => (each.uid === uid ? { ...each, ...within(box, each) } : each)),
  )
  return true
}

/** Add a shaping; one with a box gets that of the whole clip, where the effect can be played. Returns its uid. */
export async function addShaping(effect: OpenEffect, what: AddSpec, frame: number): Promise<string> {
  const value = what.value as Shaping
  if (!value.middle || !value.size) return addTo(effect, what)
  const { emitter } = effect
  const emitters = effect.document.emitters.map((each) =>
    each.uid === emitter.uid ? { ...each, shaping: [...(emitter.shaping ?? []), value] } : each,
  )
  const asked = { emitter: emitter.uid, shaping: value.uid, frame, whole: true }
  const box = await api.bounds({ ...effect.plain(), emitters }, asked).catch(() => null)
  return addTo(effect, what, box ? within(box, value) : {})
}
