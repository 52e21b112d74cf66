import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { button, mounted } from '../testing/mounted'
import { api } from '../wire/api'
import Loom from './Loom.svelte'

afterEach(() => vi.restoreAllMocks())

const choice = (more: Record<string, unknown> = {}) => ({
  key: 'life', column: 'life', label: 'life', group: 'time', source: { kind: 'life' }, read: 'live', unit: { symbol: '%', scale: 100, digits: 0 },
  help: '', refusal: '', input: [0, 1], whole: false, now: [0, 0.5, 1], clip: null, ...more,
}) // prettier-ignore

describe('the loom', () => {
  it('has a column for each source, the one that drives most first, and what is driven above', () => {
    mounted(Loom)
    const heads = screen.getAllByRole('columnheader').map((each) => each.textContent!.trim())
    expect(heads.slice(1, 3)).toEqual(['life', 'flicker'])
    const rows = screen.getAllByRole('rowheader').map((each) => each.textContent!.trim())
    expect(rows.slice(0, 2).toSorted()).toEqual(['Opacity', 'Size'])
    expect(rows).toContain('Gravity')
  })

  it('mutes, solos and filters by a whole column', async () => {
    const desk = mounted(Loom)
    await fireEvent.click(button('Mute all from life'))
    expect(desk.emitter().muted_sources).toEqual(['life'])
    await fireEvent.click(button('Mute all from life'))
    expect(desk.emitter().muted_sources).toEqual([])
    await fireEvent.click(button('Solo life'))
    expect(desk.selection.solo).toMatchObject({ emitter: 'one', source: 'life' })
    await fireEvent.click(button('Solo life'))
    expect(desk.selection.solo).toBe(null)
    await fireEvent.click(button('life'))
    expect([desk.selection.filter, desk.selection.view]).toEqual(['life', 'sheet'])
  })

  it('fills an empty crossing with what the source would be, and says why where it cannot', async () => {
    const desk = mounted(Loom)
    const sources = vi.spyOn(api, 'sources').mockResolvedValue([choice()] as never)
    await fireEvent.click(button('Drive Gravity from life'))
    await vi.waitFor(() => expect(desk.emitter().forces![0].strength.responses?.[0]?.source).toEqual({ kind: 'life' }))
    expect(sources.mock.lastCall!.slice(1)).toEqual(['one', 0, 'forces.g.strength'])
    expect(desk.selection.uid).toBe(desk.emitter().forces![0].strength.responses![0].uid)
    await fireEvent.click(button('Drive Opacity from flicker')) // among the sources there is no such draw
    await vi.waitFor(() => expect(desk.overlay.notice).toMatch(/^flicker is set for one response alone/))
    sources.mockResolvedValue([choice({ refusal: 'Not on this row.' })] as never)
    await fireEvent.click(screen.getAllByRole('button', { name: /^Drive .* from life/ })[0])
    await vi.waitFor(() => expect(desk.overlay.notice).toBe('Not on this row.'))
  })

  it('is walked by arrows from crossing to crossing', async () => {
    mounted(Loom)
    const cell = (at: string) => document.querySelector<HTMLElement>(`[data-cell="${at}"]`)!
    cell('0,0').focus()
    await fireEvent.keyDown(cell('0,0'), { key: 'ArrowRight' })
    expect(document.activeElement).toBe(cell('0,1'))
    await fireEvent.keyDown(cell('0,1'), { key: 'ArrowDown' })
    expect(document.activeElement).toBe(cell('1,1'))
    await fireEvent.keyDown(cell('1,1'), { key: 'ArrowRight' }) // there is no further one
    expect(document.activeElement).toBe(cell('1,1'))
  })
})
