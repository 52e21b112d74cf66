/**
 * How a look is drawn on the stage: a namesake of its module in kagero/core/parts/looks. Shaders read each column as an attribute of its
 * name, besides `position`; fallback: where a packet says nothing of it.
 */
export type StageLook = {
  attributes: { column: string; width: number; kind: 'float' | 'half'; fallback: number }[]
  vertex: string
  fragment: string
}
