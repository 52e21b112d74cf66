/** The forms that looks are drawn as, triangle by triangle in one texture, and what is told of each form in another. */
import * as three from 'three'
import type { Forms, LookSheets } from '../wire/arrays'
import { floatTexture } from './atlas'
import { DATA_WIDTH, FORM_TEXELS } from './looks/shaders'

/** Where a look's forms are: its first form and first triangle, and its forms with the middle of each triangle. */
export type PlacedForms = { form: number; triangle: number; forms: Forms; middles: Float32Array }

export class FormTextures {
  corners = floatTexture(new Float32Array(DATA_WIDTH * 4), DATA_WIDTH, 1)
  shapes = floatTexture(new Float32Array(8), 2, 1)
  private placed = new Map<string, PlacedForms>()
  private result = ''

  /** Return where the forms of a look are; undefined where it has none. */
  of(key: string | undefined): PlacedForms | undefined {
    return key ? this.placed.get(key) : undefined
  }

  /** Hold the forms of some looks, and nothing else. Returns whether anything changed. */
  set(looks: readonly LookSheets[]): boolean {
    const wanted = looks.filter((look) => !!look.forms)
    const name = wanted.map((look) => look.key).join()
    if (name === this.result) return false
    this.result = name
    this.placed.clear()
    this.corners.dispose()
    this.shapes.dispose()
    const all = wanted.map((look) => look.forms!)
    const triangles = all.reduce((sum, forms) => sum + forms.tint.length / 4, 0)
    const count = all.reduce((sum, forms) => sum + forms.box.length, 0)
    const rows = Math.max(1, Math.ceil((triangles * FORM_TEXELS) / DATA_WIDTH))
    const data = new Float32Array(rows * DATA_WIDTH * 4)
    const shapes = new Float32Array(Math.max(count, 1) * 8)
    let [triangle, form] = [0, 0]
    for (const look of wanted) {
      const forms = look.forms!
      const n = forms.tint.length / 4
      const middles = new Float32Array(n * 3)
      for (let t = 0; t < n; t++) {
        const to = (triangle + t) * FORM_TEXELS * 4
        for (let k = 0; k < 3; k++) {
          const at = t * 24 + k * 8
          // place and u, then normal and v
          for (let axis = 0; axis < 3; axis++) {
            data[to + k * 8 + axis] = forms.corners[at + axis]
            data[to + k * 8 + 4 + axis] = forms.corners[at + 3 + axis]
            middles[t * 3 + axis] += forms.corners[at + axis] / 3
          }
          data[to + k * 8 + 3] = forms.corners[at + 6]
          data[to + k * 8 + 7] = forms.corners[at + 7]
        }
        data.set(forms.tint.subarray(t * 4, t * 4 + 4), to + 24)
      }
      forms.box.forEach((box, i) => {
        const longest = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2], 1e-9)
        shapes.set([...box.slice(0, 3), triangle + forms.start[i], ...box.slice(3, 6), longest], (form + i) * 8)
      })
      this.placed.set(look.key, { form, triangle, forms, middles })
      triangle += n
      form += forms.box.length
    }
    this.corners = floatTexture(data, DATA_WIDTH, rows)
    this.shapes = floatTexture(shapes, 2, Math.max(count, 1))
    return true
  }

  dispose(): void {
    this.corners.dispose()
    this.shapes.dispose()
  }
}

/** Which triangles of whose bodies are drawn, two numbers each, in a texture that grows as it must. */
export class Pairs {
  data = new Float32Array(DATA_WIDTH * 4)
  texture: three.DataTexture = this.textured(1)

  private textured(rows: number): three.DataTexture {
    return floatTexture(this.data, DATA_WIDTH, rows)
  }

  /** Have room for so many. */
  room(count: number): void {
    const rows = Math.max(1, Math.ceil(count / 2 / DATA_WIDTH))
    if (rows * DATA_WIDTH * 4 <= this.data.length) return
    this.data = new Float32Array(Math.ceil(rows * 1.3) * DATA_WIDTH * 4)
    this.texture.dispose()
    this.texture = this.textured(this.data.length / 4 / DATA_WIDTH)
  }
}
