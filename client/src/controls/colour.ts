/** Linear light and sRGB (IEC 61966-2-1), for swatches and the colour picker. */

export type Rgb = readonly [number, number, number]

export const encode = (x: number): number => {
  const v = Math.min(Math.max(x, 0), 1)
  return v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055
}
export const decode = (x: number): number => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4)

/** Return a CSS colour; what is brighter than white keeps its hue and is shown as bright as the screen can. */
export function css(colour: Rgb, alpha = 1): string {
  const top = Math.max(1, ...colour)
  const [r, g, b] = colour.map((c) => Math.round(encode(c / top) * 255))
  return alpha >= 1 ? `rgb(${r} ${g} ${b})` : `rgb(${r} ${g} ${b} / ${alpha.toFixed(3)})`
}

/** Return #rrggbb of a colour divided by its brightness, and that brightness (1 or more). */
export function split(colour: Rgb): { hex: string; brightness: number } {
  const brightness = Math.max(1, ...colour)
  const hex =
    '#' +
    colour
      .map((c) =>
        Math.round(encode(c / brightness) * 255)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')
  return { hex, brightness }
}

export function join(hex: string, brightness: number): [number, number, number] {
  const part = (i: number) => Number((decode(parseInt(hex.slice(i, i + 2), 16) / 255) * brightness).toFixed(5))
  return [part(1), part(3), part(5)]
}

/** Hue in turns, purity and value from 0 to 1, of a colour as screens code it (sRGB, divided by its brightness). */
export type Hue = { hue: number; purity: number; value: number }

/** Return hue, purity and value of a colour's sRGB code. hue: of a grey, which has none, the one given. Source: A. R. Smith, 1978. */
export function hueOf(colour: Rgb, grey = 0): Hue {
  const { brightness } = split(colour)
  const coded = colour.map((c) => encode(c / brightness))
  const value = Math.max(...coded)
  const span = value - Math.min(...coded)
  if (span < 1e-6) return { hue: grey, purity: 0, value }
  const [r, g, b] = coded
  const sixth = value === r ? (g - b) / span : value === g ? 2 + (b - r) / span : 4 + (r - g) / span
  return { hue: (sixth / 6 + 1) % 1, purity: span / value, value }
}

/** Return the linear colour of a hue, so bright. */
export function ofHue({ hue, purity, value }: Hue, brightness = 1): [number, number, number] {
  const channel = (shift: number) => {
    const k = (shift + hue * 6) % 6
    return value - value * purity * Math.max(0, Math.min(k, 4 - k, 1))
  }
  return [channel(5), channel(3), channel(1)].map((c) => Number((decode(c) * brightness).toFixed(5))) as [
    number,
    number,
    number,
  ]
}

/** Return the colour that a typed code means (`#f80`, `ff8800`), or null. */
export function ofCode(text: string): [number, number, number] | null {
  const found = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i.exec(text.trim())?.[1]
  if (!found) return null
  return join(`#${found.length === 3 ? [...found].map((c) => c + c).join('') : found}`, 1)
}
