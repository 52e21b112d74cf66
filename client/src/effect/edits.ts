/** Edits an artist makes, as changes to the document with a name for undo. */
import type {
  AddSpec,
  CurveResponse,
  Dial,
  Draw,
  Emitter,
  GradientResponse,
  KindSpec,
  PartSpec,
  Response,
  Row,
  Source,
  SourceChoice,
  Prop,
  Variation,
} from '../wire/types'
import type { Change } from '../controls/numbers'
import { api } from '../wire/api'
import { isSourced, type Catalog, type PlacedRow } from './catalog.svelte'
import type { OpenEffect } from './open.svelte'
import type { Editable } from './trial'
import { newUid, put, resolve, withUids, type Path } from './path'

export const responsePath = (placed: PlacedRow, index: number): Path => [...placed.path, 'responses', index]
/** Where a row's base stands: a setting that nothing drives is itself the number. */
export const basePath = (placed: PlacedRow): Path => (placed.plain ? placed.path : [...placed.path, 'base'])

/** What a response is called in undo and titles: "Size from life". */
export function responseTitle(catalog: Catalog, emitter: Emitter, placed: PlacedRow, response: Response): string {
  const whose = placed.host ? `${placed.host.label}: ${placed.label.toLowerCase()}` : placed.label
  return `${whose} from ${catalog.nameOf(emitter, response)}`
}

/** Put other responses onto a row; a setting becomes a row when it gets its first, and a number again after its last. */
export function setResponses(
  effect: Editable,
  placed: PlacedRow,
  responses: Response[],
  label: string,
  emitter: Emitter = effect.owner,
): void {
  let value: unknown = { ...placed.row, responses }
  if (placed.host && !responses.length && !isSourced(placed.row.base)) value = placed.row.base
  effect.edit(label, effect.inEmitter([]), put(emitter, placed.path, value))
}

function free(taken: string[], name: string): string {
  if (!taken.includes(name)) return name
  for (let i = 2; ; i++) if (!taken.includes(`${name} ${i}`)) return `${name} ${i}`
}
function freeDrawName(emitter: Emitter): string {
  const taken = (emitter.draws ?? []).map((d) => d.name)
  for (let i = 0; ; i++) {
    const name = `draw ${String.fromCharCode(65 + (i % 26))}${i >= 26 ? Math.floor(i / 26) : ''}`
    if (!taken.includes(name)) return name
  }
}

/** Return a new draw of a kind, under a free name. */
export function freshDraw(emitter: Emitter, catalog: Catalog, kind: string): Draw {
  return {
    ...structuredClone(catalog.drawKind(kind).template),
    uid: newUid(),
    name: freeDrawName(emitter),
  } as unknown as Draw
}

/** Make a row vary per particle by a new draw. Returns the new response's uid, if there is one, and the draw's. */
export function vary(
  effect: OpenEffect,
  placed: PlacedRow,
  variation: Variation,
): { response: string | null; draw: string } {
  const draw = {
    ...structuredClone(variation.draw),
    uid: newUid(),
    name: freeDrawName(effect.emitter),
  } as unknown as Draw
  const emitter = { ...effect.emitter, draws: [...(effect.emitter.draws ?? []), draw] }
  const label = `Vary ${placed.label.toLowerCase()}`
  if (variation.base) {
    const base = { source: { kind: 'draw', draw: draw.uid }, read: 'once' }
    effect.edit(label, effect.inEmitter([]), put(emitter, placed.path, { ...placed.row, base }))
    return { response: null, draw: draw.uid }
  }
  const fit = { input: variation.input, fitted: '' }
  const response = makeResponse(placed, { kind: 'draw', draw: draw.uid }, 'once', fit)
  if (response.kind === 'curve') {
    const reach = response.output[1]
    response.output = response.operation === 'add' && !variation.added ? [-reach, reach] : variation.output
    if (variation.added) response.operation = 'add'
  }
  setResponses(effect, placed, [...(placed.row.responses ?? []), response], label, emitter)
  return { response: response.uid, draw: draw.uid }
}

