/** Props as edits: made of what the core offers, with names and uids of their own. */
import { formulaName } from '../effect/edits'
import type { OpenEffect } from '../effect/open.svelte'
import { withUids } from '../effect/path'
import type { AddSpec, Effect, Prop } from '../wire/types'

/** Return a new prop, as the core offers it; more: what else it has. Throws, in words, where it lacks what it would be of. */
export function newProp(effect: Effect, add: AddSpec, more: Record<string, unknown> = {}): Prop {
  if (add.why) throw new Error(add.why)
  const result = withUids(structuredClone(add.value) as Prop)
  return { ...result, ...more, name: freeName(effect, result.name) }
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
  effect.heldUid = prop.uid
}

/** What says where a prop stands, how it is shown and what it is made of: its geometry is the same with another. */
const NOT_ITS_FORM = new Set([
  ...['uid', 'name', 'group', 'position', 'rotation', 'scale', 'follow', 'dissolve', 'seen_from', 'seen_until'],
  ...['shown', 'tint', 'in_pictures', 'lit', 'casts', 'catches', 'roughness', 'metal', 'glow', 'covering', 'laid_by'],
  ...['rough_by', 'rough_from', 'rough_to', 'glow_by', 'glow_from', 'glow_to'],
])

/** Return what a prop's geometry depends on: equal for props that look alike in their own space. */
export function geometryKey(prop: Prop): string {
  if (prop.kind === 'mask') return 'mask'
  return JSON.stringify(Object.entries(prop).filter(([name]) => !NOT_ITS_FORM.has(name)))
}
