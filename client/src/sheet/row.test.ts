import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { button, measured, mounted, type Mounted } from '../testing/mounted'
import { api } from '../wire/api'
import type { Opened } from '../wire/types'
import Out from './Out.svelte'
import SheetRow from './SheetRow.svelte'

afterEach(() => vi.restoreAllMocks())

const SIZE = 'look.size'
const GRAVITY = 'forces.g.strength'
const row = (address = SIZE, change?: (opened: Opened) => void) =>
  mounted(SheetRow, ({ catalog, draft }) => ({ placed: catalog.rowAt(draft.owner, address)! }), { change })
const chips = () => screen.getAllByRole('button', { name: /^Size (multiply|add|set) from/ })
const uids = ({ emitter }: Mounted) => emitter().look.size.responses!.map((each: { uid: string }) => each.uid)

describe('a row of the sheet', () => {
  it('says its base, its responses in order, and what comes of them now', async () => {
    const desk = row()
    expect(button('Size: 0.1 m').textContent).toBe('0.1 m')
    expect(chips().map((each) => each.getAttribute('aria-label'))).toEqual([
      expect.stringContaining('Size multiply from life, live'),
      expect.stringContaining('Size multiply from flicker, live'),
    ])
    expect(document.querySelector('[data-out]')!.textContent).toBe('–')
    measured(desk, { rows: { [SIZE]: { spread: [[0.05, 0.075, 0.1]] } } })
    await vi.waitFor(() => expect(document.querySelector('[data-out]')!.textContent!.trim()).toBe('0.05 – 0.1'))
    measured(desk, { rows: { [SIZE]: { spread: [[0.1, 0.1, 0.1]] } } }) // all alike: one number
    await vi.waitFor(() => expect(document.querySelector('[data-out]')!.textContent!.trim()).toBe('0.1'))
  })

  it('says of a scale what it is along each axis, not how long it is', async () => {
    const unit = { symbol: '', scale: 1, digits: 2 }
    const placed = { address: 'place.scale', spec: { kind: 'vector', key: 'place.scale', unit } }
    const desk = mounted(Out, () => ({ placed }))
    measured(desk, { rows: { 'place.scale': { spread: [2, 2, 2].map((v) => [v, v, v]) as never } } })
    await vi.waitFor(() => expect(document.body.textContent!.trim()).toBe('2'))
    measured(desk, { rows: { 'place.scale': { spread: [1, 2, 0.5].map((v) => [v, v, v]) as never } } })
    await vi.waitFor(() => expect(document.body.textContent!.trim()).toBe('1 × 2 × 0.5'))
  })

  it('pins, hides, mutes, empties and resets from its menu, each an edit with a name', async () => {
    const desk = row()
    const name = button('Size')
    desk.take(name, 'Pin to the top')
    expect(desk.emitter().sheet!.pinned).toEqual([SIZE])
    desk.take(name, 'Unpin')
    desk.take(name, 'Hide in the sheet')
    expect(desk.emitter().sheet).toMatchObject({ pinned: [], hidden: [SIZE] })
    desk.take(name, 'Mute its responses')
    expect(desk.emitter().look.size.muted).toBe(true)
    await vi.waitFor(() =>
      expect(chips().every((each) => each.getAttribute('aria-label')!.includes('silent'))).toBe(true),
    )
    name.click()
    expect(desk.item('Back to its default').disabled).toBe(true)
    desk.take(name, 'Remove all responses')
    await vi.waitFor(() => expect(screen.queryByRole('button', { name: /from life/ })).toBe(null))
    desk.take(name, 'Back to its default')
    expect(desk.emitter().look.size).toMatchObject({
      responses: [],
      base: desk.catalog.rowAt(desk.draft.owner, SIZE)!.spec.default,
    })
    name.click()
    expect(desk.item('Let its responses act').disabled).toBe(true)
    await vi.waitFor(() => expect(desk.edits.length).toBe(6))
    expect(desk.edits.slice(0, 4)).toEqual(['Pin size', 'Unpin size', 'Hide size', expect.stringMatching(/^Mute/)])
  })

  it('has a key for what is done most, where there is something to do it to', async () => {
    const desk = row()
    const name = button('Size')
    await fireEvent.keyDown(name, { key: 'm' })
    expect(desk.emitter().look.size.muted).toBe(true)
    await fireEvent.keyDown(name, { key: 's' })
    expect(desk.selection.solo).toMatchObject({ emitter: 'one', row: SIZE })
    await fireEvent.keyDown(name, { key: 's' })
    expect(desk.selection.solo).toBe(null)
    await fireEvent.keyDown(name, { key: 'd' })
    expect(desk.overlay.picker?.address).toBe(SIZE)
    await fireEvent.keyDown(name, { key: '?' })
    expect(desk.overlay.card?.address).toBe(SIZE)
  })

  it('has nothing to mute or solo where nothing drives it', async () => {
    const desk = row(GRAVITY)
    const name = button('Gravity')
    await fireEvent.keyDown(name, { key: 'm' })
    await fireEvent.keyDown(name, { key: 's' })
    expect([desk.edits, desk.selection.solo]).toEqual([[], null])
  })

  it('takes what is typed into all rows that are marked with it', async () => {
    const desk = row()
    await fireEvent.click(button('Size'), { ctrlKey: true })
    desk.selection.mark(GRAVITY)
    expect(desk.selection.marked).toEqual([SIZE, GRAVITY])
    await screen.findByLabelText('marked')
    await fireEvent.keyDown(button('Size: 0.1 m'), { key: 'Enter' })
    await fireEvent.click(button('Size: 0.1 m'))
    const field = await screen.findByRole('textbox', { name: 'Size' })
    await fireEvent.input(field, { target: { value: '*2' } })
    await fireEvent.keyDown(field, { key: 'Enter' })
    const { look, forces } = desk.emitter()
    expect([look.size.base, forces![0].strength.base]).toEqual([0.2, 19.62])
    await vi.waitFor(() => expect(desk.edits.length).toBe(1)) // one edit, one undo
  })

  it('shows a formula as its base by its last line that computes', () => {
    row(SIZE, ({ document }) => {
      document.emitters[0].look.size.base = {
        source: { kind: 'formula', uid: 'f', text: 'half = 0.5\nhalf * life # grows\n' },
        read: 'live',
      } as never
    })
    expect(button('half * life').getAttribute('title')).toContain('half = 0.5')
  })
})

