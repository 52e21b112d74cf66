/** Where what a source reads is made: the draw, attribute, dial, prop or row behind a chip. */
import { tick } from 'svelte'
import type { Source } from '../wire/types'
import type { Desk } from './context'
import { formulaName } from './edits'

export type Lead = { label: string; go: () => void }
type Parts = Pick<Desk, 'draft' | 'catalog' | 'selection'>

/** Show a row of what is looked at, in the sheet. */
export function showRow(address: string, { selection }: Pick<Desk, 'selection'>): void {
  selection.view = 'sheet'
  show(`[data-row="${address}"]`)
}
const show = (at: string) =>
  void tick().then(() => {
    const there = document.querySelector<HTMLElement>(at)
    there?.scrollIntoView({ block: 'nearest' })
    there?.querySelector<HTMLElement>('button')?.focus({ preventScroll: true })
  })

/** Return where a source of the thing looked at leads, nearest first; a formula to everything that it names. */
export function leadsOf(source: Source, { draft, catalog, selection }: Parts): Lead[] {
  const owner = draft.owner
  const formula = source.kind === 'formula' ? (source.text as string).replace(/#[^\n]*/g, '') : ''
  const named = (group: string, name: string) =>
    formula !== '' && new RegExp(`(?<![\\w.])${group}\\s*\\.\\s*${formulaName(name)}\\b`).test(formula)
  const read = Object.entries(source)
    .filter(([name, value]) => name !== 'uid' && name !== 'kind' && typeof value === 'string')
    .map(([, value]) => value as string)
  const leads: Lead[] = []
  for (const [group, things] of [
    ['draws', owner.draws ?? []],
    ['own', owner.own ?? []],
  ] as const)
    for (const each of things)
      if (read.includes(each.uid) || named(group, each.name))
        leads.push({
          label: each.name,
          go: () => {
            selection.view = 'sheet'
            show(`[data-draw="${each.uid}"], [data-own="${each.uid}"]`)
          },
        })
  for (const dial of draft.document.dials ?? [])
    if (read.includes(dial.uid) || named('dials', dial.name))
      leads.push({ label: dial.name, go: () => selection.showDials(dial.uid) })
  for (const prop of draft.document.props ?? [])
    if (
      read.includes(prop.uid) ||
      ['props', 'masks', 'latched', 'since', 'velocities', 'images', 'surfaces'].some((group) =>
        named(group, prop.name),
      )
    )
      leads.push({
        label: prop.name,
        go: () => {
          selection.view = 'props'
          draft.heldUid = prop.uid
        },
      })
  for (const address of read) {
    const row = catalog.rowAt(owner, address)
    if (row)
      leads.push({
        label: row.label,
        go: () => showRow(address, { selection }),
      })
  }
  return leads
}
