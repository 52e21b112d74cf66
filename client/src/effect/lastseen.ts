/** Where somebody was in an effect, kept for this window: a reload, or the way back from the Library, finds it again. */
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
    try {
      return JSON.parse(sessionStorage.getItem(name(id)) ?? 'null') as Seen | null
    } catch {
      return null
    }
  },
  keep(id: number, seen: Seen): void {
    sessionStorage.setItem(name(id), JSON.stringify(seen))
  },
}
