/** Reads packets that are nothing but arrays: geometry and pictures (docs/FORMATS.md). */

const MAGIC = 0x3150474b // "KGP1"

/** A prop's geometry in its own space. */
export type Geometry = {
  shape: 'mesh' | 'path' | 'points' | 'camera' | 'none'
  words: string
  faces?: number
  length?: number
  low?: number[]
  high?: number[]
  points?: Float32Array
  normals?: Float32Array
  uv?: Float32Array
  indices?: Uint32Array
  tints?: Float32Array
  /** Whether there is any u and v. */
  uv_there?: boolean
  /** A material's picture, RGBA, its size, and which triangles show it. */
  pixels?: Uint8Array
  pixelSize?: [width: number, height: number]
  pictured?: Float32Array
  frames?: Float32Array
  times?: Float32Array
}

/** Return the arrays of a packet of geometry or of a picture. */
export function readArrays(buffer: ArrayBuffer): { header: Record<string, unknown>; arrays: Record<string, Float32Array | Uint32Array | Uint8Array> } {
  const view = new DataView(buffer)
  if (buffer.byteLength < 12 || view.getUint32(0, true) !== MAGIC) throw new Error('no packet')
  const headerLength = view.getUint32(8, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 12, headerLength)))
  const arrays: Record<string, Float32Array | Uint32Array | Uint8Array> = {}
  for (const [name, { type, shape, offset }] of Object.entries(header.arrays as Record<string, { type: string; shape: number[]; offset: number }>)) {
    const length = shape.reduce((a, b) => a * b, 1)
    const Kind = type === '<f4' ? Float32Array : type === '<u4' ? Uint32Array : Uint8Array
    arrays[name] = new Kind(buffer, 12 + headerLength + offset, length)
    if (name === 'pixels') header.pixelSize = [shape[1], shape[0]]
  }
  return { header, arrays }
}
