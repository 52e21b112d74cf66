/** Reads frame packets (docs/FORMATS.md, Frame packets) from a streamed response. */
import { refusal, Unreachable } from './api'
import { unpack } from './codec'
import type { Effect, Picked } from './types'

export type Spread = [number, number, number]
export type Distribution = {
  low: number
  mean: number
  high: number
  below: number
  above: number
  bins: number[]
  /** Counts of results over `reach`, and their smallest and largest. */
  results?: number[]
  reach?: [number, number]
  result?: [number, number]
  /** Over the clip only: why it does nothing, or empty. */
  quiet?: string
}
/** How what a cue looks at is spread, and which share of all its comparison holds for. */
export type Compared = { low: number; high: number; bins: number[]; side: 'above' | 'below'; passes: number }
export type Measure = {
  count: number
  rows: Record<string, { spread: Spread[] | null; swatches?: [number, number, number][] }>
  responses: Record<string, Distribution>
  draws: Record<string, { low: number; high: number; bins: number[] }>
  own: Record<string, Spread[]>
  /** Of each formula by its uid: its named steps, and its result under "", a spread a component. */
  formulas: Record<string, Record<string, Spread[]>>
  /** What cues compare, by the cue's uid and the field of the row that is looked at. */
  tests?: Record<string, Compared>
  /** By the uid of each push, how strongly it acts in the mean, m/s². */
  pushes?: Record<string, number>
}
/** The picked particle's own values. */
export type One = {
  key: string
  rows: Record<string, number[]>
  sources: Record<string, number>
  results: Record<string, number>
  formulas: Record<string, Record<string, number[]>>
  /** By the uid of each push, what it does to the particle, m/s². */
  pushes?: Record<string, [number, number, number]>
}
export type Course = { low: number[]; mean: number[]; high: number[] }
export type Profile = Measure & { lives: Record<string, Course[]>; lifespan: Spread | null }
export type Fault = { row: string; count: number; key: string }

/** A column of a look: 32-bit numbers, half floats as 16 bits each, or bytes. */
export type Column = Float32Array | Uint16Array | Uint8Array

/**
 * An emitter's particles in one of its looks. drawing: what of the look is the same for all; first: its columns are those of the emitter; places: how many
 * places the lines have that they are drawn along, -1 where they are spots; joined: whether each is joined to the next.
 */
export type DrawnLayer = {
  drawing: Record<string, unknown>
  defaults: Record<string, number>
  first: boolean
  places: number
  columns?: Record<string, Column>
  points?: Float32Array
  joined?: Uint8Array
  across?: Uint16Array
  /** Of a surface that particles make together: its points' normals, colours and opacity, its triangles, and how much of it hides what is behind. */
  normals?: Uint16Array
  tints?: Uint16Array
  faces?: Uint32Array
  /** Where a picture lies on it. */
  uv?: Float32Array
  cover?: number
  /** Of what particles make of space: densities in half floats, x fastest, so many along x, y and z, from where on and how far apart, metres. */
  grid?: Uint16Array
  counts?: [number, number, number]
  low?: [number, number, number]
  cell?: number
  adding?: boolean
}

export type DrawnEmitter = {
  uid: string
  count: number
  faults: Fault[]
  /** Of the look: absent where the look was not sent. */
  look_faults?: Fault[]
  /** What its places, and what all else that is drawn, depend on: equal names mean equal arrays. */
  motion: string
  look: string
  measure?: Measure
  /** Of one that is retimed or goes round, the simulated time that is seen, clip seconds. */
  seen?: number
  /** Of one that goes round: how many cannot be carried over its seam, and how many further frames of run-up would let them. */
  lacks?: [target: number, frames: number]
  /** Why nobody of it is seen, and the row that says so; of those who live, where the look was sent. */
  unseen?: [words: string, row: string]
  /** Index of the picked particle, and what it has. */
  picked?: number
  one?: One
  shade?: [number, number] | null
  position: Float32Array
  /** What the look gives, by column; of those left out, what they are for all (`defaults`). */
  columns: Record<string, Column>
  defaults?: Record<string, number>
  /** The looks that it is drawn in; and the key of the sheets of each one's pictures, empty without. */
  layers?: DrawnLayer[]
  sheets?: string[]
  /** Where its particles light: place, colour, reach of the brightest; and how many there are. */
  lamps?: number[][]
  lights?: number
  /** Of each look whose picture is thrown by a camera: its rows from the world to right, up and back, and the tangent of half of its view. */
  thrown?: (number[] | null)[]
  /** Why discs stand in for pictures that are not here. */
  stands_in?: string
  shades?: Float32Array
  /** Where cues happened lately: x, y, z, which cue, how many frames ago of each; and where particles touch a contact: x, y, z. */
  happened?: Float32Array
  touching?: Float32Array
  /** What is shown of each as lines, in half floats: a velocity, or how it is turned. */
  lines?: Uint16Array
}
/**
 * A prop at a frame: its matrix by rows; a camera's view (radians), the time of a mesh's own animation, a mask's extent (metres);
 * how far each point of its fine geometry is gone (0..255), and the field to show there with what it spans; carries: 1 where the
 * first belongs to it, 2 where the second does, whether they were sent along or not.
 */
