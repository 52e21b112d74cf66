/** Reads packets that are nothing but arrays: geometry and pictures (docs/FORMATS.md). */
import { unpack, type PacketArray } from './codec'

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
export function readArrays(buffer: ArrayBuffer): {
  header: Record<string, unknown>
  arrays: Record<string, PacketArray>
} {
  const { header, arrays } = unpack(buffer)
  if (header.arrays.pixels) header.pixelSize = [header.arrays.pixels.shape[1], header.arrays.pixels.shape[0]]
  return { header, arrays }
}
