/** What the stage draws of emitters: of each, its particles in each of its looks. */
import type { Column, DrawnEmitter } from '../wire/packets'

/** Particles, or the places of lines, in one look. joined, across: of lines: whether each is joined to the next; across a band, in half floats. */
export type DrawnPart = {
  /** The uid of its emitter. */
  emitter: string
  count: number
  position: Float32Array
  columns: Record<string, Column>
  defaults: Record<string, number>
  drawing: Record<string, unknown>
  sheets?: string
  /** What throws its picture, where it does not lie on each particle. */
  thrown?: number[]
  joined?: Uint8Array
  across?: Uint16Array
  shades?: Float32Array
}

/** Return what is drawn of emitters. spots: each particle once, as for dots and colours by an attribute, whatever its looks are. */
export function partsOf(emitters: readonly DrawnEmitter[], spots: boolean): DrawnPart[] {
  return emitters.flatMap((emitter): DrawnPart[] => {
    const { count, position, columns, shades, defaults = {} } = emitter
    if (spots)
      return [
        {
          emitter: emitter.uid,
          count,
          position,
          columns,
          defaults,
          shades,
          drawing: { sprite: 'soft_disc', stands: 'depth' },
        },
      ]
    return (emitter.layers ?? []).flatMap((layer, n): DrawnPart[] => {
      if (layer.faces || layer.grid) return [] // a surface, or what is seen through, is drawn by itself
      const part = {
        emitter: emitter.uid,
        drawing: layer.drawing,
        defaults: layer.defaults,
        sheets: emitter.sheets?.[n] || undefined,
        thrown: emitter.thrown?.[n] ?? undefined,
      }
      if (layer.first) return [{ ...part, count, position, columns }]
      if (layer.places < 0) return [{ ...part, count, position, columns: layer.columns ?? {} }]
      return [
        {
          ...part,
          count: layer.places,
          position: layer.points ?? new Float32Array(0),
          columns: layer.columns ?? {},
          joined: layer.joined,
          across: layer.across,
        },
      ]
    })
  })
}