export type Extent = { radius: number; size: number[]; falloff: number; within?: number }
export type DrawnProp = {
  uid: string
  place: number[]
  field_of_view?: number
  clock?: number
  /** Of a picture: a short name for what it shows. */
  picture?: string
  /** How rough it is, how much metal, how much it glows, where it is not matte; and what throws its picture: a camera's rows and tangent. */
  surface?: number[]
  thrown?: number[]
  measure?: Measure
  extent?: Extent
  carries?: number
  /** False before the moment from which it is seen, and after that until which it is. */
  seen?: boolean
  gone?: Uint8ClampedArray
  field?: [number, number]
  fields?: Float32Array
}
/** What is done to the picture at a frame, as numbers to do it with; of the frame the values of its rows then, by row and component ("plate_stops.0"). */
export type DoneToPicture = { uid: string; own: Record<string, unknown>; measure?: Measure }
export type FramePacket = {
  type: 'frame'
  frame: number
  seconds: number
  /** The time of the scene that is seen, where the whole effect is retimed or goes round. */
  scene?: number
  emitters: DrawnEmitter[]
  props?: DrawnProp[]
  picture?: DoneToPicture[]
  /** Light props: place or way, colour, reach, what each is, which way it shines, the cosines of its cone. */
  lights?: number[][]
  /** How many frames were simulated so far for what was asked. */
  simulated?: number
  /** Whether places about a mask tell its value there, and these: x, y, z, value of each. */
  about?: boolean
  around?: Float32Array
}
export type Portrait = { width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer> }
/** How many appear, or are gone, in full sight from one frame to the next, of how many; frame: where most do. */
export type Pops = { count: number; of: number; frame: number | null }
/** Who pops, who lives on unseen (shares of all particles at all frames; after: once seen), and over which share of a life they would not. */
export type Passing = { appears: Pops; goes: Pops; cut: Pops; unseen: number; after: number; share: number }
export type ClipPacket = {
  type: 'clip'
  first: number
  last: number
  /** fired: of each cue the frames at which it happened, and how often. */
  emitters: {
    uid: string
    counts: (number | null)[]
    profile: Profile
    portrait: Portrait
    fired: Record<string, [frame: number, count: number][]>
    /** null: nobody was there. */
    passing: Passing | null
  }[]
}
export type Packet = FramePacket | ClipPacket

/** Return the packet in a buffer, its arrays as views of it. Throws when the bytes are no packet. */
export function readPacket(buffer: ArrayBuffer): Packet {
  const { header, arrays } = unpack(buffer)
  const emitters = header.emitters as Record<string, unknown>[]
  if (header.type !== 'frame') {
    emitters.forEach((emitter, i) => {
      const [height, width] = header.arrays[`portrait.${i}`].shape
      const pixels = arrays[`portrait.${i}`]
      emitter.portrait = { width, height, pixels: new Uint8ClampedArray(buffer, pixels.byteOffset, pixels.length) }
    })
    return header as unknown as ClipPacket
  }
  const props = (header.props ?? []) as Record<string, unknown>[]
  for (const [name, array] of Object.entries(arrays)) {
    const [what, ...rest] = name.split('.')
    const index = Number(rest.at(-1))
    if (what === 'look') {
      const emitter = emitters[index]
      emitter.columns ??= {}
      ;(emitter.columns as Record<string, unknown>)[rest[0]] = array
    } else if (what === 'layer') {
      const layer = (emitters[index].layers as DrawnLayer[])[Number(rest[0])]
      const own = rest[1]
      if (['points', 'joined', 'across', 'normals', 'tints', 'faces', 'uv', 'grid'].includes(own))
        layer[own as 'points'] = array as never
      else (layer.columns ??= {})[own] = array as Column
    } else if (what === 'position') emitters[index].position = array
    else if (what === 'happened') emitters[index].happened = array
    else if (what === 'touching') emitters[index].touching = array
    else if (what === 'line') emitters[index].lines = array
    else if (what === 'shade') emitters[index].shades = array
    else if (what === 'gone') props[index].gone = new Uint8ClampedArray(buffer, array.byteOffset, array.length)
    else if (what === 'field') props[index].fields = array
    else if (what === 'around') (header as Record<string, unknown>).around = array
  }
  return header as unknown as FramePacket
}

