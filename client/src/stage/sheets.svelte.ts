/** The sheets of pictures that looks are drawn with, fetched as frames ask for them. */
import type { FramePacket } from '../wire/packets'
import { api } from '../wire/api'
import type { Effect } from '../wire/types'
import type { LookSheets } from '../wire/arrays'

const KEPT = 24 // looks whose sheets are kept

export class Sheets {
  /** How many have come: who draws with them draws anew. */
  arrived = $state(0)
  private known = new Map<string, LookSheets>()
  private asking = false
  private next: [Effect, FramePacket] | null = null
  private last = new Map<string, string>()

  /** Return what a look is drawn with. */
  of = (key: string): LookSheets | undefined => this.known.get(key)

  /** Return whether all of some sheets are here. */
  all = (keys: readonly string[] = []): boolean => keys.every((key) => !key || this.known.has(key))

  /** Return a packet that is drawn with what is here: where its own sheets are on their way, with those that its emitter had before. */
  ready(packet: FramePacket): FramePacket {
    let late = false
    const emitters = packet.emitters.map((emitter) => {
      if (!emitter.sheets) return emitter
      const sheets = emitter.sheets.map((key, n) => {
        const place = `${emitter.uid} ${n}`
        if (!key || this.known.has(key)) {
          this.last.set(place, key)
          return key
        }
        late = true
        return this.last.get(place) ?? ''
      })
      return { ...emitter, sheets }
    })
    return late ? { ...packet, emitters } : packet
  }

  /** Fetch what a packet needs and is not here; one call at a time, and then for the newest packet. */
  async ask(document: Effect, packet: FramePacket): Promise<void> {
    if (packet.emitters.every((each) => this.all(each.sheets))) return
    if (this.asking) {
      this.next = [document, packet]
      return
    }
    this.asking = true
    try {
      const result = await api.sheets(document, packet.frame, [...this.known.keys()])
      for (const look of result) this.known.set(look.key, look)
      while (this.known.size > KEPT) this.known.delete(this.known.keys().next().value!)
      if (result.length) this.arrived++
    } catch {
      // discs stand in until the next frame asks again
    } finally {
      this.asking = false
      const next = this.next
      this.next = null
      if (next) void this.ask(...next)
    }
  }
}
