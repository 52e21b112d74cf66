/** Which response is open in the response editor, and which key of it. */
import type { PlacedRow } from './catalog'
import type { Catalog } from './catalog'
import type { OpenEffect } from './open.svelte'
import type { Response } from '../wire/types'

export class Selection {
  uid = $state<string | null>(null)
  key = $state(0)
  /** Whether the editor looks at the frame on screen or at the whole clip. */
  over = $state<'frame' | 'clip'>('frame')

  constructor(
    private effect: OpenEffect,
    private catalog: Catalog,
  ) {}

  readonly found = $derived.by((): { placed: PlacedRow; response: Response; index: number } | null => {
    if (!this.uid) return null
    for (const placed of this.catalog.rowsOf(this.effect.emitter)) {
      const index = (placed.row.responses ?? []).findIndex((r) => r.uid === this.uid)
      if (index >= 0) return { placed, response: placed.row.responses![index], index }
    }
    return null
  })

  select(uid: string | null): void {
    if (uid !== this.uid) this.key = 0
    this.uid = uid
  }
}
