/** The core's catalog, indexed; and where rows stand in an emitter. */
import type { Catalog as Data, Dial, Prop, Draw, Effect, Emitter, Force, Own, Response, Row, RowSpec, Source, SourcedBase, SourceSpec, Unit } from '../wire/types'
import { at, type Path } from './path'

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
  force: Force | null
  plain: boolean
  unused: boolean
  host: PlacedRow | null
}
export type Setting = number | readonly [number, number, number] | Row

export const isSourced = (base: Row['base']): base is SourcedBase => typeof base === 'object' && !Array.isArray(base)
/** Return a base as numbers; a sourced one as its fallback. */
export function numbers(base: Row['base'], fallback: readonly number[]): readonly number[] {
  if (isSourced(base)) return fallback
  return typeof base === 'number' ? [base] : base
}

const WHERE = ['position', 'rotation', 'scale']
/** Return the shape of a mask; nothing for other props and for emitters. */
export const maskOf = (thing: object): string | null => ('kind' in thing && thing.kind === 'mask' && 'shape' in thing ? String(thing.shape) : null)

export class Catalog {
  readonly rows: Map<string, RowSpec>
  readonly sources: Map<string, SourceSpec>
  readonly signs: Map<string, string>

  /** The open effect's dials, as they are now: sources name them. */
  dialsNow: () => readonly Dial[] = () => []
  propsNow: () => readonly Prop[] = () => []

  constructor(readonly data: Data) {
    this.rows = new Map(data.rows.map((spec) => [spec.key, spec]))
    this.sources = new Map(data.sources.map((spec) => [spec.kind, spec]))
    this.signs = new Map(data.operations.map((operation) => [operation.kind, operation.sign]))
  }

  private placedBefore = new WeakMap<Row, PlacedRow>()
  /** Return what was placed before where nothing about it changed, so that only what changed is drawn again. */
  private kept(placed: PlacedRow): PlacedRow {
    const before = this.placedBefore.get(placed.row)
    if (before && before.address === placed.address && before.label === placed.label && before.unused === placed.unused && before.force === placed.force && before.path.join() === placed.path.join()) return before
    this.placedBefore.set(placed.row, placed)
    return placed
  }
  private rowsBefore: { emitter: Emitter; rows: PlacedRow[] } | null = null
  private allBefore: { emitter: Emitter; rows: PlacedRow[] } | null = null

  /** Return the rows of an emitter's sheet in working order, without the settings of responses. */
  rowsOf(emitter: Emitter): PlacedRow[] {
    if (this.rowsBefore?.emitter !== emitter) this.rowsBefore = { emitter, rows: this.place(emitter) }
    return this.rowsBefore.rows
  }