/** An emitter's frames that are here, by what they depend on. */
export type HeldFrames = { uid: string; motion: string; look: string; first: number; last: number }

/** Return what is held of frames in order, spans of equal ones together. */
export function held(frames: Iterable<FramePacket>): HeldFrames[] {
  const spans: HeldFrames[] = []
  const open = new Map<string, HeldFrames>()
  for (const packet of frames) {
    for (const { uid, motion, look } of packet.emitters) {
      const last = open.get(uid)
      if (last && last.last === packet.frame - 1 && last.motion === motion && last.look === look)
        last.last = packet.frame
      else {
        const span = { uid, motion, look, first: packet.frame, last: packet.frame }
        spans.push(span)
        open.set(uid, span)
      }
    }
  }
  return spans.slice(0, 2000)
}

/** Fill in what a packet left out, since it is in an older packet of the same frame. Returns whether all of it was there. */
export function complete(packet: FramePacket, older: FramePacket | undefined): boolean {
  let whole = true
  for (const emitter of packet.emitters) {
    const before = older?.emitters.find((e) => e.uid === emitter.uid)
    if (!emitter.position && before?.motion === emitter.motion) {
      emitter.position = before.position
      emitter.happened = before.happened
      emitter.touching = before.touching
    }
    if (!emitter.columns && before?.look === emitter.look) {
      emitter.columns = before.columns
      emitter.defaults = before.defaults
      emitter.layers = before.layers
      emitter.lamps ??= before.lamps
      emitter.lights ??= before.lights
      emitter.look_faults ??= before.look_faults
      if (emitter.count) emitter.unseen ??= before.unseen
    }
    whole &&= !!emitter.position && !!emitter.columns
  }
  for (const prop of packet.props ?? []) {
    const before = older?.props?.find((p) => p.uid === prop.uid)
    if ((prop.carries ?? 0) & 1) prop.gone ??= before?.gone
    if ((prop.carries ?? 0) & 2) prop.fields ??= before?.fields
    whole &&= (!((prop.carries ?? 0) & 1) || !!prop.gone) && (!((prop.carries ?? 0) & 2) || !!prop.fields)
  }
  if (packet.about) packet.around ??= older?.around
  return whole && (!packet.about || !!packet.around)
}

/** What of a prop is seen, but for what is carried by its points. */
const standing = (p: DrawnProp) => [p.place, p.extent, p.seen, p.clock, p.picture, p.surface, p.thrown]

/** Return whether two packets draw the same picture: the second brought nothing but numbers. */
export function samePicture(a: FramePacket, b: FramePacket): boolean {
  return (
    a.emitters.length === b.emitters.length &&
    a.around === b.around &&
    JSON.stringify(a.props?.map(standing)) === JSON.stringify(b.props?.map(standing)) &&
    JSON.stringify(a.lights) === JSON.stringify(b.lights) &&
    JSON.stringify(a.picture?.map((p) => p.own)) === JSON.stringify(b.picture?.map((p) => p.own)) &&
    (a.props ?? []).every((p, i) => p.gone === b.props?.[i]?.gone && p.fields === b.props?.[i]?.fields) &&
    a.emitters.every((one, i) => {
      const other = b.emitters[i]
      const same =
        one.uid === other.uid &&
        one.sheets?.join() === other.sheets?.join() &&
        JSON.stringify(one.thrown) === JSON.stringify(other.thrown) &&
        one.position === other.position &&
        !one.lines === !other.lines &&
        one.columns === other.columns
      return (
        same && one.picked === other.picked && !one.shades && !other.shades && one.faults.length === other.faults.length
      )
    })
  )
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

/** What to send besides pictures of the frame `now`: see the API. */
export type PlayRequest = {
  window: string
  now: number
  whole: boolean
  facts: boolean
  measured: boolean
  picked: Picked | null
  shade: string
  lines: string
  field: string
  /** Pixels along the axis of the picture of a life. */
  across: number
  /** Whether a hand is dragging: what costs much may be left out. */
  coarse: boolean
  held: HeldFrames[]
}

/** Play a document: yields its packets, the frame `now` first. Throws Refused, Unreachable, or AbortError on `signal`. */
export async function* play(document: Effect, wish: PlayRequest, signal: AbortSignal): AsyncGenerator<Packet> {
  let response
  try {
    response = await fetch('/api/play', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document, ...wish }),
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
