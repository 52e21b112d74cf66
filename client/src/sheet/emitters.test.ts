import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { button, mounted, type Mounted } from '../testing/mounted'
import { api } from '../wire/api'
import { listed } from './emitters'
import EmitterTabs from './EmitterTabs.svelte'

afterEach(() => vi.restoreAllMocks())

const tab = (name: string) => screen.getByRole('tab', { name: new RegExp(`^${name}`) })
const names = ({ draft }: Mounted) => draft.document.emitters.map((each) => each.name)

describe('the emitters over the sheet', () => {
  it('are chosen, renamed, hidden, listened to alone and put in another order', async () => {
    const desk = mounted(EmitterTabs)
    const [first, second] = names(desk)
    await fireEvent.click(tab(second))
    expect([desk.draft.emitterIndex, desk.selection.uid]).toEqual([1, null])
    await fireEvent.keyDown(tab(second), { key: 'ArrowRight' }) // round to the first
    expect(desk.draft.emitterIndex).toBe(0)
    await fireEvent.keyDown(tab(first), { key: 'F2' })
    const name = await screen.findByRole('textbox', { name: 'Emitter name' })
    await fireEvent.input(name, { target: { value: 'Blossom' } })
    await fireEvent.keyDown(name, { key: 'Enter' })
    expect(names(desk)).toEqual(['Blossom', second])
    await fireEvent.contextMenu(await screen.findByRole('tab', { name: /^Blossom/ }))
    desk.item('Solo: only this emitter').act()
    expect(desk.selection.only).toBe('one')
    desk.item('Hide').act()
    expect(desk.emitter().visible).toBe(false)
    desk.item('Later').act()
    expect(names(desk)).toEqual([second, 'Blossom'])
    await vi.waitFor(() => expect(desk.edits[0]).toMatch(/^Rename .* to Blossom$/))
  })

  it('are duplicated and deleted, and one always stays', async () => {
    const desk = mounted(EmitterTabs)
    const copy = vi.spyOn(api, 'copy').mockResolvedValue({ piece: { kind: 'emitter' } } as never)
    vi.spyOn(api, 'paste').mockImplementation(async ({ document }) => {
      const { emitters } = document as unknown as Mounted['draft']['document']
      return {
        document: { ...document, emitters: [...emitters, { ...emitters[0], uid: 'copy', name: 'Copy' }] } as never,
        uids: ['copy'],
      }
    })
    await fireEvent.contextMenu(tab(names(desk)[0]))
    desk.item('Duplicate').act()
    await screen.findByRole('tab', { name: /^Copy/ })
    expect(copy.mock.lastCall![0]).toMatchObject({ kind: 'emitter', emitter: 'one' })
    expect(desk.draft.emitter.uid).toBe('copy')
    for (const left of [2, 1]) {
      await fireEvent.contextMenu(screen.getAllByRole('tab')[0])
      desk.item('Delete').act()
      await vi.waitFor(() => expect(screen.getAllByRole('tab').length).toBe(left))
    }
    await fireEvent.contextMenu(screen.getAllByRole('tab')[0])
    expect(desk.item('Delete').disabled).toBe(true)
  })

  it('stand in a list where there are many or where they have folders', () => {
    const { draft } = mounted(EmitterTabs)
    const [one] = draft.document.emitters
    expect([6, 7].map((n) => listed(Array(n).fill(one)))).toEqual([false, true])
    expect(listed([one, { ...one, folder: 'river' }])).toBe(true)
  })

  it('takes one that was copied, and says why where none was', async () => {
    const desk = mounted(EmitterTabs)
    await fireEvent.click(button('Add an emitter'))
    expect([desk.item('Paste the copied emitter').disabled, desk.item('New emitter').disabled]).toEqual([
      true,
      undefined,
    ])
    localStorage.setItem('kagero.piece', JSON.stringify({ kind: 'emitter' }))
    await fireEvent.click(button('Add an emitter'))
    expect(desk.item('Paste the copied emitter').disabled).toBe(false)
    desk.item('New emitter').act()
    expect(names(desk).length).toBe(3)
  })
})
