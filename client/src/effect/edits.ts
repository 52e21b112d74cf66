/** Edits an artist makes, as changes to the document with a name for undo. */
import type { CurveResponse, Emitter, Force, GradientResponse, Response, Source } from '../wire/types'
import type { Catalog, PlacedRow } from './catalog'
import type { OpenEffect } from './open.svelte'
import { newUid, put, type Path } from './path'

export const responsePath = (placed: PlacedRow, index: number): Path => [...placed.path, 'responses', index]

/** What a response is called in undo and titles: "Size from life". */
export function responseTitle(catalog: Catalog, emitter: Emitter, placed: PlacedRow, response: Response): string {
  return `${placed.spec.label} from ${catalog.sourceName(emitter, response.source)}`
}

function freeDrawName(emitter: Emitter): string {
  const taken = new Set((emitter.draws ?? []).map((d) => d.name))
  for (let i = 0; ; i++) {
    const name = `draw ${String.fromCharCode(65 + (i % 26))}${i >= 26 ? Math.floor(i / 26) : ''}`
    if (!taken.has(name)) return name
  }
}

/** Make a number vary per particle: a draw (a new one without `draw`) and a response ready to adjust. Returns its uid. */
export function vary(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, draw: string | null): string {
  const emitter = effect.emitter
  let draws = emitter.draws ?? []
  if (!draw) {
    draw = newUid()
    draws = [...draws, { uid: draw, name: freeDrawName(emitter), kind: 'uniform' }]
  }
  const response = makeResponse(catalog, placed, { kind: 'draw', draw })
  if (response.kind === 'curve') {
    response.output = [0.75, 1.25]
    response.read = 'once'
  }
  const changed = put({ ...emitter, draws }, [...placed.path, 'responses'], [...(placed.row.responses ?? []), response])
  effect.edit(`Vary ${placed.spec.label.toLowerCase()}`, effect.inEmitter([]), changed)
  return response.uid
}

/** Drive a row by a source: returns the new response's uid. */
export function drive(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, source: Source, clipSeconds: number): string {
  const response = makeResponse(catalog, placed, source)
  if (source.kind === 'clip_time') response.input = [0, Number(clipSeconds.toFixed(4))]
  const path = effect.inEmitter([...placed.path, 'responses'])
  effect.edit(`Drive ${placed.spec.label.toLowerCase()} from ${catalog.sourceName(effect.emitter, source)}`, path, [...(placed.row.responses ?? []), response])
  return response.uid
}

function makeResponse(catalog: Catalog, placed: PlacedRow, source: Source): Response {
  const spec = catalog.source(source.kind)
  const read = placed.spec.stage === 'birth' ? 'once' : placed.spec.stage === 'emitter' || spec.changes ? 'live' : 'once'
  const common = { uid: newUid(), source, read, input: [...spec.default_input], amount: 1, muted: false } as const
  if (placed.spec.kind === 'colour') {
    const base = placed.row.base as [number, number, number]
    const dim = base.map((c) => Number((c * 0.15).toFixed(4))) as [number, number, number]
    return { ...common, kind: 'gradient', operation: 'set', gradient: { stops: [{ x: 0, colour: base }, { x: 1, colour: dim }] } } as unknown as GradientResponse
  }
  const keys = [{ x: 0, y: 0, shape: 'linear' }, { x: 1, y: 1, shape: 'linear' }]
  return { ...common, kind: 'curve', operation: 'multiply', curve: { keys }, output: [0, 1], component: 'all' } as unknown as CurveResponse
}

export function removeResponse(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, index: number): void {
  const responses = placed.row.responses ?? []
  const title = responseTitle(catalog, effect.emitter, placed, responses[index])
  effect.edit(`Remove ${title}`, effect.inEmitter([...placed.path, 'responses']), responses.filter((_, i) => i !== index))
}

/** Move a response to another place in its row's order. */
export function moveResponse(effect: OpenEffect, placed: PlacedRow, from: number, to: number): void {
  const responses = [...(placed.row.responses ?? [])]
  if (to < 0 || to >= responses.length || from === to) return
  responses.splice(to, 0, ...responses.splice(from, 1))
  effect.edit(`Reorder ${placed.spec.label.toLowerCase()}`, effect.inEmitter([...placed.path, 'responses']), responses)
}

export function toggleMute(effect: OpenEffect, catalog: Catalog, placed: PlacedRow, index: number): void {
  const response = placed.row.responses![index]
  const title = responseTitle(catalog, effect.emitter, placed, response)
  effect.edit(`${response.muted ? 'Unmute' : 'Mute'} ${title}`, effect.inEmitter([...responsePath(placed, index), 'muted']), !response.muted)
}

export function addForce(effect: OpenEffect, catalog: Catalog, kind: string): string {
  const { label, template } = catalog.data.forces.find((f) => f.kind === kind)!
  const force = { ...structuredClone(template), uid: newUid(), muted: false } as unknown as Force
  effect.edit(`Add ${label.toLowerCase()}`, effect.inEmitter(['forces']), [...(effect.emitter.forces ?? []), force])
  return force.uid
}

export function removeForce(effect: OpenEffect, force: Force, label: string): void {
  effect.edit(`Remove ${label.toLowerCase()}`, effect.inEmitter(['forces']), (effect.emitter.forces ?? []).filter((f) => f.uid !== force.uid))
}
