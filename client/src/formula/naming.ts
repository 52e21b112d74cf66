/** What a formula lacks, made while it is written: a dial or a draw under the name that stands there, or a dial of a number in it. */
import type { Catalog } from '../effect/catalog.svelte'
import { formulaName, freshDraw } from '../effect/edits'
import type { OpenEffect } from '../effect/open.svelte'
import { newUid } from '../effect/path'
import type { Dial } from '../wire/types'

/** What could be made of a name that nothing has: its kind, and what it is to be called. A name of another group offers nothing. */
export function makeable(unknown: string): { kind: 'dial' | 'draw'; name: string }[] {
  const [group, name] = unknown.includes('.') ? unknown.split('.', 2) : ['', unknown]
  if (!name) return []
  if (group === 'dials') return [{ kind: 'dial', name }]
  if (group === 'draws') return [{ kind: 'draw', name }]
  return group
    ? []
    : [
        { kind: 'dial', name },
        { kind: 'draw', name },
      ]
}

/** Return a text in which a name that nothing had is that of what was made for it. */
export function renamedIn(text: string, unknown: string, known: string): string {
  const name = unknown.replace(/[.]/g, '\\s*\\.\\s*')
  return text.replace(new RegExp(`#[^\n]*|(?<![\\w.])${name}\\b(?!\\s*\\()`, 'g'), (found) =>
    found[0] === '#' ? found : known,
  )
}

/** Return the range in which a dial of a number turns first: from nought to twice it. */
const around = (value: number): [number, number] => (value > 0 ? [0, 2 * value] : value < 0 ? [2 * value, 0] : [-1, 1])

/** Make a dial, or a draw of the emitter looked at; return the name by which formulas read it. */
export function makeNamed(draft: OpenEffect, catalog: Catalog, kind: 'dial' | 'draw', name: string, value = 1): string {
  if (kind === 'draw') {
    const result = { ...freshDraw(draft.emitter, catalog, 'uniform'), name }
    draft.edit(`Make a draw ${name}`, draft.inEmitter(['draws']), [...(draft.emitter.draws ?? []), result])
    return `draws.${formulaName(name)}`
  }
  const dials = draft.document.dials ?? []
  const free = [name, ...Array.from({ length: 98 }, (_, i) => `${name} ${i + 2}`)].find(
    (each) => !dials.some((d) => formulaName(d.name) === formulaName(each)),
  )!
  const [low, high] = around(value)
  const result: Dial = { uid: newUid(), name: free, value, low, high, default: value, unit: '', note: '' }
  draft.edit(`Make a dial ${free}`, ['dials'], [...dials, result])
  return `dials.${formulaName(free)}`
}

/** Return the number at a place of a text: where it starts and ends, and what it is; null where there is none. */
export function numberAt(text: string, at: number): { from: number; to: number; value: number } | null {
  for (const found of text.matchAll(/#[^\n]*|(?<![\w.])(\d+\.?\d*|\.\d+)(e[+-]?\d+)?(?![\w.])/gi)) {
    const to = found.index + found[0].length
    if (found[0][0] !== '#' && found.index <= at && at <= to) return { from: found.index, to, value: Number(found[0]) }
  }
  return null
}