  private place(emitter: Emitter): PlacedRow[] {
    const placed: PlacedRow[] = []
    const put = (spec: RowSpec, address: string, path: Path, more: Partial<PlacedRow> = {}) => {
      const row = at(emitter, path) as Row | undefined
      if (row) placed.push(this.kept({ address, path, spec, row, label: spec.label, force: null, plain: false, unused: false, host: null, ...more }))
    }
    const plain = (test: (key: string) => boolean) => {
      for (const spec of this.data.rows) if (test(spec.key)) put(spec, spec.key, spec.key.split('.'))
    }
    if ('position' in emitter && !('births' in emitter)) {
      // a prop: its place is all that rows drive, and of a mask what its shape has
      const mask = maskOf(emitter)
      const fields = mask ? this.maskSpec(mask).rows : [...WHERE, 'field_of_view']
      for (const [field, spec] of Object.entries(this.data.prop_rows)) if (fields.includes(field)) put(spec, `place.${field}`, [field])
      return placed
    }
    const { place, launch } = emitter.births
    const frames = emitter.births.per === 'frame'
    const aim = this.data.aims.find((a) => a.kind === (launch.aim ?? 'direction'))!
    const idle = (key: string) => {
      const name = key.slice(key.lastIndexOf('.') + 1)
      if (key === 'births.begins') return emitter.births.when !== 'each' || place.kind === 'particles'
      if (key === 'births.launch.speed') return aim.kind === 'guided'
      if (key === 'births.launch.inherit') return place.kind !== 'prop' && place.kind !== 'particles'
      return key.startsWith('births.launch.') && name !== 'cone' && !aim.rows.includes(name)
    }
    for (const spec of this.data.rows) {
      if (!spec.key.startsWith('births.')) continue
      const counted = spec.key === 'births.rate' && frames ? { ...spec, unit: { ...spec.unit, symbol: '/frame' }, drag: 10 } : spec
      put(counted, spec.key, spec.key.split('.'), { unused: idle(spec.key) })
    }
    ;(emitter.forces ?? []).forEach((force, index) => {
      for (const spec of this.data.rows) {
        if (!spec.key.startsWith(`forces.${force.kind}.`)) continue
        const field = spec.key.split('.')[2]
        put(spec, `forces.${force.uid}.${field}`, ['forces', index, field], { force })
      }
    })
    for (const spec of this.data.rows) if (spec.key.startsWith('motion.')) put(spec, spec.key, spec.key.split('.'), { unused: spec.key === 'motion.grip' && place.kind !== 'prop' })
    plain((key) => key.startsWith('look.'))
    if (emitter.thinning) for (const spec of this.data.rows) if (spec.key.startsWith('thinning.')) put(spec, spec.key, spec.key.split('.'), { unused: spec.key === 'thinning.margin' && !emitter.thinning.view })
    ;(emitter.draws ?? []).forEach((draw, index) => {
      for (const field of this.drawKind(draw.kind).bounds) {
        const spec = this.data.draw_rows[field]
        const unused = draw.kind === 'normal' && (field === 'lowest' || field === 'highest') && !draw.clamped
        put(spec, `draws.${draw.uid}.${field}`, ['draws', index, field], { label: `${draw.name}: ${spec.label.toLowerCase()}`, unused })
      }
    })
    ;(emitter.own ?? []).forEach((own, index) => {
      for (const field of Object.keys(this.data.own_rows)) {
        const unused = (field === 'change' && !own.memory) || ((field === 'lowest' || field === 'highest') && !own.held)
        const spec = this.ownSpec(own, field)
        put(spec, `own.${own.uid}.${field}`, ['own', index, field], { label: `${own.name}: ${spec.label.toLowerCase()}`, unused })
      }
    })
    return placed
  }

  /** Return the settings of a row's responses and sources, as rows of their own. */
  settingsOf(emitter: Emitter, placed: PlacedRow): PlacedRow[] {
    const found: PlacedRow[] = []
    const put = (address: string, name: string, path: Path, setting: Setting, changed: Partial<RowSpec> = {}) => {
      const base = this.data.settings[name]
      const spec = { ...base, stage: placed.spec.stage, band: placed.spec.band, family: placed.spec.family, ...changed }
      const plain = typeof setting === 'number' || Array.isArray(setting)
      const row = (plain ? { base: setting, responses: [] } : setting) as Row
      found.push({ address, path, spec, row, label: spec.label, force: null, plain, unused: false, host: placed.host ?? placed })
    }
    const sourceSettings = (source: Source, path: Path) => {
      if (source.kind === 'noise') {
        put(`sources.${source.uid}.scale`, 'scale', [...path, 'scale'], source.scale ?? 0.5)
        put(`sources.${source.uid}.drift`, 'drift', [...path, 'drift'], source.drift ?? 0.2)
      } else if (source.kind === 'distance') put(`sources.${source.uid}.point`, 'point', [...path, 'point'], source.point ?? [0, 0, 0])
    }
    const rowPath = placed.path
    if (isSourced(placed.row.base)) sourceSettings(placed.row.base.source, [...rowPath, 'base', 'source'])
    ;(placed.row.responses ?? []).forEach((response, index) => {
      const path = [...rowPath, 'responses', index]
      const own = `responses.${response.uid}`
      put(`${own}.amount`, 'amount', [...path, 'amount'], response.amount ?? 1)
      if (response.kind === 'ratio') {
        put(`${own}.reference`, 'reference', [...path, 'reference'], response.reference ?? 1, { unit: this.unitOf(emitter, response.source) })
        put(`${own}.power`, 'power', [...path, 'power'], response.power ?? 1)
      } else put(`${own}.shift`, 'shift', [...path, 'shift'], response.shift ?? 0)
      if (response.kind === 'curve') {
        const changed = (response.operation ?? 'multiply') === 'multiply' ? {} : { unit: placed.spec.unit, drag: placed.spec.drag }
        put(`${own}.exponent`, 'exponent', [...path, 'exponent'], response.exponent ?? 1)
        put(`${own}.low`, 'low', [...path, 'output', 0], response.output[0], changed)
        put(`${own}.high`, 'high', [...path, 'output', 1], response.output[1], changed)
      }
      sourceSettings(response.source, [...path, 'source'])
    })
    return found
  }

