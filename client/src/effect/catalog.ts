/** The core's catalog, indexed; and where rows stand in an emitter. */
import type { Catalog as Data, Effect, Emitter, Force, Row, RowSpec, Source, SourceSpec } from '../wire/types'
import { at, type Path } from './path'

export type PlacedRow = { address: string; path: Path; spec: RowSpec; row: Row; force: Force | null }

export class Catalog {
  readonly rows: Map<string, RowSpec>
  readonly sources: Map<string, SourceSpec>
  readonly signs: Map<string, string>

  constructor(readonly data: Data) {
    this.rows = new Map(data.rows.map((spec) => [spec.key, spec]))
    this.sources = new Map(data.sources.map((spec) => [spec.kind, spec]))
    this.signs = new Map(data.operations.map((operation) => [operation.kind, operation.sign]))
  }

  /** Return all rows of an emitter in working order. */
  rowsOf(emitter: Emitter): PlacedRow[] {
    const placed: PlacedRow[] = []
    for (const spec of this.data.rows) {
      if (spec.key.startsWith('forces.')) continue
      const path = spec.key.split('.')
      const row = at(emitter, path) as Row | undefined
      if (row) placed.push({ address: spec.key, path, spec, row, force: null })
    }
    const forces = (emitter.forces ?? []).flatMap((force, index) =>
      this.data.rows
        .filter((spec) => spec.key.startsWith(`forces.${force.kind}.`))
        .map((spec) => {
          const field = spec.key.split('.')[2]
          return { address: `forces.${force.uid}.${field}`, path: ['forces', index, field], spec, row: at(force, [field]) as Row, force }
        }),
    )
    const look = placed.findIndex((p) => p.spec.band === 'look')
    placed.splice(look, 0, ...forces)
    return placed
  }

  source(kind: string): SourceSpec {
    return this.sources.get(kind)!
  }

  sourceName(emitter: Emitter, source: Source): string {
    if (source.kind !== 'draw') return this.source(source.kind).label
    return (emitter.draws ?? []).find((draw) => draw.uid === source.draw)?.name ?? 'missing draw'
  }
}

/** Return the words for a place named in a finding, such as `emitters.0.births.rate.base`. */
export function placeInWords(catalog: Catalog, document: Effect, where: string): string {
  const [, index, ...rest] = where.split('.')
  const emitter = where.startsWith('emitters.') ? document.emitters[Number(index)] : undefined
  if (!emitter) return where
  const path = rest.join('.')
  const row = catalog.rowsOf(emitter).find((p) => path.startsWith(p.address) || path.startsWith(p.path.join('.')))
  return row ? `${emitter.name}, ${row.spec.label}` : `${emitter.name} ${path}`.trim()
}
