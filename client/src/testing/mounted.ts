/** Mounts a part of the Desk on a made-up one, whose edits are kept at once and listed by what they are called. */
import { render, screen } from '@testing-library/svelte'
import type { Component } from 'svelte'
import { vi } from 'vitest'
import type { Desk } from '../effect/context'
import { PickedLife } from '../effect/onelife.svelte'
import { Overlay } from '../effect/overlay.svelte'
import { Player } from '../effect/player.svelte'
import { Presets } from '../effect/presets.svelte'
import { Room } from '../effect/room.svelte'
import { api } from '../wire/api'
import type { FramePacket, Measure } from '../wire/packets'
import type { Opened } from '../wire/types'
import { madeUpDesk } from './desk'
import OnDesk from './OnDesk.svelte'

export type Mounted = Desk & {
  /** What each edit was called, in order. */
  edits: string[]
  /** The first emitter as the document has it now. */
  emitter: () => Desk['draft']['document']['emitters'][number]
  /** The item of the open menu, by its words. */
  item: (label: string) => NonNullable<NonNullable<Overlay['menu']>['items'][number]>
  /** Take an item of the menu that a button opens. */
  take: (button: HTMLElement, label: string) => void
}

/**
 * Mount a part. props: what the Desk hands to it, asked for again whenever it changes; null while the Desk does not show it. change: what is
 * different in the effect that is opened; open: what is done on the Desk before the part is there.
 */
export function mounted(
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  part: Component<any>,
  props: (desk: Desk) => Record<string, unknown> | null = () => ({}),
  { change, open }: { change?: (opened: Opened) => void; open?: (desk: Desk) => void } = {},
): Mounted {
  const { catalog, draft, selection, opened } = madeUpDesk(change)
  const player = new Player(draft.document)
  const desk: Desk = {
    catalog,
    draft,
    selection,
    player,
    overlay: new Overlay(),
    presets: new Presets(),
    picked: new PickedLife(draft, player),
    room: new Room(),
  }
  const edits: string[] = []
  vi.spyOn(api, 'save').mockImplementation(async (_, revision, document, label) => {
    edits.push(label)
    return { ...opened, revision: revision + 1, document }
  })
  open?.(desk)
  render(OnDesk, { props: { desk, part, props } })
  const item = (label: string) => {
    const found = desk.overlay.menu?.items.find((each) => each?.label === label)
    if (!found) throw new Error(`no ${label} in ${desk.overlay.menu?.items.map((each) => each?.label).join(', ')}`)
    return found
  }
  return {
    ...desk,
    edits,
    emitter: () => draft.document.emitters[0],
    item,
    take(button, label) {
      button.click()
      item(label).act()
    },
  }
}

/** Let the first emitter's live values be these. */
export function measured({ player }: Desk, measure: Partial<Measure>): void {
  player.measured = {
    emitters: [{ uid: 'one', measure: { count: 0, rows: {}, responses: {}, ...measure } }],
  } as unknown as FramePacket
}

export const button = (name: string | RegExp): HTMLElement => screen.getByRole('button', { name })