  /** Return all rows, the settings of responses among them, and theirs in turn. */
  allRows(emitter: Emitter): PlacedRow[] {
    if (this.allBefore?.emitter === emitter) return this.allBefore.rows
    const found: PlacedRow[] = []
    let waiting = this.rowsOf(emitter)
    while (waiting.length) {
      found.push(...waiting)
      waiting = waiting.flatMap((placed) => ((placed.row.responses?.length ?? 0) || isSourced(placed.row.base) ? this.settingsOf(emitter, placed) : []))
    }
    this.allBefore = { emitter, rows: found }
    return found
  }

  rowAt(emitter: Emitter, address: string): PlacedRow | undefined {
    return this.allRows(emitter).find((placed) => placed.address === address)
  }

  source(kind: string): SourceSpec {
    return this.sources.get(kind)!
  }

  drawKind(kind: string): Data['draws'][number] {
    return this.data.draws.find((d) => d.kind === kind)!
  }

  ownSpec(own: Own, field: string): RowSpec {
    const spec = this.data.own_rows[field]
    const bound = field === 'lowest' || field === 'highest'
    const kind = bound ? 'number' : field === 'change' && own.kind === 'colour' ? 'vector' : own.kind
    let unit = this.data.own_units[own.kind === 'colour' ? '' : (own.unit ?? '')]
    if (field === 'change') unit = { ...unit, symbol: unit.symbol === 'm/s' ? 'm/s²' : `${unit.symbol}/s` }
    const fallback = { number: spec.default, vector: [0, 0, 0], colour: [1, 1, 1] }[kind] as RowSpec['default']
    return { ...spec, kind, unit, default: fallback, family: `own.${own.uid}.${field}`, ...(kind === 'colour' ? { lowest: 0, highest: 64 } : {}) }
  }

  unitOf(emitter: Emitter, source: Source): Unit {
    if (source.kind === 'own') {
      const own = (emitter.own ?? []).find((o) => o.uid === source.own)
      return this.data.own_units[(own && own.kind !== 'colour' && own.unit) || '']
    }
    if (source.kind === 'row') return this.rowsOf(emitter).find((p) => p.address === source.row)?.spec.unit ?? this.source('row').unit
    if (source.kind === 'prop') return this.source('prop').unit
    if (source.kind === 'dial') return this.data.dial_units[this.dialsNow().find((d) => d.uid === source.dial)?.unit ?? '']
    if ('part' in source && source.part) return this.data.source_parts[source.kind]?.[source.part]?.unit ?? this.source(source.kind).unit
    return this.source(source.kind).unit
  }

  maskSpec(shape: string): Data['masks'][number] {
    return this.data.masks.find((m) => m.shape === shape)!
  }

  sourceName(emitter: Emitter, source: Source): string {
    const part = 'part' in source && source.part && source.part !== 'whole' ? ` ${source.part}` : ''
    if (source.kind === 'draw') return (emitter.draws ?? []).find((draw) => draw.uid === source.draw)?.name ?? 'missing draw'
    if (source.kind === 'own') return ((emitter.own ?? []).find((o) => o.uid === source.own)?.name ?? 'missing attribute') + part
    if (source.kind === 'row') return (this.rowsOf(emitter).find((p) => p.address === source.row)?.label.toLowerCase() ?? 'missing row') + part
    if (source.kind === 'distance') return 'distance'
    if (source.kind === 'prop') return (this.propsNow().find((p) => p.uid === source.prop)?.name ?? 'missing prop') + part
    if (source.kind === 'dial') return this.dialsNow().find((d) => d.uid === source.dial)?.name ?? 'missing dial'
    const named = (uid: string) => this.propsNow().find((p) => p.uid === uid)?.name ?? `missing ${source.kind}`
    const words = 'part' in source && source.part ? (this.data.source_parts[source.kind]?.[source.part]?.label ?? (part.trim() || 'colour')) : ''
    if (source.kind === 'mask') return `${named(source.mask)} ${words}`.trim()
    if (source.kind === 'surface') return `${named(source.prop)} ${words}`.trim()
    if (source.kind === 'picture') return `${named(source.prop)}${source.at === 'birth' ? ' at birth' : ''} ${words}`.trim()
    if (source.kind === 'parent') return `parent's ${words}`
    return this.source(source.kind).label + part
  }
}

