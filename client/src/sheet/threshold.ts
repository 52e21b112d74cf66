/** What a cue compares, drawn: how far the drawing spans, and how many pass a value. */
import type { Compared } from '../wire/packets'

/** Return from where to where spreads are drawn, so that the value has its place there too. */
export function spanOf(spreads: readonly Compared[], value: number | null): { low: number; high: number } {
  const all = spreads.flatMap((each) => [each.low, each.high])
  if (value !== null) all.push(value)
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const edge = (high - low || 1) * 0.03
  return { low: low - edge, high: high + edge }
}

/** Return which share of those counted in a spread passes a value, as near as its bins tell. */
export function passing(spread: Compared, value: number): number {
  const total = spread.bins.reduce((sum, bin) => sum + bin, 0)
  if (!total) return 0
  const share = ((value - spread.low) / (spread.high - spread.low || 1)) * spread.bins.length
  const below = spread.bins.reduce((sum, bin, i) => sum + bin * Math.min(Math.max(share - i, 0), 1), 0)
  return (spread.side === 'above' ? total - below : below) / total
}