describe('a response in a row', () => {
  it('moves, mutes, is heard alone and goes by keys', async () => {
    const desk = row()
    await fireEvent.keyDown(chips()[0], { key: 'ArrowRight', altKey: true })
    expect(uids(desk)).toEqual(['flicker', 'life'])
    await vi.waitFor(() => expect(chips()[0].dataset.response).toBe('flicker'))
    await fireEvent.keyDown(chips()[0], { key: 'ArrowLeft', altKey: true }) // it is the first already
    expect(uids(desk)).toEqual(['flicker', 'life'])
    await fireEvent.keyDown(chips()[1], { key: 'm' })
    expect(desk.emitter().look.size.responses!.map((each: { muted?: boolean }) => !!each.muted)).toEqual([false, true])
    await vi.waitFor(() => expect(chips()[1].getAttribute('aria-label')).toContain(', muted'))
    await fireEvent.keyDown(chips()[1], { key: 's' })
    await vi.waitFor(() => expect(chips()[0].getAttribute('aria-label')).toContain(', silent'))
    expect(desk.selection.solo).toMatchObject({ row: SIZE, response: 'life' })
    await fireEvent.keyDown(chips()[0], { key: 'Delete' })
    expect(uids(desk)).toEqual(['life'])
  })

  it('is carried to another place in its row, and to the next row', async () => {
    const desk = row()
    const paste = vi.spyOn(api, 'paste')
    const data = { getData: () => `${SIZE}|1|flicker`, types: ['application/x-kagero-response'] }
    await fireEvent.drop(chips()[0], { dataTransfer: data })
    expect(uids(desk)).toEqual(['flicker', 'life'])
    expect(paste).not.toHaveBeenCalled() // the row's own order
    vi.spyOn(api, 'copy').mockResolvedValue({ piece: { kind: 'responses' } } as never)
    paste.mockImplementation(async ({ document }) => ({ document: document as never, uids: ['new'] }))
    await vi.waitFor(() => expect(chips()[0].dataset.response).toBe('flicker'))
    await fireEvent.keyDown(chips()[0], { key: 'ArrowDown', altKey: true })
    await vi.waitFor(() => expect(paste).toHaveBeenCalledTimes(1))
    const { catalog, draft } = desk
    const rows = catalog.rowsOf(draft.owner).filter((each) => !each.unused)
    const next = rows[rows.findIndex((each) => each.address === SIZE) + 1].address
    expect(paste.mock.lastCall![0]).toMatchObject({ address: next, move: ['flicker'] })
  })

  it('is chosen by a click, and says once where it reads at birth only', async () => {
    const desk = row()
    await fireEvent.click(chips()[1])
    expect(desk.selection.uid).toBe('flicker')
    await fireEvent.contextMenu(chips()[0])
    desk.item('Read once, at birth').act()
    expect(desk.emitter().look.size.responses![0].read).toBe('once')
    await vi.waitFor(() => expect(chips()[0].textContent).toContain('once'))
  })
})
