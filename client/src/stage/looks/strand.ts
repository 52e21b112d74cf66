/**
 * Lines that particles are drawn along, piece by piece, as the core paints them (kagero/core/picture/strand.py): a piece goes from one place of a
 * line to the next, and reads both.
 */
import { COMMON, type StageLook } from './look'

export const strand: StageLook = {
  kind: 2,
  slots: [
    ...COMMON,
    { column: 'lies', width: 1, at: ['f', 4], fallback: 0 },
    { column: 'joins', width: 1, at: ['f', 5], fallback: 0 },
    { column: 'hardness', width: 1, at: ['h', 6], fallback: 0.5 },
    { column: 'across', width: 3, at: ['h', 8], fallback: 0 },
  ],
}

/** Return how each place of lines is joined: 1 to the next, 2 to the one before. */
export function joins(joined: Uint8Array): Uint8Array {
  const joins = new Uint8Array(joined.length)
  for (let i = 0; i < joined.length; i++) joins[i] = (joined[i] ? 1 : 0) + (i > 0 && joined[i - 1] ? 2 : 0)
  return joins
}

export default strand
