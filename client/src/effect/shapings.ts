/** The boxes of shapings: made from where particles are, as numbers that stay. */
import { api } from '../wire/api'
import type { AddSpec, Bounds, Clip, Loop, Shaping, TimeKey } from '../wire/types'
import { addTo } from './edits'
import type { OpenEffect } from './open.svelte'

type Addition = { label: string; group: string; help: string; act: () => void }

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

/** A loop to begin with: the whole clip. */
export function loopOfAll({ first_frame, last_frame, frame_rate }: Clip): Loop {
  const last = Math.max(last_frame, first_frame + 1)
  const quarter = ((last - first_frame) * frame_rate[1]) / frame_rate[0] / 4
  return { muted: false, first: first_frame, last, way: 'matched', over: Number(Math.min(0.5, quarter).toFixed(4)) }
}

/** What can be added for the whole effect, once each. length: of the clip, seconds. */
export function ofAll(effect: OpenEffect, length: number): Addition[] {
  const { document } = effect
  const group = 'the whole effect'
  const retiming = {
    label: 'Retiming of all',
    group,
    help: 'Particles, props, cameras and lights at other times: slower, faster, held or backwards.',
    act: () => effect.edit('Retime the whole effect', ['retiming'], timeOfAll(length)),
  }
  const loop = {
    label: 'Loop of all',
    group,
    help: 'A window of the clip again and again, of all emitters that have no loop of their own.',
    act: () => effect.edit('Loop the whole effect', ['loop'], loopOfAll(document.clip)),
  }
  return [...(document.retiming ? [] : [retiming]), ...(document.loop ? [] : [loop])]
}

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