/** Drive a row by a source: returns the new response's uid. The input range is what the particles have, where that is known. */
export function drive(effect: Editable, catalog: Catalog, placed: PlacedRow, choice: SourceChoice): string {
  const read = choice.read as 'once' | 'live'
  const direct = placed.spec.kind !== 'colour' && (choice.key === 'formula' || choice.group === 'dials')
  const response = direct
    ? makeDirect(
        placed,
        choice,
        read,
        (effect.document.dials ?? []).find((d) => d.uid === choice.source.dial),
      )
    : makeResponse(
        placed,
        formulaText(withUid(choice.source), 'life'),
        read,
        liveInput(choice, catalog.fittedTo(effect.owner)),
      )
  catalog.chose(response.uid, wordsOf(choice))
  setResponses(
    effect,
    placed,
    [...(placed.row.responses ?? []), response],
    `Drive ${placed.label.toLowerCase()} from ${choice.label}`,
  )
  return response.uid
}

/** Return what a source that was chosen is called, until the core says so. */
export const wordsOf = (choice: SourceChoice) => ({
  name: choice.label,
  column: choice.column,
  unit: choice.unit,
  live: choice.read === 'live',
})

/** Read a row's base from a source, as it is. */
export function baseFrom(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, choice: SourceChoice): void {
  catalog.chose(`base:${placed.address}`, wordsOf(choice))
  const start = isSourced(placed.row.base) ? placed.spec.default : placed.row.base
  const row = {
    ...placed.row,
    base: { source: formulaText(withUid(choice.source), written(start as Row['base'])), read: choice.read },
  }
  effect.edit(`Take ${placed.label.toLowerCase()} from ${choice.label}`, effect.inEmitter(placed.path), row)
}

/** A response that takes a formula's or a dial's value as it is: added to nought, else a factor; a dial at its own default changes nothing. */
function makeDirect(placed: PlacedRow, choice: SourceChoice, read: 'once' | 'live', dial?: Dial): Response {
  const source = formulaText(withUid(choice.source), '1')
  return {
    kind: 'ratio',
    uid: newUid(),
    source,
    read,
    operation: adds(placed) ? 'add' : 'multiply',
    amount: 1,
    muted: false,
    reference: adds(placed) ? 1 : dial?.default || 1,
    power: 1,
    component: 'all',
  } as unknown as Response
}
const formulaText = (source: Source, text: string): Source => (source.kind === 'formula' ? { ...source, text } : source)
/** Return a number as a formula writes it. */
const written = (base: Row['base']) =>
  typeof base === 'number' ? `${base}` : Array.isArray(base) ? `vec3(${base.join(', ')})` : '0'

const withUid = (source: Record<string, unknown>): Source =>
  ('uid' in source ? { ...source, uid: newUid() } : source) as unknown as Source

/** The range that a response reads, and what it was fitted to: nothing where it goes by no particles. */
export interface Fit {
  input: [number, number]
  fitted: string
}
/** Return the range a new response reads: fixed ones as they are, else what the particles have over the clip, fitted to what they have it by. */
export function liveInput(choice: SourceChoice, fitted: string): Fit {
  const live = choice.clip ?? choice.now
  if (choice.fixed || !live || live[2] - live[0] < 1e-6) return { input: [...choice.input], fitted: '' }
  return { input: [live[0], live[2]], fitted }
}

/** Whether a row's base is nought: whatever multiplied it would do nothing. */
export const isNought = (placed: PlacedRow) =>
  !isSourced(placed.row.base) && [placed.row.base].flat().every((component) => component === 0)

/** Whether a row is a place or a shift: what drives it moves it, whereas a factor leaves components at nought where they are. */
const isPlace = ({ spec }: PlacedRow) => spec.kind === 'vector' && spec.unit.symbol === 'm' && spec.lowest < 0

/** Whether a new response adds to a row rather than multiplies it. */
export const adds = (placed: PlacedRow) => isNought(placed) || isPlace(placed)

/** About as much as one would add to a row: its default, or a quarter of what a full drag spans, of one digit, in its unit. */
function usualReach(placed: PlacedRow): number {
  const { unit, drag, lowest, highest } = placed.spec
  if (lowest === 0 && highest === 1) return 1 // a share, of which a little often does nothing
  const wanted = [placed.spec.default].flat()[0] || drag / 4
  return Number((wanted * unit.scale).toPrecision(1)) / unit.scale
}

