/** Where somebody was in an effect, kept for this window: a reload, or the way back from the Library, finds it again. */
import { keep, kept } from '../controls/kept'
import type { View } from './selection.svelte'

export type Seen = {
  frame: number
  emitter: string
  view: View
  response: string | null
  standing: { position: number[]; target: number[] } | null
}
const name = (id: number) => `kagero.seen.${id}`

export const lastSeen = {
  of(id: number): Seen | null {
    return kept<Seen | null>(name(id), null, sessionStorage)
  },
  keep(id: number, seen: Seen): void {
    keep(name(id), seen, sessionStorage)
  },
}
