/** Reads frame packets (docs/FORMATS.md, Frame packets) from a streamed response. */
import { refusal, Unreachable } from './api'
import type { Effect } from './types'

export type Spread = [number, number, number]
export type Distribution = { low: number; high: number; below: number; above: number; bins: number[]; results?: number[] }
export type Measure = {
  count: number
  rows: Record<string, { spread: Spread[] | null; swatches?: [number, number, number][] }>
  responses: Record<string, Distribution>
}
export type Course = { low: number[]; mean: number[]; high: number[] }
export type Profile = Measure & { lives: Record<string, Course[]>; lifespan: Spread | null }
export type Fault = { row: string; count: number; key: string }

export type FramePacket = {
  type: 'frame'
  frame: number
  seconds: number
  emitters: { uid: string; count: number; faults: Fault[]; measure?: Measure; position: Float32Array; size: Float32Array; light: Uint16Array }[]
}
export type ClipPacket = { type: 'clip'; first: number; last: number; emitters: { uid: string; counts: (number | null)[]; profile: Profile }[] }
export type Packet = FramePacket | ClipPacket

const MAGIC = 0x3150474b // "KGP1"

/** Return the packet in a buffer, its arrays as views of it. Throws when the bytes are no packet. */
export function readPacket(buffer: ArrayBuffer): Packet {
  const view = new DataView(buffer)
  if (buffer.byteLength < 12 || view.getUint32(0, true) !== MAGIC || view.getUint32(4, true) !== buffer.byteLength) throw new Error('no frame packet')
  const headerLength = view.getUint32(8, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 12, headerLength)))
  if (header.type !== 'frame') return header as ClipPacket
  const start = 12 + headerLength
  const array = (name: string) => {
    const { type, shape, offset } = header.arrays[name] as { type: string; shape: number[]; offset: number }
    const length = shape.reduce((a, b) => a * b, 1)
    return type === '<f4' ? new Float32Array(buffer, start + offset, length) : new Uint16Array(buffer, start + offset, length)
  }
  header.emitters.forEach((emitter: Record<string, unknown>, i: number) => {
    for (const name of ['position', 'size', 'light']) emitter[name] = array(`${name}.${i}`)
  })
  return header as FramePacket
}

/** Cuts a stream of bytes into packets. */
export class PacketCutter {
  private waiting: Uint8Array[] = []
  private held = 0

  /** Take bytes in; return the packets they complete. */
  push(bytes: Uint8Array): ArrayBuffer[] {
    this.waiting.push(bytes)
    this.held += bytes.length
    const packets: ArrayBuffer[] = []
    while (this.held >= 12) {
      const head = this.peek(8)
      const length = new DataView(head.buffer, head.byteOffset).getUint32(4, true)
      if (length < 12) throw new Error('no frame packet')
      if (this.held < length) break
      packets.push(this.take(length))
    }
    return packets
  }

  private peek(length: number): Uint8Array {
    if (this.waiting[0].length < length) this.waiting = [join(this.waiting, this.held)]
    return this.waiting[0]
  }

  private take(length: number): ArrayBuffer {
    const result = new Uint8Array(length)
    let filled = 0
    while (filled < length) {
      const first = this.waiting[0]
      const part = Math.min(first.length, length - filled)
      result.set(first.subarray(0, part), filled)
      filled += part
      if (part === first.length) this.waiting.shift()
      else this.waiting[0] = first.subarray(part)
    }
    this.held -= length
    return result.buffer
  }
}

function join(parts: Uint8Array[], length: number): Uint8Array {
  const whole = new Uint8Array(length)
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}

/** Play a document: yields its packets, the frame `now` first. Throws Refused, Unreachable, or AbortError on `signal`. */
export async function* play(document: Effect, window: string, now: number, whole: boolean, signal: AbortSignal): AsyncGenerator<Packet> {
  let response
  try {
    response = await fetch('/api/play', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ window, document, now, whole }),
      signal,
    })
  } catch (problem) {
    if (signal.aborted) throw problem
    throw new Unreachable(String(problem))
  }
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
  const cutter = new PacketCutter()
  const reader = response.body!.getReader()
  try {
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      for (const packet of cutter.push(value)) yield readPacket(packet)
    }
  } finally {
    reader.cancel().catch(() => undefined)
  }
}
