/** A made-up Desk: the core's catalog and layout of a small effect, an open document, nothing behind it that answers. */
import { inject } from 'vitest'
import { Catalog } from '../effect/catalog.svelte'
import { OpenEffect } from '../effect/open.svelte'
import { Selection } from '../effect/selection.svelte'
import type { Catalog as CatalogData, Opened } from '../wire/types'

declare module 'vitest' {
  export interface ProvidedContext {
    desk: { catalog: CatalogData; opened: Opened }
  }
}

export function madeUpDesk(change: (opened: Opened) => void = () => {}) {
  const { catalog: data, opened } = structuredClone(inject('desk'))
  change(opened)
  const catalog = new Catalog(data)
  const draft = new OpenEffect(opened)
  catalog.layout = opened.layout
  const selection = new Selection(draft, catalog)
  return { catalog, draft, selection, opened }
}
