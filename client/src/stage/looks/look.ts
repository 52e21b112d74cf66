/**
 * How a look is drawn on the stage: a namesake of its module in kagero/core/parts/looks and kagero/core/picture. Its columns go into a float and
 * a half texture, so many texels a particle (`FLOATS`, `HALVES`), from which one shader draws all looks, in order of depth.
 *
 * slots: where each of its columns stands, `f` or `h`, and which number there; kind: its number in the table of looks. The floats begin with x, y, z
 * and size, the halves with red, green, blue and opacity, then cover, rotation, and two of its own.
 */
export type Slot = { column: string; width: number; at: readonly ['f' | 'h', number]; fallback: number }
export type StageLook = { kind: number; slots: readonly Slot[] }

/** How many numbers a particle has in each texture. */
export const FLOATS = 16
export const HALVES = 32
/** As many halves as looks without pictures need. */
export const FEW_HALVES = 8
/** As many floats as looks without bodies need. */
export const FEW_FLOATS = 8

export const COMMON: readonly Slot[] = [
  { column: 'size', width: 1, at: ['f', 3], fallback: 0 },
  { column: 'colour', width: 3, at: ['h', 0], fallback: 1 },
  { column: 'opacity', width: 1, at: ['h', 3], fallback: 1 },
  { column: 'cover', width: 1, at: ['h', 4], fallback: 1 },
  { column: 'rotation', width: 1, at: ['h', 5], fallback: 0 },
  { column: 'soft', width: 1, at: ['h', 19], fallback: 0 },
]
