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
