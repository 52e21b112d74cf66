/** The core's catalog and its layout of the open effect: which rows there are, where they stand, what parts can be, what sources are called. */
import type {
  Catalog as Data,
  Effect,
  Emitter,
  Layout,
  PartSpec,
  Response,
  Row,
  RowSpec,
  SourcedBase,
  SourceSpec,
  ThingSpec,
  Unit,
} from '../wire/types'
import { at, resolve, type Path } from './path'

/**
 * A row where it stands. plain: a setting that is a bare number in the document, as long as nothing drives it. host: the
 * row of the sheet whose response this setting belongs to. label: with the owner's name, where there is one.
 */
export type PlacedRow = {
  address: string
  path: Path
  spec: RowSpec
  row: Row
  label: string
  plain: boolean
  unused: boolean
  host: PlacedRow | null
  /** The row that it is a setting of, where it is one. */
  of: string
}
/** What a source that is read is called, its column in the loom, and its unit. */
export type SourceWords = { name: string; column: string; unit: Unit; live: boolean }

export const isSourced = (base: Row['base']): base is SourcedBase => typeof base === 'object' && !Array.isArray(base)
/** Return a base as numbers; a sourced one as its fallback. */
export function numbers(base: Row['base'], fallback: readonly number[]): readonly number[] {
  if (isSourced(base)) return fallback
  return typeof base === 'number' ? [base] : base
}

type Owner = { uid: string }
type Joined = { thing: ThingSpec; rows: PlacedRow[]; sheet: PlacedRow[] }

export class Catalog {
  readonly sources: Map<string, SourceSpec>
  readonly signs: Map<string, string>
  /** How the core lays out the document as it was saved last; what was added since comes with the next answer. */
  layout = $state.raw<Layout>({ specs: [], emitters: {}, props: {}, picture: {}, addable: [], showable: [], used: {} })

  constructor(readonly data: Data) {
    this.sources = new Map(data.sources.map((spec) => [spec.kind, spec]))
    this.signs = new Map(data.operations.map((operation) => [operation.kind, operation.sign]))
  }

  thing(owner: Owner): ThingSpec | undefined {
    return 'births' in owner
      ? this.layout.emitters[owner.uid]
      : (this.layout.props[owner.uid] ?? this.layout.picture[owner.uid] ?? this.layout.emitters[owner.uid])
  }

  /** Return a part as it is laid out: by its path in its emitter, "" for what is read by the clip alone itself. */
  part(owner: Owner, path: string): PartSpec | undefined {
    return this.thing(owner)?.parts[path]
  }

  /** Return whether a fact holds of the kind of a part: see `flags` of parts in the core. */
  is(owner: Owner, flag: string, path = ''): boolean {
    return !!this.part(owner, path)?.flags.includes(flag)
  }

  private placedBefore = new WeakMap<Row, PlacedRow>()
  /** Return what was placed before where nothing about it changed, so that only what changed is drawn again. */
  private kept(placed: PlacedRow): PlacedRow {
    const before = this.placedBefore.get(placed.row)
    if (
      before &&
      before.address === placed.address &&
      before.label === placed.label &&
      before.unused === placed.unused &&
      before.spec === placed.spec &&
      before.host === placed.host &&
      before.path.join() === placed.path.join()
    )
      return before
    this.placedBefore.set(placed.row, placed)
    return placed
  }
  private joinedBefore = new WeakMap<Owner, Joined>()

  private joined(owner: Owner): Joined {
    const thing = this.thing(owner)
    const before = this.joinedBefore.get(owner)
    if (before && before.thing === thing) return before
    const rows = new Map<string, PlacedRow>()
    for (const laid of thing?.rows ?? []) {
      const path = resolve(owner, laid.path)
      const value = path && at(owner, path)
      if (!path || value === undefined || value === null) continue // it went since
      const plain = typeof value === 'number' || Array.isArray(value)
      const row = (plain ? { base: value, responses: [] } : value) as Row
      const host = laid.host ? (rows.get(laid.host) ?? null) : null
      const placed = {
        address: laid.address,
        path,
        spec: this.layout.specs[laid.spec],
        row,
        label: laid.label,
        plain,
        unused: laid.unused,
        host,
        of: laid.of,
      }
      rows.set(laid.address, plain ? placed : this.kept(placed))
    }
    for (const placed of [...rows.values()]) {
      for (const result of this.settingsAhead(placed, rows)) rows.set(result.address, result)
    }
    const all = [...rows.values()]
    const result = { thing: thing!, rows: all, sheet: all.filter((row) => !row.of) }
    if (thing) this.joinedBefore.set(owner, result)
    return result
  }

