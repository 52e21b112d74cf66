/** Discs with coverage (1 - q²)² from where they are full, as the core paints them (kagero/core/picture/soft_disc.py). */
import { COMMON, type StageLook } from './look'

export const softDisc: StageLook = {
  kind: 0,
  slots: [
    ...COMMON,
    { column: 'hardness', width: 1, at: ['h', 6], fallback: 0 },
    { column: 'stretch', width: 1, at: ['h', 7], fallback: 1 },
  ],
}

export default softDisc
