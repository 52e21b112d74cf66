import { fireEvent, screen, within } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { mounted } from '../testing/mounted'
import Sheet from './Sheet.svelte'

afterEach(() => vi.restoreAllMocks())
const rows = (within?: Element | null) =>
  [...(within ?? document).querySelectorAll('[data-row]')].map((each) => each.getAttribute('data-row'))

describe('the sheet', () => {
  it('has the rows that are in use, and offers the others, which then stand', async () => {
    const desk = mounted(Sheet)
    expect(rows()).toEqual(
      expect.arrayContaining(['births.rate', 'births.lifespan', 'look.size', 'look.opacity', 'forces.g.strength']),
    )
    expect(rows()).not.toContain('look.stretch')
    await fireEvent.click(screen.getByRole('button', { name: 'Add a row to look' }))
    const item = desk.overlay.list!.items.find((each) => each.label === 'Stretch')!
    item.act()
    expect(desk.emitter().sheet!.added).toEqual(['look.stretch'])
    await vi.waitFor(() => expect(rows()).toContain('look.stretch'))
  })

  it('shows pinned rows above all, and keeps hidden ones out of sight until they are asked for', async () => {
    const sheet = { added: [], pinned: ['look.opacity'], hidden: ['forces.g.strength'], remarks: [] }
    mounted(Sheet, () => ({}), { change: ({ document }) => (document.emitters[0].sheet = sheet as never) })
    expect(rows(screen.getByLabelText('Pinned rows'))).toEqual(['look.opacity'])
    expect(rows()).not.toContain('forces.g.strength')
    await fireEvent.click(screen.getByText('show 1 hidden'))
    expect(rows()).toContain('forces.g.strength')
  })

  it('shows only what one source drives, and all again', async () => {
    const desk = mounted(Sheet)
    const all = rows()
    desk.selection.filter = 'life'
    await screen.findByText('show all rows')
    expect(document.querySelector('[data-part=rows]')!.textContent).toContain('Only what life drives: 2 rows')
    expect(rows().toSorted()).toEqual(['look.opacity', 'look.size'])
    await fireEvent.click(within(document.body).getByText('show all rows'))
    expect(rows()).toEqual(all)
  })
})
