/** The sheets of pictures that looks are drawn with, one below another in one texture. */
import * as three from 'three'
import type { LookSheets, Sheet } from '../wire/arrays'
import { PLATES_WIDTH } from './looks/shaders'

export class Atlas {
  texture = blank()
  plates = floatTexture(new Float32Array(PLATES_WIDTH * 4), PLATES_WIDTH, 1)
  /** The number of each sheet's row in `plates`, by its look's key and place. */
  private rows = new Map<string, number>()
  private made = ''

  /** Return the row of a sheet; -1 where a look has none there. */
  row(key: string, place: number): number {
    return this.rows.get(`${key} ${place}`) ?? -1
  }

  /** Hold the sheets of some looks, and nothing else. Returns whether anything changed. */
  set(looks: readonly LookSheets[]): boolean {
    const name = looks.map((look) => look.key).join()
    if (name === this.made) return false
    this.made = name
    this.rows.clear()
    const every: { sheet: Sheet; top: number }[] = []
    let [width, height] = [1, 0]
    for (const look of looks)
      look.sheets.forEach((sheet, place) => {
        if (!sheet) return
        this.rows.set(`${look.key} ${place}`, every.length)
        every.push({ sheet, top: height })
        width = Math.max(width, sheet.width)
        height += sheet.texels.length / 4 / sheet.width
      })
    this.texture.dispose()
    this.plates.dispose()
    if (!every.length) {
      this.texture = blank()
      return true
    }
    const texels = new Uint8Array(width * height * 4)
    const plates = new Float32Array(PLATES_WIDTH * 4 * every.length)
    every.forEach(({ sheet, top }, row) => {
      const rows = sheet.texels.length / 4 / sheet.width
      for (let y = 0; y < rows; y++)
        texels.set(sheet.texels.subarray(y * sheet.width * 4, (y + 1) * sheet.width * 4), (top + y) * width * 4)
      plates.set([sheet.across, sheet.levels, top, sheet.cells], row * PLATES_WIDTH * 4)
      plates.set(sheet.plates, (row * PLATES_WIDTH + 1) * 4)
    })
    this.texture = new three.DataTexture(texels, width, height)
    this.texture.colorSpace = three.SRGBColorSpace
    this.texture.minFilter = this.texture.magFilter = three.LinearFilter
    this.texture.needsUpdate = true
    this.plates = floatTexture(plates, PLATES_WIDTH, every.length)
    return true
  }

  dispose(): void {
    this.texture.dispose()
    this.plates.dispose()
  }
}

function blank(): three.DataTexture {
  const made = new three.DataTexture(new Uint8Array(4), 1, 1)
  made.colorSpace = three.SRGBColorSpace
  made.needsUpdate = true
  return made
}

export function floatTexture(data: Float32Array, width: number, height: number): three.DataTexture {
  const made = new three.DataTexture(
    data as Float32Array<ArrayBuffer>,
    width,
    height,
    three.RGBAFormat,
    three.FloatType,
  )
  made.needsUpdate = true
  return made
}
