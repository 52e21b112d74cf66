/** Colours for values, low to high, in linear light. */
export const RAMP_STOPS: [number, number, number][] = [
  [0.012, 0.06, 0.075],
  [0.1, 0.38, 0.38],
  [0.84, 0.78, 0.69],
  [0.85, 0.3, 0.06],
  [0.8, 0.1, 0.03],
]

/** Return the colour of a value from 0 to 1, linear light. */
export function rampAt(value: number): [number, number, number] {
  const at = Math.min(Math.max(value, 0), 1) * (RAMP_STOPS.length - 1)
  const k = Math.min(Math.floor(at), RAMP_STOPS.length - 2)
  return RAMP_STOPS[k].map((c, i) => c + (RAMP_STOPS[k + 1][i] - c) * (at - k)) as [number, number, number]
}