function makeResponse(placed: PlacedRow, source: Source, read: 'once' | 'live', fit: Fit): Response {
  const common = { uid: newUid(), source, read, ...fit, amount: 1, muted: false } as const
  if (placed.spec.kind === 'colour') {
    const later = (placed.row.responses ?? []).length > 0 // what the others make of the colour stays, brighter or darker
    const base = (isSourced(placed.row.base) || later ? [1, 1, 1] : placed.row.base) as [number, number, number]
    const dim = base.map((c) => Number((c * 0.15).toFixed(4))) as [number, number, number]
    return {
      ...common,
      kind: 'gradient',
      operation: later ? 'multiply' : 'set',
      gradient: {
        stops: [
          { x: 0, colour: base },
          { x: 1, colour: dim },
        ],
      },
    } as unknown as GradientResponse
  }
  const keys = [
    { x: 0, y: 0, shape: 'linear' },
    { x: 1, y: 1, shape: 'linear' },
  ]
  return {
    ...common,
    kind: 'curve',
    curve: { keys },
    component: 'all',
    ...(adds(placed)
      ? { operation: 'add', output: [0, usualReach(placed)] }
      : { operation: 'multiply', output: [0, 1] }),
  } as unknown as CurveResponse
}

export function removeResponse(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, index: number): void {
  const responses = placed.row.responses ?? []
  const title = responseTitle(catalog, effect.owner, placed, responses[index])
  setResponses(
    effect,
    placed,
    responses.filter((_, i) => i !== index),
    `Remove ${title}`,
  )
}

/** Move a response to another place in its row's order. */
export function moveResponse(effect: OpenEffect, placed: PlacedRow, from: number, to: number): void {
  const responses = [...(placed.row.responses ?? [])]
  if (to < 0 || to >= responses.length || from === to) return
  responses.splice(to, 0, ...responses.splice(from, 1))
  setResponses(effect, placed, responses, `Reorder ${placed.label.toLowerCase()}`)
}

export function toggleMute(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, index: number): void {
  const response = placed.row.responses![index]
  const title = responseTitle(catalog, effect.owner, placed, response)
  effect.edit(
    `${response.muted ? 'Unmute' : 'Mute'} ${title}`,
    effect.inEmitter([...responsePath(placed, index), 'muted']),
    !response.muted,
  )
}

export function toggleMuteRow(effect: OpenEffect, placed: PlacedRow): void {
  effect.edit(
    `${placed.row.muted ? 'Unmute' : 'Mute'} ${placed.label.toLowerCase()}`,
    effect.inEmitter([...placed.path, 'muted']),
    !placed.row.muted,
  )
}

export function toggleMuteSource(effect: OpenEffect, key: string, label: string): void {
  const muted = effect.emitter.muted_sources ?? []
  const now = muted.includes(key)
  effect.edit(
    `${now ? 'Unmute' : 'Mute'} all from ${label}`,
    effect.inEmitter(['muted_sources']),
    now ? muted.filter((k) => k !== key) : [...muted, key],
  )
}

export function setBase(effect: OpenEffect, placed: PlacedRow, base: Row['base'], label?: string): void {
  effect.edit(label ?? `Change ${placed.label.toLowerCase()}`, effect.inEmitter(basePath(placed)), base)
}

/**
 * Change the numbers of several rows in one edit, each held to its range: those that are in the same unit, or of any where the change is a
 * factor. Bases that are read from something stay.
 */
export function setNumbers(effect: OpenEffect, rows: readonly PlacedRow[], by: Change, unit: string): void {
  let { document } = effect
  let changed = 0
  for (const placed of rows) {
    const { spec } = placed
    const { base } = placed.row
    if (isSourced(base) || spec.kind === 'colour' || (!by.anyUnit && spec.unit.symbol !== unit)) continue
    const one = (was: number) => Math.min(Math.max(by.apply(was), spec.lowest), spec.highest)
    const value = typeof base === 'number' ? one(base) : base.map(one)
    document = put(document, effect.inEmitter(basePath(placed)), value)
    changed++
  }
  effect.replace(document, `Change ${changed} rows`)
}

