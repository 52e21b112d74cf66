/** Packets, as docs/FORMATS.md describes them: a header, and arrays that are viewed in place. */

const MAGIC = 0x3150474b // "KGP1"

export type Entry = { type: string; shape: number[]; offset: number }
export type PacketArray = Float32Array | Uint32Array | Uint16Array | Uint8Array
/** Half floats stay as they are, 16 bits each: the graphics card reads them. */
const KINDS: Record<string, new (buffer: ArrayBuffer, offset: number, length: number) => PacketArray> = {
  '<f4': Float32Array,
  '<u4': Uint32Array,
  '<f2': Uint16Array,
  '<u2': Uint16Array,
  '|u1': Uint8Array,
}

/** Return a packet's header, and its arrays by their names. Throws when the bytes are no packet, or hold a type that is not known. */
export function unpack(buffer: ArrayBuffer): {
  header: Record<string, unknown> & { arrays: Record<string, Entry> }
  arrays: Record<string, PacketArray>
} {
  const view = new DataView(buffer)
  if (buffer.byteLength < 12 || view.getUint32(0, true) !== MAGIC || view.getUint32(4, true) !== buffer.byteLength)
    throw new Error('no packet')
  const headerLength = view.getUint32(8, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 12, headerLength)))
  const arrays: Record<string, PacketArray> = {}
  for (const [name, { type, shape, offset }] of Object.entries(header.arrays as Record<string, Entry>)) {
    const Kind = KINDS[type]
    if (!Kind) throw new Error(`no array of ${type}`)
    arrays[name] = new Kind(
      buffer,
      12 + headerLength + offset,
      shape.reduce((a, b) => a * b, 1),
    )
  }
  return { header, arrays }
}
