/** Making a dial of a number: the menu that asks what the dial is to do with it. */
import type { PlacedRow } from '../effect/catalog.svelte'
import type { Desk } from '../effect/context'
import { makeDial } from '../effect/edits'
import { isSourced } from '../effect/catalog.svelte'
import type { MenuItem } from '../effect/overlay.svelte'

type Parts = Pick<Desk, 'draft' | 'overlay' | 'selection'>

/** Return what a menu offers to make a dial of a row, or of one number of a vector. */
export function dialItems(placed: PlacedRow, component: number | null, desk: Parts): MenuItem[] {
  const whole = placed.spec.kind === 'colour' || (placed.spec.kind === 'vector' && component === null)
  const sourced = isSourced(placed.row.base)
  const make = (how: 'sets' | 'multiplies' | 'limits') => () =>
    void desk.overlay.attempt(async () => {
      desk.selection.showDials(await makeDial(desk.draft, placed, how, component))
    })
  const why = sourced ? 'Its base is no number.' : 'It has several numbers: right-click one of them.'
  return [
    { label: 'Make a dial of it', act: make('sets'), disabled: whole || sourced, why },
    { label: 'Make a dial that multiplies it', act: make('multiplies'), disabled: sourced, why },
    { label: 'Make a dial that limits it', act: make('limits'), disabled: whole || sourced, why },
  ]
}

export function openDialMenu(event: MouseEvent, placed: PlacedRow, component: number | null, desk: Parts): void {
  event.preventDefault()
  desk.overlay.openMenu(event.currentTarget, placed.label, dialItems(placed, component, desk))
}
