/** What scale is judged by on the stage: a grid with metres written on it, and a figure 1.7 m tall. */
import * as three from 'three'
import { withUnit } from '../controls/numbers'

const REACH = 4
const METRES = { symbol: 'm', scale: 1, digits: 2 }
export const TALL = 1.7

/** Return the grid's lines on the ground, a metre apart: every line, and the two through the origin. */
export function groundLines(): { fine: number[]; axes: number[] } {
  const fine: number[] = []
  const axes: number[] = []
  for (let i = -REACH; i <= REACH; i++) (i ? fine : axes).push(-REACH, 0, i, REACH, 0, i, i, 0, -REACH, i, 0, REACH)
  return { fine, axes }
}

/** Return the outline of somebody who stands 1.7 m tall, seen from the front; x, y, z a point, two points a line. */
export function figureLines(x: number): number[] {
  const half: [number, number][] = [
    [0.02, 0.0],
    [0.16, 0.0],
    [0.13, 0.45],
    [0.17, 0.82],
    [0.16, 1.08],
    [0.21, 1.36],
    [0.14, 1.42],
    [0.055, 1.45],
  ]
  const points: number[] = []
  for (const side of [-1, 1]) {
    for (let i = 0; i + 1 < half.length; i++)
      points.push(x + side * half[i][0], half[i][1], 0, x + side * half[i + 1][0], half[i + 1][1], 0)
    // an arm, beside the body
    points.push(x + side * 0.21, 1.36, 0, x + side * 0.27, 0.82, 0)
  }
  points.push(x - 0.02, 0, 0, x, 0.78, 0, x, 0.78, 0, x + 0.02, 0, 0)
  const turns = 20
  for (let i = 0; i < turns; i++) {
    const at = (k: number) => [
      x + 0.095 * Math.sin((k / turns) * 2 * Math.PI),
      TALL - 0.125 + 0.125 * Math.cos((k / turns) * 2 * Math.PI),
      0,
    ]
    points.push(...at(i), ...at(i + 1))
  }
  return points
}

/** Labels of the grid: how far each line along the axes is from the origin, in what the clip has lengths shown. */
export class GridLabels {
  readonly group = new three.Group()
  private shownText = ''

  /** Write them anew where their words or colour changed. */
  write(colour: string): void {
    const shownText = `${colour} ${withUnit(1, METRES)}`
    if (shownText === this.shownText) return
    this.shownText = shownText
    this.clear()
    for (let i = -REACH; i <= REACH; i++) {
      if (!i) continue
      this.group.add(label(withUnit(Math.abs(i), METRES), colour, [i, 0, 0.12]))
      this.group.add(label(withUnit(Math.abs(i), METRES), colour, [0.12, 0, i]))
    }
  }
  clear(): void {
    for (const each of this.group.children as three.Sprite[]) {
      each.material.map?.dispose()
      each.material.dispose()
    }
    this.group.clear()
  }
}

/** Words that stand at a point, always as large; long: room for some twenty letters, which begin there. */
export function label(words: string, colour: string, at: [number, number, number], long = false): three.Sprite {
  const canvas = document.createElement('canvas')
  canvas.width = long ? 512 : 128
  canvas.height = 48
  const pen = canvas.getContext('2d')!
  pen.font = '500 30px "JetBrains Mono", monospace'
  pen.textAlign = long ? 'left' : 'center'
  pen.textBaseline = 'middle'
  pen.fillStyle = colour
  pen.fillText(words, long ? 8 : 64, 24)
  const map = new three.CanvasTexture(canvas)
  const sprite = new three.Sprite(
    new three.SpriteMaterial({ map, transparent: true, depthTest: false, sizeAttenuation: false, opacity: 0.75 }),
  )
  sprite.position.set(...at)
  sprite.scale.set(long ? 0.3 : 0.075, 0.028, 1)
  if (long) {
    sprite.center.set(0, 0.5)
    sprite.material.opacity = 1
  }
  return sprite
}
