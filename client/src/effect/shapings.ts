/** The boxes of shapings: made from where particles are, as numbers that stay. */
import { api } from '../wire/api'
import type { AddSpec, Bounds, Shaping } from '../wire/types'
import { addTo } from './edits'
import type { OpenEffect } from './open.svelte'

const within = (box: Bounds, of: Shaping): Partial<Shaping> =>
  box.middle
    ? ({ middle: { ...of.middle, base: box.middle }, size: { ...of.size, base: box.size } } as Partial<Shaping>)
    : {}

/** Shapings of other emitters that move an emitter's particles too. */
export const fromOthers = ({ document, emitter }: OpenEffect) =>
  document.emitters
    .filter((each) => each.uid !== emitter.uid)
    .flatMap((of) => (of.shaping ?? []).filter((s) => s.everyone && !s.muted).map((shaping) => ({ of, shaping })))

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
  const requested = { emitter: emitter.uid, shaping: value.uid, frame, whole: true }
  const box = await api.bounds({ ...effect.plain(), emitters }, requested).catch(() => null)
  return addTo(effect, what, box ? within(box, value) : {})
}
