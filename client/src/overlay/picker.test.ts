import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { mounted, type Mounted } from '../testing/mounted'
import { api, Refused } from '../wire/api'
import SourcePicker from './SourcePicker.svelte'

afterEach(() => vi.restoreAllMocks())

const SIZE = 'look.size'
const choice = (key: string, more: Record<string, unknown> = {}) => ({
  key, column: key, label: key, group: 'motion', source: { kind: key }, read: 'live', unit: { symbol: 'm/s', scale: 1, digits: 2 },
  help: `What ${key} is.`, words: '', refusal: '', input: [0, 1], whole: false, now: [0, 0.5, 1], clip: null, ...more,
}) // prettier-ignore
const CHOICES = [
  choice('life', { group: 'time', words: 'age share', unit: { symbol: '%', scale: 100, digits: 0 } }),
  choice('speed', { now: [1, 2, 4] }),
  choice('turning speed'),
  choice('height', { help: 'How high it is; its speed is another source.' }),
  choice('velocity', { whole: true }),
  choice('touches', { refusal: 'Nothing here is touched: add a contact.' }),
]

const VARIATIONS = [
  { kind: 'a', label: 'evenly', draw: { kind: 'a' }, base: false, input: [0, 1], output: [0.5, 1.5], added: false },
  { kind: 'b', label: 'around', draw: { kind: 'b', middle: 4 }, base: true, input: [3, 5], output: [0.75, 1.25], added: false },
] // prettier-ignore

const shown = (replaces?: string) =>
  mounted(SourcePicker, ({ overlay }) => (overlay.picker ? {} : null), {
    open: ({ overlay }) =>
      (overlay.picker = { anchor: { left: 0, top: 0, right: 0, bottom: 0 }, address: SIZE, replaces }),
  })
async function picker(replaces?: string) {
  vi.spyOn(api, 'sources').mockResolvedValue(CHOICES as never)
  vi.spyOn(api, 'variations').mockResolvedValue(VARIATIONS as never)
  const desk = shown(replaces)
  await screen.findByText('speed')
  return desk
}
const input = () => screen.getByRole('combobox')
const type = (value: string) => fireEvent.input(input(), { target: { value } })
const options = () => screen.getAllByRole('option').map((each) => each.querySelector('span')!.textContent)
const sources = ({ emitter }: Mounted) =>
  emitter().look.size.responses!.map((each: { source: { kind: string } }) => each.source.kind)

describe('the list of sources', () => {
  it('finds by name first, then by everyday words, then by what is said of each', async () => {
    await picker()
    await type('speed')
    expect(options()).toEqual(['speed', 'turning speed', 'height'])
    await type('age')
    expect(options()[0]).toBe('life')
    await type('nothing like it')
    expect(screen.queryAllByRole('option')).toEqual([])
    screen.getByText('Nothing by that name.')
  })

  it('says what the particles have of each, and why one cannot drive the row', async () => {
    const desk = await picker()
    expect(screen.getByText('1 – 4 m/s')).toBeTruthy()
    await type('touches')
    screen.getByText('Nothing here is touched: add a contact.')
    await fireEvent.keyDown(input(), { key: 'Enter' })
    expect(desk.edits).toEqual([])
    expect(desk.overlay.picker).not.toBe(null)
  })

  it('drives the row from what is chosen, which stands first the next time', async () => {
    const desk = await picker()
    await type('speed')
    await fireEvent.keyDown(input(), { key: 'ArrowDown' })
    await fireEvent.keyDown(input(), { key: 'ArrowUp' })
    await fireEvent.keyDown(input(), { key: 'Enter' })
    expect(sources(desk)).toEqual(['life', 'draw', 'speed'])
    expect(desk.overlay.picker).toBe(null)
    desk.overlay.picker = { anchor: { left: 0, top: 0, right: 0, bottom: 0 }, address: SIZE }
    await screen.findByText('recently used')
    expect(options()[0]).toBe('speed')
  })

  it('varies the row by a new draw: through a response, or as its base where the draw gives the numbers', async () => {
    const desk = await picker()
    screen.getByText('± 50 %')
    await fireEvent.click(screen.getByText('Vary per particle'))
    const { draws, look } = desk.emitter()
    expect(look.size.responses!.at(-1)).toMatchObject({ input: [0, 1], output: [0.5, 1.5], read: 'once' })
    expect(draws!.at(-1)).toMatchObject({ kind: 'a', name: 'draw A' })
    desk.overlay.picker = { anchor: { left: 0, top: 0, right: 0, bottom: 0 }, address: SIZE }
    await fireEvent.click(await screen.findByText('Vary: around'))
    const now = desk.emitter()
    expect(now.draws!.at(-1)).toMatchObject({ kind: 'b', middle: 4 })
    expect(now.look.size.base).toEqual({ source: { kind: 'draw', draw: now.draws!.at(-1)!.uid }, read: 'once' })
  })

  it('takes it as the base by Shift Enter', async () => {
    const desk = await picker()
    await type('speed')
    await fireEvent.keyDown(input(), { key: 'Enter', shiftKey: true })
    expect(desk.emitter().look.size.base).toMatchObject({ source: { kind: 'speed' }, read: 'live' })
  })

  it('gives a response another source, whose range it then has, and offers none that is no number', async () => {
    const desk = await picker('life')
    expect(options()).not.toContain('Vary per particle')
    await type('velocity')
    screen.getByText('A response reads one number.')
    await type('speed')
    await fireEvent.keyDown(input(), { key: 'Enter' })
    const [first] = desk.emitter().look.size.responses!
    expect([first.uid, first.source, first.input]).toEqual(['life', { kind: 'speed' }, [1, 4]])
  })

  it('shows what would come of the one that is pointed at, and takes it back', async () => {
    const desk = await picker()
    await type('speed')
    await fireEvent.pointerMove(screen.getAllByRole('option')[0])
    await vi.waitFor(() => expect(desk.selection.preview).not.toBe(null))
    expect(desk.selection.preview!.emitters[0].look.size.responses!.length).toBe(3)
    expect(sources(desk).length).toBe(2) // the effect itself is as it was
    await type('nothing like it')
    await vi.waitFor(() => expect(desk.selection.preview).toBe(null))
  })

  it('says what the server refused', async () => {
    vi.spyOn(api, 'variations').mockResolvedValue([])
    vi.spyOn(api, 'sources').mockRejectedValue(
      new Refused(422, [{ code: 'x', where: '', message: 'It is too heavy.', remedy: '' }]),
    )
    shown()
    expect((await screen.findByRole('alert')).textContent).toBe('It is too heavy.')
  })
})
