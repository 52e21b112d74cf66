/** What particles have, by columns: asked of the core. */
import { api } from '../wire/api'
import type { Table } from '../wire/types'
import type { OpenEffect } from './open.svelte'

/** Return what the particles of the emitter that is looked at have at a frame, none of their values. */
export async function attributesOf(draft: OpenEffect, frame: number): Promise<Table['columns']> {
  const wish = { emitter: draft.emitter.uid, frame, sort: '', descending: false, filters: [], first: 0, count: 0 }
  return (await api.table(draft.plain(), wish)).columns
}