type ShelfList = 'added' | 'pinned' | 'hidden'
/** Put a row on one of the sheet's lists, or take it off. */
export function shelve(effect: OpenEffect, list: ShelfList, address: string, on: boolean, label: string): void {
  const now = effect.owner.sheet?.[list] ?? []
  effect.edit(
    label,
    effect.inEmitter(['sheet', list]),
    on ? [...now.filter((a) => a !== address), address] : now.filter((a) => a !== address),
  )
}

/** Say something of a row, or with no text nothing any more. */
export function remarkOn(effect: OpenEffect, address: string, text: string, name: string): void {
  const others = (effect.owner.sheet?.remarks ?? []).filter((each) => each.row !== address)
  effect.edit(
    text ? `Remark on ${name}` : `Remove the remark on ${name}`,
    effect.inEmitter(['sheet', 'remarks']),
    text ? [...others, { row: address, text }] : others,
  )
}

/** Add what a band of the sheet offers; returns the uid of what was made, if it has one. */
export function addTo(effect: OpenEffect, add: AddSpec, more: Record<string, unknown> = {}): string {
  const value = withUids({ ...structuredClone(add.value as object), ...more }) as { uid?: string }
  const path = add.whole ? (add.path as Path) : effect.inEmitter(add.path)
  effect.edit(
    `Add ${add.label.toLowerCase().replace(/^draw: /, 'a draw ')}`,
    path,
    add.append ? [...((effect.at(path) as unknown[]) ?? []), value] : value,
  )
  return value.uid ?? ''
}

/** Take away a part: of a list by its path, or what there is once. */
export function removePart(effect: OpenEffect, part: PartSpec): void {
  const path = resolve(effect.owner, part.path)
  if (!path) return
  const label = `Remove ${part.label.toLowerCase()}`
  const last = path.at(-1)
  if (typeof last !== 'number') return effect.edit(label, effect.inEmitter(path), null)
  const within = effect.inEmitter(path.slice(0, -1))
  effect.edit(
    label,
    within,
    (effect.at(within) as unknown[]).filter((_, i) => i !== last),
  )
}

/** The list that a part stands in, and its place there; nothing where it stands in none. */
export function standsIn(effect: OpenEffect, part: PartSpec) {
  const path = resolve(effect.owner, part.path)
  const at = path?.at(-1)
  if (!path || typeof at !== 'number') return undefined
  const within = effect.inEmitter(path.slice(0, -1))
  return { within, at, list: effect.at(within) as { uid: string; muted: boolean }[] }
}

/** Let a push or ride act, or not. */
export function mutePart(effect: OpenEffect, part: PartSpec): void {
  const path = resolve(effect.owner, part.path)
  if (path)
    effect.edit(
      `${part.muted ? 'Let' : 'Mute'} ${part.label.toLowerCase()}${part.muted ? ' act' : ''}`,
      effect.inEmitter([...path, 'muted']),
      !part.muted,
    )
}

/** Draw a look, or not. */
export function muteLook(effect: OpenEffect, part: PartSpec): void {
  const path = resolve(effect.owner, part.path)
  if (path)
    effect.edit(
      `${part.muted ? 'Draw' : 'Do not draw'} the ${part.label.toLowerCase()}`,
      effect.inEmitter([...path, 'muted']),
      !part.muted,
    )
}

/** Let only this push or ride of its list act; where it already is the only one, all of them again. */
export function onlyPart(effect: OpenEffect, part: PartSpec): void {
  const { within, at, list } = standsIn(effect, part)!
  const alone = list.every((each, i) => each.muted === (i !== at))
  effect.edit(
    alone ? 'Let all of them act' : `Only ${part.label.toLowerCase()}`,
    within,
    list.map((each, i) => ({ ...each, muted: alone ? false : i !== at })),
  )
}

