/** The sheets of pictures that looks are drawn with, one below another in one texture. */
import * as three from 'three'
import type { LookSheets, Sheet } from '../wire/arrays'
import { PLATES_WIDTH } from './looks/shaders'

/** As large as a side of a texture can be on any graphics card of the last ten years, and without one. */
const MOST_SIDE = 8192

type Placed = { name: string; sheet: Sheet; left: number; top: number }

/**
 * Where the sheets of looks lie in one texture: one below another in columns, none taller or wider than textures can be anywhere. Looks for which there
 * is no more room are left out whole.
 */
export function arranged(
  looks: readonly LookSheets[],
  most = MOST_SIDE,
): { placed: Placed[]; width: number; height: number } {
  const placed: Placed[] = []
  let [left, top, wide, height] = [0, 0, 0, 0]
  for (const look of looks) {
    const before = { left, top, wide, count: placed.length }
    for (const [place, sheet] of look.sheets.entries()) {
      if (!sheet) continue
      const rows = sheet.texels.length / 4 / sheet.width
      if (top && top + rows > most) [left, top, wide] = [left + wide, 0, 0]
      placed.push({ name: `${look.key} ${place}`, sheet, left, top })
      top += rows
      wide = Math.max(wide, sheet.width)
    }
    if (left + wide > most || top > most) {
      placed.length = before.count
      ;[left, top, wide] = [before.left, before.top, before.wide]
    }
  }
  for (const { sheet, top: at } of placed) height = Math.max(height, at + sheet.texels.length / 4 / sheet.width)
  return { placed, width: Math.max(1, left + wide), height }
}

export class Atlas {
  texture = blank()
  plates = floatTexture(new Float32Array(PLATES_WIDTH * 4), PLATES_WIDTH, 1)
  /** The number of each sheet's row in `plates`, by its look's key and place. */
  private rows = new Map<string, number>()
  private result = ''

  /** Return the row of a sheet; -1 where a look has none there. */
  row(key: string, place: number): number {
    return this.rows.get(`${key} ${place}`) ?? -1
  }

  /** Whether the sheets of a look are there: those that found no room are not. */
  holds(key: string): boolean {
    return this.rows.has(`${key} 0`)
  }

  /** Hold the sheets of some looks, and nothing else. Returns whether anything changed. */
  set(looks: readonly LookSheets[]): boolean {
    const name = looks.map((look) => look.key).join()
    if (name === this.result) return false
    this.result = name
    this.rows.clear()
    const { placed, width, height } = arranged(looks)
    this.texture.dispose()
    this.plates.dispose()
    if (!placed.length) {
      this.texture = blank()
      return true
    }
    const texels = new Uint8Array(width * height * 4)
    const plates = new Float32Array(PLATES_WIDTH * 4 * placed.length)
    placed.forEach(({ name, sheet, left, top }, row) => {
      this.rows.set(name, row)
      const rows = sheet.texels.length / 4 / sheet.width
      for (let y = 0; y < rows; y++)
        texels.set(
          sheet.texels.subarray(y * sheet.width * 4, (y + 1) * sheet.width * 4),
          ((top + y) * width + left) * 4,
        )
      plates.set([sheet.across, sheet.levels, top, sheet.cells], row * PLATES_WIDTH * 4)
      plates.set(
        sheet.plates.map((number, i) => (i % 4 ? number : number + left)),
        (row * PLATES_WIDTH + 1) * 4,
      )
    })
    this.texture = new three.DataTexture(texels, width, height)
    this.texture.colorSpace = three.SRGBColorSpace
    this.texture.minFilter = this.texture.magFilter = three.LinearFilter
    this.texture.needsUpdate = true
    this.plates = floatTexture(plates, PLATES_WIDTH, placed.length)
    return true
  }

  dispose(): void {
    this.texture.dispose()
    this.plates.dispose()
  }
}

function blank(): three.DataTexture {
  const result = new three.DataTexture(new Uint8Array(4), 1, 1)
  result.colorSpace = three.SRGBColorSpace
  result.needsUpdate = true
  return result
}

export function floatTexture(data: Float32Array, width: number, height: number): three.DataTexture {
  const result = new three.DataTexture(
    data as Float32Array<ArrayBuffer>,
    width,
    height,
    three.RGBAFormat,
    three.FloatType,
  )
  result.needsUpdate = true
  return result
}
