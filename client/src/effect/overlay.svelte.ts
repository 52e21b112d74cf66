/** What opens over the Desk for a moment: one menu, or the list of sources for one row. */
import type { Anchor } from '../controls/anchor'
import { api } from '../wire/api'
import type { HelpCard } from '../wire/types'
import type { PlacedRow } from './catalog.svelte'

export type MenuItem = {
  label: string
  act: () => void
  hint?: string
  disabled?: boolean
  why?: string
  dot?: string
} | null
export type { Anchor }

export class Overlay {
  menu = $state.raw<{ anchor: Anchor; title: string; items: MenuItem[] } | null>(null)
  /** The list of sources. onpick: for choosing another source for a response there is, instead of driving the row. */
  picker = $state.raw<{ anchor: Anchor; address: string; replaces?: string } | null>(null)
  /** Rows to add, or columns to colour by: a searchable list. */
  list = $state.raw<{
    anchor: Anchor
    title: string
    items: {
      label: string
      group: string
      help?: string
      detail?: string
      why?: string
      /** Where its picture is. */
      picture?: string
      act: () => void
    }[]
    /** What a text that names nothing here could be taken for. */
    make?: (text: string) => { label: string; act: () => void }
  } | null>(null)
  /** The card on something: of what, and the row it was asked for on. */
  card = $state.raw<{ anchor: Anchor; key: string; address?: string } | null>(null)
  /** What went wrong with something asked for here, in words. */
  notice = $state('')
  private back: HTMLElement | null = null

  openMenu(from: EventTarget | null, title: string, items: MenuItem[]): void {
    this.menu = { anchor: this.anchor(from), title, items }
  }
  openPicker(from: EventTarget | null, placed: PlacedRow, replaces?: string): void {
    this.picker = { anchor: this.anchor(from), address: placed.address, replaces }
  }
  openList(
    from: EventTarget | null,
    title: string,
    items: NonNullable<Overlay['list']>['items'],
    make?: NonNullable<Overlay['list']>['make'],
  ): void {
    this.list = { anchor: this.anchor(from), title, items, make }
  }

  openCard(from: EventTarget | null, key: string, address?: string): void {
    this.card = { anchor: this.anchor(from), key, address }
  }
  openCardAt(anchor: Anchor, key: string): void {
    this.close(false)
    this.card = { anchor, key }
  }
  private known: Promise<Map<string, HelpCard>> | null = null
  /** Every card by its key; asked for once. */
  cards(): Promise<Map<string, HelpCard>> {
    this.known ??= api.cards().then((cards) => new Map(cards.map((each) => [each.key, each])))
    this.known.catch(() => (this.known = null))
    return this.known
  }

  /** Close whatever is open; the keyboard goes back to where it was. */
  close(refocus = true): void {
    this.menu = this.picker = this.list = this.card = null
    if (refocus) this.back?.focus()
  }

  /** Run something that the server may refuse, and say so if it does; what it says itself stays. */
  async attempt(work: () => Promise<unknown>): Promise<void> {
    this.notice = ''
    try {
      await work()
    } catch (problem) {
      this.notice = (problem as Error).message || 'The server does not answer. Try again in a moment.'
    }
  }

  private anchor(from: EventTarget | null): Anchor {
    this.close(false)
    const element = from as HTMLElement
    this.back = element
    const { left, top, right, bottom } = element.getBoundingClientRect()
    return { left, top, right, bottom }
  }
}