/** Put a part of a list elsewhere in it. */
export function movePart(effect: OpenEffect, part: PartSpec, by: -1 | 1): void {
  const { within, at, list } = standsIn(effect, part)!
  const result = list.filter((_, i) => i !== at)
  result.splice(at + by, 0, list[at])
  effect.edit(`Move ${part.label.toLowerCase()} ${by < 0 ? 'up' : 'down'}`, within, result)
}

/** Make a part another kind, as the core says: one edit. */
export function changeKind(effect: OpenEffect, kind: Pick<KindSpec, 'edits'>, label: string): void {
  let owner: unknown = effect.owner
  for (const edit of kind.edits) {
    const path = resolve(owner, edit.path)
    if (path) owner = put(owner, path, structuredClone(edit.value))
  }
  effect.edit(label, effect.inEmitter([]), owner)
}

/** Give a part another of its forms, as the core says: one edit. */
export function takeForm(effect: OpenEffect, part: PartSpec, label: string): void {
  const form = part.forms.find((each) => each.label === label)
  if (form) changeKind(effect, form, `Make ${part.label.toLowerCase()} ${label}`)
}

/** Return a name as formulas write it (the core's `identifier`). */
export function formulaName(name: string): string {
  const plain =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '') || 'unnamed'
  return /^\d/.test(plain) ? `_${plain}` : plain
}

/** Rename a dial, draw, own attribute or prop; formulas that read it follow. */
export async function rename(
  effect: OpenEffect,
  kind: 'dial' | 'draw' | 'own' | 'prop' | 'cue',
  uid: string,
  from: string,
  name: string,
): Promise<void> {
  const emitter = kind === 'dial' || kind === 'prop' ? '' : effect.emitter.uid
  await effect.ask((document) => api.rename({ document, kind, uid, name, emitter }), `Rename ${from} to ${name}`)
}

/** Make a dial of a row's number; returns its uid. */
export async function makeDial(
  effect: OpenEffect,
  placed: PlacedRow,
  how: 'sets' | 'multiplies' | 'limits',
  component: number | null = null,
): Promise<string> {
  const emitter = effect.owner.uid
  const result = await effect.ask(
    (document) => api.makeDial({ document, emitter, address: placed.address, how, component }),
    `Make a dial of ${placed.label.toLowerCase()}`,
  )
  return result.uid
}

/** Break a prop up: an emitter of its parts, which is looked at then. */
export async function breakUp(effect: OpenEffect, prop: Prop): Promise<void> {
  const result = await effect.ask((document) => api.breakUp({ document, uid: prop.uid }), `Break up ${prop.name}`)
  effect.emitterIndex = effect.document.emitters.findIndex((each) => each.uid === result.uid)
}

export function addEmitter(effect: OpenEffect, catalog: Catalog): void {
  const name = free(
    effect.document.emitters.map((e) => e.name),
    'Emitter',
  )
  const result = { ...structuredClone(catalog.data.emitter), uid: newUid(), name } as unknown as Emitter
  effect.edit(`Add ${name}`, ['emitters'], [...effect.document.emitters, result])
  effect.emitterIndex = effect.document.emitters.length - 1
}

export function removeEmitter(effect: OpenEffect, index: number): void {
  const gone = effect.document.emitters[index]
  effect.edit(
    `Remove ${gone.name}`,
    ['emitters'],
    effect.document.emitters.filter((_, i) => i !== index),
  )
  effect.emitterIndex = Math.max(0, Math.min(index, effect.document.emitters.length - 1))
}

/** Put an emitter where another stands, into its folder; the one that was looked at stays looked at. */
export function placeEmitter(effect: OpenEffect, uid: string, at: string): void {
  const list = [...effect.document.emitters]
  const from = list.findIndex((e) => e.uid === uid)
  const to = list.findIndex((e) => e.uid === at)
  if (from < 0 || to < 0 || from === to) return
  const looked = effect.emitter.uid
  const [moved] = list.splice(from, 1)
  list.splice(to, 0, { ...moved, folder: effect.document.emitters[to].folder ?? '' })
  effect.edit('Reorder emitters', ['emitters'], list)
  effect.emitterIndex = list.findIndex((e) => e.uid === looked)
}
