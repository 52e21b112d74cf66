/** Colours for values, low to high, in linear light. */
export const RAMP_STOPS: [number, number, number][] = [
  [0.012, 0.06, 0.075],
  [0.1, 0.38, 0.38],
  [0.84, 0.78, 0.69],
  [0.85, 0.3, 0.06],
  [0.8, 0.1, 0.03],
]
