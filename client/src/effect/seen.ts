/** Who of an emitter's living is seen in a picture. */
import type { DrawnEmitter } from '../wire/packets'

/** Return how many have a size and an opacity: half floats and bytes are nought as numbers are. */
export function shownOf(drawn: DrawnEmitter): number {
  const rows = ['size', 'opacity'].map((name) => drawn.columns[name]).filter(Boolean)
  const none = ['size', 'opacity'].some((name) => !drawn.columns[name] && drawn.defaults?.[name] === 0)
  if (none) return 0
  let seen = 0
  for (let i = 0; i < drawn.count; i++) if (rows.every((row) => row[i] !== 0 && row[i] !== 0x8000)) seen++
  return seen
}