/** Return the name under which equal sources stand in one column of the loom (the core's `source_key`). */
export function sourceKey(source: Source): string {
  const part = 'part' in source && source.part && source.part !== 'whole' ? `.${source.part}` : ''
  if (source.kind === 'draw') return `draws.${source.draw}`
  if (source.kind === 'own') return `own.${source.own}${part}`
  if (source.kind === 'prop') return `props.${source.prop}${part}`
  if (source.kind === 'dial') return `dials.${source.dial}`
  if (source.kind === 'row') return `row.${source.row}${part}`
  if (source.kind === 'mask') return `mask.${source.mask}.${source.part ?? 'value'}`
  if (source.kind === 'picture') return `picture.${source.prop}.${source.part ?? 'luminance'}`
  if (source.kind === 'surface') return `surface.${source.prop}.${source.part ?? 'distance'}`
  return 'part' in source ? `${source.kind}.${source.part}` : source.kind
}

/** Return whether a response acts: neither it, its row nor its source's column is muted. */
export function acts(emitter: Emitter, placed: PlacedRow, response: Response): boolean {
  return !(response.muted || placed.row.muted || (emitter.muted_sources ?? []).includes(sourceKey(response.source)))
}

/** Return whether a row differs from doing nothing. */
export function inUse(placed: PlacedRow): boolean {
  return (placed.row.responses?.length ?? 0) > 0 || isSourced(placed.row.base) || JSON.stringify(placed.row.base) !== JSON.stringify(placed.spec.default)
}

/** Return between which values a draw lies, its bounds taken at their bases (the core's `draw_range`). */
export function drawRange(draw: Draw): [number, number] {
  const base = (row: { base: unknown } | undefined) => (typeof row?.base === 'number' ? row.base : 0)
  if (draw.kind === 'spread') return [base(draw.centre) - base(draw.spread), base(draw.centre) + base(draw.spread)]
  if (draw.kind === 'normal') {
    const reach = 3 * base(draw.deviation)
    let [low, high] = [base(draw.mean) - reach, base(draw.mean) + reach]
    if (draw.absolute) [low, high] = [0, Math.max(Math.abs(low), Math.abs(high))]
    return draw.clamped ? [Math.max(low, base(draw.lowest)), Math.min(high, base(draw.highest))] : [low, high]
  }
  if (draw.kind === 'choice') return [Math.min(...draw.options.map((o) => o.value)), Math.max(...draw.options.map((o) => o.value))]
  if (draw.kind === 'sign') return [-1, 1]
  return [base(draw.low), base(draw.high)]
}

/** Return the words for a place named in a finding, such as `emitters.0.births.rate.base`. */
export function placeInWords(catalog: Catalog, document: Effect, where: string): string {
  const [, index, ...rest] = where.split('.')
  if (where.startsWith('props.')) return document.props?.[Number(index)]?.name ?? where
  const emitter = where.startsWith('emitters.') ? document.emitters[Number(index)] : undefined
  if (!emitter) return where
  const path = rest.join('.')
  const row = catalog.rowsOf(emitter).find((p) => path.startsWith(p.address) || path.startsWith(p.path.join('.')))
  const band = path.startsWith('births.place') ? ', Place' : path.startsWith('births') ? ', Births' : path ? `, ${path.split('.')[0]}` : ''
  return row ? `${emitter.name}, ${row.label}` : `${emitter.name}${band}`
}
