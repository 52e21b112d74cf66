/** Ranges that were fitted to what particles have: which of them have not followed what that comes from, and how they are fitted again. */
import type { Distribution } from '../wire/packets'
import type { Response } from '../wire/types'
import type { Catalog, PlacedRow } from './catalog.svelte'
import { responsePath } from './edits'
import type { OpenEffect } from './open.svelte'
import { put } from './path'

/** Whether what a response's range was fitted to has changed since. */
export const outgrown = (response: Response, fittedTo: string): boolean =>
  !!response.fitted && !!fittedTo && response.fitted !== fittedTo

export interface Outgrown {
  placed: PlacedRow
  index: number
  response: Response
}
/** Return the responses of the open emitter or prop whose range was fitted to what has changed since. */
export function outgrownIn(draft: OpenEffect, catalog: Catalog): Outgrown[] {
  const now = catalog.fittedTo(draft.owner)
  return catalog
    .allRows(draft.owner)
    .flatMap((placed) => (placed.row.responses ?? []).map((response, index) => ({ placed, index, response })))
    .filter(({ response }) => outgrown(response, now))
}

/** Return a response fitted to what its source has: the range as wide, in the direction it has, or the mean that a proportion goes by. */
export function fitted(response: Response, data: Pick<Distribution, 'low' | 'high' | 'mean'>, fittedTo: string) {
  if (response.kind === 'ratio') return { ...response, reference: data.mean, fitted: fittedTo }
  const rises = response.input[0] <= response.input[1]
  return {
    ...response,
    input: (rises ? [data.low, data.high] : [data.high, data.low]) as [number, number],
    fitted: fittedTo,
  }
}

/** Fit ranges again, as one edit; those of which nothing is known yet stay. Returns how many were fitted. */
export function fitAgain(
  draft: OpenEffect,
  catalog: Catalog,
  those: Outgrown[],
  known: (response: Response) => Pick<Distribution, 'low' | 'high' | 'mean'> | undefined,
): number {
  const now = catalog.fittedTo(draft.owner)
  const ranges = those.flatMap(({ placed, index, response }) => {
    const data = known(response)
    return data ? [{ path: draft.inEmitter(responsePath(placed, index)), value: fitted(response, data, now) }] : []
  })
  const changed = ranges.reduce((document, { path, value }) => put(document, path, value), draft.document)
  if (ranges.length) draft.replace(changed, `Fit ${ranges.length === 1 ? 'a range' : `${ranges.length} ranges`} again`)
  return ranges.length
}

/** Keep ranges as they are, as if they had been fitted to what is there now. */
export function keepRanges(draft: OpenEffect, catalog: Catalog, those: Outgrown[]): void {
  const now = catalog.fittedTo(draft.owner)
  const changed = those.reduce(
    (document, { placed, index }) => put(document, draft.inEmitter([...responsePath(placed, index), 'fitted']), now),
    draft.document,
  )
  draft.replace(changed, those.length === 1 ? 'Leave a range as it is' : `Leave ${those.length} ranges as they are`)
}
