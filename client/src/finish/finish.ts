/** What is done to the picture, as edits. */
import type { OpenEffect } from '../effect/open.svelte'
import { newUid } from '../effect/path'
import type { AddSpec, Effect, Finish } from '../wire/types'

const items = (document: Effect): Finish[] => document.finish ?? []

/** Return a new item of a kind, under a name that is free. */
function fresh(document: Effect, offer: AddSpec): Finish {
  return {
    ...(structuredClone(offer.value) as unknown as Finish),
    uid: newUid(),
    name: free(document, offer.label.toLowerCase()),
  }
}

function free(document: Effect, name: string): string {
  const taken = items(document).map((each) => each.name)
  if (!taken.includes(name)) return name
  for (let i = 2; ; i++) if (!taken.includes(`${name} ${i}`)) return `${name} ${i}`
}

/** Add an item behind the others, and look at its rows. */
export function addFinish(draft: OpenEffect, offer: AddSpec): void {
  const result = fresh(draft.document, offer)
  draft.edit(`Add ${result.name}`, ['finish'], [...items(draft.document), result])
  draft.heldUid = result.uid
}

/** Put an item into the place of another. */
export function placeFinish(draft: OpenEffect, uid: string, to: number): void {
  const moved = items(draft.document).find((each) => each.uid === uid)
  if (!moved) return
  const rest = items(draft.document).filter((each) => each !== moved)
  rest.splice(Math.min(Math.max(to, 0), rest.length), 0, moved)
  draft.edit(`Move ${moved.name}`, ['finish'], rest)
}

export function muteFinish(draft: OpenEffect, item: Finish): void {
  const index = items(draft.document).indexOf(item)
  draft.edit(
    `${item.muted ? 'Let' : 'Mute'} ${item.name}${item.muted ? ' act' : ''}`,
    ['finish', index, 'muted'],
    !item.muted,
  )
}

export function removeFinish(draft: OpenEffect, item: Finish): void {
  if (draft.heldUid === item.uid) draft.heldUid = null
  draft.edit(
    `Remove ${item.name}`,
    ['finish'],
    items(draft.document).filter((each) => each !== item),
  )
}

export function duplicateFinish(draft: OpenEffect, item: Finish): void {
  const at = items(draft.document).indexOf(item)
  const result = refreshed(item) as Finish
  result.name = free(draft.document, item.name)
  const list = [...items(draft.document)]
  list.splice(at + 1, 0, result)
  draft.edit(`Duplicate ${item.name}`, ['finish'], list)
  draft.heldUid = result.uid
}

/** Return plain data in which every uid that is its own is a new one. */
function refreshed(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(refreshed)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, each]) => [key, key === 'uid' ? newUid() : refreshed(each)]),
  )
}

/** Return what an item acts on, in words. */
export function actsOn(document: Effect, item: Finish): string {
  const names = [
    ...(item.emitters ?? []).map((uid) => document.emitters.find((e) => e.uid === uid)?.name),
    ...(item.props ?? []).map((uid) => document.props.find((p) => p.uid === uid)?.name),
  ].filter((name): name is string => !!name)
  return names.length ? `on ${names.join(', ')}` : ''
}
