import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { button, mounted } from '../testing/mounted'
import { api, Refused } from '../wire/api'
import type { Table as TableData, TableWish } from '../wire/types'
import Table from './Table.svelte'

afterEach(() => vi.restoreAllMocks())

const COLUMNS = [
  { key: 'speed', label: 'speed', unit: { symbol: 'm/s', scale: 1, digits: 2 } },
  { key: 'age', label: 'age', unit: { symbol: 's', scale: 1, digits: 2 } },
]
const lines = (n: number) => Array.from({ length: n }, (_, i) => [`key${i}`, i, 1 + i / 4, i / 25])
const answer = (wish: TableWish, n = 8): TableData =>
  ({
    columns: COLUMNS,
    rows: lines(n).slice(wish.first, wish.first + wish.count),
    matching: n,
    total: 20,
  }) as unknown as TableData
function table(answers: (wish: TableWish) => TableData | Promise<TableData> = (wish) => answer(wish)) {
  const request = vi.spyOn(api, 'table').mockImplementation(async (_, wish) => answers(wish))
  return { ...mounted(Table), wish: () => request.mock.lastCall![1], request }
}

describe('the table of particles', () => {
  it('is sorted from the head of a column, and says the order of the lines that are there', async () => {
    let late: (() => void) | undefined
    const desk = table((wish) => (wish.sort ? new Promise((done) => (late = () => done(answer(wish)))) : answer(wish)))
    await screen.findByText('8')
    desk.take(button(/^speedm/), 'Largest first')
    await vi.waitFor(() =>
      expect(desk.wish()).toMatchObject({ sort: 'speed', descending: true, emitter: 'one', frame: 0 }),
    )
    screen.getByText(/in order of birth/) // until the new lines are there
    late!()
    await screen.findByText(/by speed, largest first/)
    expect(
      button(/^speed/)
        .closest('th')!
        .getAttribute('aria-sort'),
    ).toBe('descending')
    desk.take(button(/^speed/), 'In order of birth')
    await vi.waitFor(() => expect(desk.wish().sort).toBe(''))
  })

  it('filters a column from its smallest value on, which can be typed, and drops the filter', async () => {
    const desk = table()
    await screen.findByText('8')
    desk.take(button(/^speedm/), 'Only some values…')
    await vi.waitFor(() => expect(desk.wish().filters).toEqual([{ column: 'speed', low: 1, high: null }]))
    await fireEvent.click(await screen.findByRole('button', { name: 'to…' }))
    await vi.waitFor(() => expect(desk.wish().filters).toEqual([{ column: 'speed', low: 1, high: 1 }]))
    button(/^speedm/).click()
    expect(desk.item('Only some values…').disabled).toBe(true)
    await fireEvent.click(button('Drop the filter on speed'))
    await vi.waitFor(() => expect(desk.wish().filters).toEqual([]))
  })

  it('picks the particle of a line', async () => {
    const desk = table()
    await screen.findByText('8')
    await fireEvent.click(button('3'))
    expect(desk.player.picked).toEqual({ emitter: 'one', key: 'key3' })
    await vi.waitFor(() => expect(button('3').closest('tr')!.getAttribute('aria-selected')).toBe('true'))
  })

  it('says why there is nothing, and what the server refused', async () => {
    table((wish) => answer(wish, 0))
    await screen.findByText('No particle passes the filters.')
    table(() => {
      throw new Refused(422, [{ code: 'x', where: '', message: 'It is too heavy.', remedy: 'Make it lighter.' }])
    })
    expect((await screen.findByRole('alert')).textContent).toBe('It is too heavy. Make it lighter.')
  })

  it('asks once more, not once for each change, for what changed while it waited', async () => {
    let free: (() => void) | undefined
    const desk = table((wish) => new Promise((done) => (free = () => done(answer(wish)))))
    await vi.waitFor(() => expect(desk.request).toHaveBeenCalledTimes(1))
    for (const frame of [3, 4, 5]) {
      desk.player.frame = frame
      await Promise.resolve()
    }
    free!()
    await vi.waitFor(() => expect(desk.request).toHaveBeenCalledTimes(2))
    expect(desk.wish().frame).toBe(5)
    free!()
    await screen.findByText(/in order of birth/)
    expect(desk.request).toHaveBeenCalledTimes(2)
  })
})
