import { fireEvent, screen, within } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { mounted } from '../testing/mounted'
import type { Opened, Response } from '../wire/types'
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

  it('offers to fit ranges again where what they were fitted to has changed, or to leave them', async () => {
    const was = ({ document, layout }: Opened) => {
      Object.assign(document.emitters[0].look.size.responses![0], { fitted: 'the first mesh', input: [0.8, 0.2] })
      layout.emitters.one.fitted = 'the second mesh'
    }
    const desk = mounted(Sheet, () => ({}), { change: was })
    const bar = document.querySelector<HTMLElement>('[data-part=outgrown]')!
    expect(bar.textContent).toContain('The range of life on size was fitted to what has changed since.')
    const fitAgain = within(bar).getByRole('button', { name: 'Fit again' })
    expect(fitAgain).toHaveProperty('disabled', true) // not all of the clip is known
    const spread = { low: 1, high: 3, mean: 2, below: 0, above: 0, bins: [] }
    const facts = { emitters: [{ uid: 'one', profile: { responses: { life: spread } } }] }
    desk.player.clipFacts = facts as unknown as typeof desk.player.clipFacts
    desk.player.clipComplete = true
    await vi.waitFor(() => expect(fitAgain).toHaveProperty('disabled', false))
    await fireEvent.click(fitAgain)
    expect(desk.emitter().look.size.responses![0]).toMatchObject({ input: [3, 1], fitted: 'the second mesh' })
    await vi.waitFor(() => expect(document.querySelector('[data-part=outgrown]')).toBeNull())
    expect(desk.edits).toEqual(['Fit a range again'])
  })

  it('leaves ranges as they are when that is wanted', async () => {
    const desk = mounted(Sheet, () => ({}), {
      change({ document, layout }) {
        for (const response of document.emitters[0].look.size.responses!) response.fitted = 'a picture'
        layout.emitters.one.fitted = 'another'
      },
    })
    expect(screen.getByText('2 ranges were')).toBeTruthy()
    const before = desk
      .emitter()
      .look.size.responses!.map((r: Response) => (r.kind === 'ratio' ? r.reference : r.input))
    await fireEvent.click(screen.getByText('leave'))
    await vi.waitFor(() => expect(screen.queryByText('leave')).toBeNull())
    expect(
      desk.emitter().look.size.responses!.map((r: Response) => (r.kind === 'ratio' ? r.reference : r.input)),
    ).toEqual(before)
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
