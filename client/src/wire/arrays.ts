/** Reads packets that are nothing but arrays: geometry and pictures (docs/FORMATS.md). */
import { unpack, type PacketArray } from './codec'

/** A prop's geometry in its own space. */
export type Geometry = {
  shape: 'mesh' | 'path' | 'points' | 'camera' | 'light' | 'none'
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
  /** Of each triangle how rough it is, how much metal, and its own light; pictures that these are times, and which of them (bits 1, 2). */
  surfaces?: Float32Array
  mapped?: Float32Array
  rough_pixels?: Uint8Array
  roughSize?: [width: number, height: number]
  glow_pixels?: Uint8Array
  glowSize?: [width: number, height: number]
  frames?: Float32Array
  times?: Float32Array
}

/** Return the arrays of a packet of geometry or of a picture. */
export function readArrays(buffer: ArrayBuffer): {
  header: Record<string, unknown>
  arrays: Record<string, PacketArray>
} {
  const { header, arrays } = unpack(buffer)
  for (const [name, size] of [
    ['pixels', 'pixelSize'],
    ['rough_pixels', 'roughSize'],
    ['glow_pixels', 'glowSize'],
  ])
    if (header.arrays[name]) header[size] = [header.arrays[name].shape[1], header.arrays[name].shape[0]]
  return { header, arrays }
}

/** One sheet of pictures: see kagero/core/geometry/sheet.py. texels: RGBA, sRGB times alpha; plates: x, y, width, height of each level. */
export type Sheet = {
  across: number
  levels: number
  cells: number
  width: number
  texels: Uint8Array
  plates: Float32Array
}
/**
 * Forms: see kagero/core/geometry/forms. start: where each form's triangles begin, and the end; box: lowest and highest corner of each;
 * corners: of each triangle three times place, normal and (u, v); tint: of each linear colour, and 1 where the picture shows.
 */
export type Forms = { start: number[]; box: number[][]; corners: Float32Array; tint: Float32Array }
/** What a look is drawn with: its pictures, their motion, what cuts them out, what is mixed in; and its forms. opaque: whether its pictures hide all. */
export type LookSheets = {
  key: string
  aspect: number
  reach: number
  opaque: boolean
  sheets: (Sheet | null)[]
  forms?: Forms
}

/** Return what looks are drawn with, from a packet of sheets. */
export function readSheets(buffer: ArrayBuffer): LookSheets[] {
  const { header, arrays } = unpack(buffer)
  return (header.looks as LookSheets[]).map((look, n) => ({
    ...look,
    forms: look.forms && {
      ...look.forms,
      corners: arrays[`corners.${n}`] as Float32Array,
      tint: arrays[`tint.${n}`] as Float32Array,
    },
    sheets: look.sheets.map((sheet, i) =>
      sheet
        ? {
            ...sheet,
            width: header.arrays[`texels.${n}.${i}`].shape[1],
            texels: arrays[`texels.${n}.${i}`] as Uint8Array,
            plates: arrays[`plates.${n}.${i}`] as Float32Array,
          }
        : null,
    ),
  }))
}
