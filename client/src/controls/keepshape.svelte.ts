/** Whether two sides are changed together, so that the shape of what they are the sides of stays. */
export const shape = $state({ kept: false })

/** Return the other side where one goes from `before` to `value` and their proportion stays, held to its bounds; whole numbers of pixels. */
export function inProportion(other: number, before: number, value: number, lowest: number, highest: number): number {
  if (!(before > 0)) return other
  return Math.min(Math.max(Math.round((other * value) / before), lowest), highest)
}
