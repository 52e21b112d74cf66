/** Pictures on particles, as the core paints them (kagero/core/picture/picture.py). */
import { COMMON, type StageLook } from './look'

export const picture: StageLook = {
  kind: 1,
  slots: [
    ...COMMON,
    { column: 'wide', width: 1, at: ['h', 6], fallback: 1 },
    { column: 'tall', width: 1, at: ['h', 7], fallback: 1 },
    { column: 'page', width: 1, at: ['f', 4], fallback: 0 },
    { column: 'offset', width: 2, at: ['f', 5], fallback: 0 },
    { column: 'tiles', width: 2, at: ['h', 8], fallback: 1 },
    { column: 'turned', width: 1, at: ['h', 10], fallback: 0 },
    { column: 'turn', width: 4, at: ['h', 28], fallback: 0 },
    { column: 'mix', width: 1, at: ['h', 11], fallback: 0 },
    { column: 'cut', width: 3, at: ['h', 12], fallback: 0 },
    { column: 'toned', width: 1, at: ['h', 15], fallback: 0 },
    { column: 'rim_colour', width: 3, at: ['h', 16], fallback: 1 },
    { column: 'dark', width: 3, at: ['h', 20], fallback: 0 },
    { column: 'bright', width: 3, at: ['h', 24], fallback: 1 },
  ],
}

export default picture
