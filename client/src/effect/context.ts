/** What a Desk's parts share: the open effect, its player, the catalog, what is selected. A part used outside a Desk throws. */
import { getContext, setContext } from 'svelte'
import type { Catalog } from './catalog.svelte'
import type { PickedLife } from './onelife.svelte'
import type { OpenEffect } from './open.svelte'
import type { Overlay } from './overlay.svelte'
import type { Presets } from './presets.svelte'
import type { Player } from './player.svelte'
import type { Room } from './room.svelte'
import type { Selection } from './selection.svelte'

export type Desk = {
  draft: OpenEffect
  player: Player
  catalog: Catalog
  selection: Selection
  overlay: Overlay
  presets: Presets
  picked: PickedLife
  room: Room
}
const KEY = Symbol('desk')

export function provideDesk(desk: Desk): Desk {
  return setContext(KEY, desk)
}

export function useDesk(): Desk {
  const desk = getContext<Desk | undefined>(KEY)
  if (!desk) throw new Error('this part belongs on a Desk')
  return desk
}