  /** Return the settings of responses that were made, or became another kind, since the last layout, as they will be laid out. */
  private settingsAhead(placed: PlacedRow, laid: ReadonlyMap<string, PlacedRow>): PlacedRow[] {
    const result: PlacedRow[] = []
    ;(placed.row.responses ?? []).forEach((response, index) => {
      const values: Record<string, unknown> =
        response.kind === 'curve' ? { ...response, low: response.output[0], high: response.output[1] } : { ...response }
      for (const [name, base] of Object.entries(this.data.settings[response.kind ?? 'curve'])) {
        const address = `responses.${response.uid}.${name}`
        const value = (values[name] ?? base.default) as number | Row
        if (laid.has(address)) continue
        const end = name === 'low' ? ['output', 0] : name === 'high' ? ['output', 1] : [name]
        const spec = { ...base, stage: placed.spec.stage, band: placed.spec.band, family: placed.spec.family }
        const plain = typeof value === 'number'
        const row = (plain ? { base: value, responses: [] } : value) as Row
        result.push({
          address,
          path: [...placed.path, 'responses', index, ...end],
          spec,
          row,
          label: spec.label,
          plain,
          unused: false,
          host: placed.host ?? placed,
          of: placed.address,
        })
      }
    })
    return result
  }

  /** Return the rows of a sheet in working order, without the settings of responses. */
  rowsOf(owner: Owner): PlacedRow[] {
    return this.joined(owner).sheet
  }

  /** Return all rows, the settings of responses among them, and theirs in turn. */
  allRows(owner: Owner): PlacedRow[] {
    return this.joined(owner).rows
  }

  /** Return the settings of a row's responses and sources, as rows of their own. */
  settingsOf(owner: Owner, placed: PlacedRow): PlacedRow[] {
    return this.joined(owner).rows.filter((row) => row.of === placed.address)
  }

  rowAt(owner: Owner, address: string): PlacedRow | undefined {
    return this.allRows(owner).find((placed) => placed.address === address)
  }

  source(kind: string): SourceSpec {
    return this.sources.get(kind)!
  }

  drawKind(kind: string): Data['draws'][number] {
    return this.data.draws.find((d) => d.kind === kind)!
  }

  /** What is known of sources that were chosen since the last layout, by the uid of their response or `base:` and an address. */
  private chosen = new Map<string, SourceWords>()
  chose(key: string, words: SourceWords): void {
    this.chosen.set(key, words)
  }

  /** Return what a response's source is called, and a base's by its row. */
  wordsOf(owner: Owner, read: Response | PlacedRow): SourceWords {
    const isResponse = 'source' in read
    const key = isResponse ? read.uid : `base:${read.address}`
    const known = this.thing(owner)?.sources[key] ?? this.chosen.get(key)
    if (known) return known
    const spec = this.source(isResponse ? read.source.kind : (read.row.base as SourcedBase).source.kind)
    return { name: spec.label, column: spec.kind, unit: spec.unit, live: spec.changes }
  }

  /** What ranges are fitted to now: the content of the props by which an owner's particles have what they have. */
  fittedTo(owner: Owner): string {
    return this.thing(owner)?.fitted ?? ''
  }

  nameOf(owner: Owner, read: Response | PlacedRow): string {
    return this.wordsOf(owner, read).name
  }

  /** Return the column of the loom that a response stands in. */
  columnOf(owner: Owner, response: Response): string {
    return this.wordsOf(owner, response).column
  }

  /** Return whether a response acts: neither it, its row nor its source's column is muted. */
  isActive(emitter: Emitter, placed: PlacedRow, response: Response): boolean {
    return !(
      response.muted ||
      placed.row.muted ||
      (emitter.muted_sources ?? []).includes(this.columnOf(emitter, response))
    )
  }
}

/** Return whether a row differs from doing nothing. */
export function inUse(placed: PlacedRow): boolean {
  return (
    (placed.row.responses?.length ?? 0) > 0 ||
    isSourced(placed.row.base) ||
    JSON.stringify(placed.row.base) !== JSON.stringify(placed.spec.default)
  )
}

/** Return the words for a place named in a finding, such as `emitters.0.births.rate.base`. */
export function placeInWords(catalog: Catalog, document: Effect, where: string): string {
  const [part, index, ...rest] = where.split('.')
  const named: Record<string, readonly { name: string }[] | undefined> = {
    props: document.props,
    dials: document.dials,
    settings: document.settings,
  }
  if (part in named) return named[part]?.[Number(index)]?.name ?? `one of the ${part}`
  const emitter = part === 'emitters' ? document.emitters[Number(index)] : undefined
  if (!emitter)
    return { clip: 'The clip', camera: "The effect's camera", emitters: 'One of the emitters' }[part] ?? 'The effect'
  const path = rest.join('.')
  const row = catalog.rowsOf(emitter).find((p) => path.startsWith(p.address) || path.startsWith(p.path.join('.')))
  const band = catalog.thing(emitter)?.bands.find((b) => b.key === path.split('.')[0])
  return row ? `${emitter.name}, ${row.label}` : `${emitter.name}${band ? `, ${band.label}` : ''}`
}
