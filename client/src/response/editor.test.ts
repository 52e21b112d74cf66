import { fireEvent, screen, within } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { button, measured, mounted, type Mounted } from '../testing/mounted'
import { api } from '../wire/api'
import type { Key } from '../wire/types'
import ResponseEditor from './ResponseEditor.svelte'

afterEach(() => vi.restoreAllMocks())

const choose = async (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } })
const response = ({ emitter }: Mounted, i = 0) => emitter().look.size.responses![i]
const heights = (desk: Mounted) => response(desk).curve.keys.map((key: Key) => key.y)
const editor = async (uid: string | null = 'life') => {
  const desk = mounted(ResponseEditor)
  desk.selection.select(uid)
  if (uid) await screen.findByRole('heading')
  return desk
}
const distribution = { low: 0.2, high: 0.8, mean: 0.4, below: 0, above: 0, bins: Array(48).fill(1), reach: [0, 1] }

describe('the editor of a response', () => {
  it('says which response it is and where it stands', async () => {
    const desk = await editor(null)
    screen.getByText('No response chosen.')
    desk.selection.select('flicker')
    await screen.findByText('second of two in this row')
    desk.selection.select('fades')
    await screen.findByText('alone in this row')
    expect(screen.getByRole('heading').textContent).toBe('Opacity from life')
  })

  it('changes how it reads and what it does, each an edit with a name', async () => {
    const desk = await editor()
    await fireEvent.click(screen.getByRole('radio', { name: 'once' }))
    expect(response(desk).read).toBe('once')
    await choose('Operation', 'add')
    expect(response(desk).operation).toBe('add')
    await fireEvent.click(button('Mute Size from life'))
    expect(response(desk).muted).toBe(true)
    await fireEvent.click(button('Remove Size from life'))
    expect(response(desk).uid).toBe('flicker')
    await vi.waitFor(() =>
      expect(desk.edits).toEqual([
        'Read Size from life once',
        'Make Size from life add',
        expect.stringContaining('Mute'),
        expect.stringContaining('Remove'),
      ]),
    )
  })

  it('becomes a proportion of what is typical now and a curve again, with what both have kept', async () => {
    const desk = await editor()
    measured(desk, { responses: { life: distribution as never } })
    const { source, read, uid } = response(desk)
    await choose('Kind of response', 'ratio')
    expect(response(desk)).toMatchObject({ kind: 'ratio', reference: 0.4, power: 1, source, read, uid })
    await choose('Kind of response', 'curve')
    expect(response(desk)).toMatchObject({ kind: 'curve', input: [0.2, 0.8], output: [0, 1], source, read, uid })
    expect(heights(desk)).toEqual([0, 1])
  })

  it('is matched to what the particles have, in the direction it had', async () => {
    const desk = await editor()
    measured(desk, { responses: { life: distribution as never } })
    const match = await screen.findByRole('button', { name: 'Fit the range' })
    await fireEvent.click(match)
    expect(response(desk).input).toEqual([0.2, 0.8])
    desk.draft.edit('turn round', ['emitters', 0, 'look', 'size', 'responses', 0, 'input'], [1, 0])
    await fireEvent.click(match)
    expect(response(desk).input).toEqual([0.8, 0.2])
  })

  it('is flipped, and twice is as it was', async () => {
    const desk = await editor()
    const before = structuredClone(response(desk).curve.keys)
    for (const flip of ['Flip upside down', 'Flip left and right', 'Flip upside down', 'Flip left and right']) {
      const was = heights(desk)
      await fireEvent.click(button(flip))
      expect(heights(desk)).toEqual(was.toReversed())
    }
    expect(response(desk).curve.keys.map(({ x, y }: Key) => [x, y])).toEqual(before.map(({ x, y }: Key) => [x, y]))
  })

  it('takes the shape of a preset, and keeps its own as one for all effects', async () => {
    const desk = await editor()
    await fireEvent.click(button('Preset breath'))
    expect(heights(desk)).toEqual([0, 1, 0])
    const kept = vi.spyOn(api, 'keepPreset').mockResolvedValue(undefined as never)
    vi.spyOn(api, 'presets').mockResolvedValue([
      {
        id: 1,
        name: 'twice lit',
        kind: 'curve',
        data: {
          keys: [
            { x: 0, y: 0.3 },
            { x: 1, y: 0.7 },
          ],
        },
      },
      { id: 2, name: 'dusk', kind: 'gradient', data: {} },
    ] as never)
    await fireEvent.click(button('Keep this curve as a preset'))
    const name = await screen.findByRole('textbox', { name: 'Name of the preset' })
    await fireEvent.input(name, { target: { value: '  twice lit ' } })
    await fireEvent.keyDown(name, { key: 'Enter' })
    expect(kept).toHaveBeenCalledWith('twice lit', 'curve', { keys: response(desk).curve.keys })
    await fireEvent.click(await screen.findByRole('button', { name: 'Your preset twice lit' }))
    expect(heights(desk)).toEqual([0.3, 0.7])
    expect(screen.queryByRole('button', { name: /dusk/ })).toBe(null) // a gradient is no curve
    const dropped = vi.spyOn(api, 'forgetPreset').mockResolvedValue(undefined as never)
    await fireEvent.contextMenu(button('Your preset twice lit'))
    desk.item('Delete the preset').act()
    await vi.waitFor(() => expect(dropped).toHaveBeenCalledWith(1))
  })

  it('shapes the key that is chosen, between its neighbours', async () => {
    const desk = await editor()
    await fireEvent.click(button('Preset breath'))
    desk.selection.key = 1
    await vi.waitFor(() => expect(button(/^Key across/).textContent).toBe('50 %'))
    const shapes = screen.getByRole('radiogroup', { name: 'Shape after the key' })
    await fireEvent.click(within(shapes).getByRole('radio', { name: 'hold' }))
    expect(response(desk).curve.keys[1].shape).toBe('hold')
    await fireEvent.keyDown(button(/^Key across/), { key: '9' })
    const field = await screen.findByRole('textbox', { name: 'Key across' })
    await fireEvent.input(field, { target: { value: '100' } })
    await fireEvent.keyDown(field, { key: 'Enter' })
    expect(screen.getByRole('alert').textContent).toContain('99.8 %')
    await fireEvent.input(field, { target: { value: '80' } })
    await fireEvent.keyDown(field, { key: 'Enter' })
    expect(response(desk).curve.keys.map((key: Key) => key.x)).toEqual([0, 0.8, 1])
  })

  it('is shaped by the keyboard: a key is moved, changed, added and removed', async () => {
    const desk = await editor()
    const key = (index: number) => document.querySelector<HTMLElement>(`[data-key="${index}"]`)!
    const all = () => response(desk).curve.keys.map(({ x, y }: Key) => [x, y])
    await fireEvent.click(button('Preset breath'))
    const pressed = async (index: number, name: string, more: object = {}) => {
      await fireEvent.keyDown(key(index), { key: name, ...more })
      await vi.waitFor(() => expect(document.querySelectorAll('[data-key]').length).toBe(all().length))
    }
    for (const name of ['ArrowRight', 'ArrowDown', '3']) await pressed(1, name)
    expect(response(desk).curve.keys[1]).toMatchObject({ x: 0.52, y: 0.98, shape: 'hold' })
    await pressed(1, 'ArrowRight', { shiftKey: true })
    expect(all()[1]).toEqual([0.522, 0.98])
    await pressed(1, 'Enter') // one more, half way to the next, on the curve as it is
    expect(all().map(([x]: number[]) => x)).toEqual([0, 0.522, 0.761, 1])
    expect(all()[2][1]).toBe(0.98)
    await pressed(2, 'Delete')
    await pressed(0, 'ArrowLeft') // it stands at the very beginning
    expect(all()).toEqual([
      [0, 0],
      [0.522, 0.98],
      [1, 0],
    ])
    await vi.waitFor(() =>
      expect(desk.edits.slice(1, 4)).toEqual([
        'Move a key, Size from life',
        'Move a key, Size from life',
        'Make a key hold, Size from life',
      ]),
    )
  })

  it('takes the ends of its range as they are typed', async () => {
    const desk = await editor()
    for (const [label, text] of [
      ['From low', '25'],
      ['From high', '75'],
    ]) {
      await fireEvent.keyDown(button(new RegExp(`^${label}`)), { key: '1' })
      const field = await screen.findByRole('textbox', { name: label })
      await fireEvent.input(field, { target: { value: text } })
      await fireEvent.keyDown(field, { key: 'Enter' })
      await vi.waitFor(() => expect(screen.queryByRole('textbox', { name: label })).toBe(null))
    }
    expect(response(desk).input).toEqual([0.25, 0.75])
  })
})
