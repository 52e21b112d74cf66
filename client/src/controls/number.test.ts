import { cleanup, fireEvent, render, screen } from '@testing-library/svelte'
import { describe, expect, it, vi } from 'vitest'
import NumberField from './NumberField.svelte'

const METRES = { symbol: 'm', scale: 1, digits: 3 }

function field(more: Record<string, unknown> = {}) {
  const onset = vi.fn()
  const ondrag = vi.fn()
  render(NumberField, {
    value: 0.5,
    unit: METRES,
    label: 'Size',
    lowest: 0,
    highest: 10,
    drag: 1,
    reset: 0.1,
    onset,
    ondrag,
    ...more,
  })
  return { onset, ondrag, values: () => onset.mock.calls.map(([value]) => value) }
}
const shown = () => screen.getByRole('button', { name: /^Size/ })
async function typed(text: string, key = 'Enter') {
  await fireEvent.keyDown(shown(), { key: '1' })
  const input = await screen.findByRole('textbox', { name: 'Size' })
  await fireEvent.input(input, { target: { value: text } })
  await fireEvent.keyDown(input, { key })
}

describe('a number', () => {
  it.each([
    ['1/4', 0.25],
    ['2*(3+1)-1', 7],
    ['25 cm', 0.25],
    ['*3', 1.5],
    ['+=0.5', 1],
    ['1,5', 1.5],
    ['700mm', 0.7],
  ])('%s is computed when it is typed', async (text, value) => {
    const { values } = field()
    await typed(text)
    expect(values()).toEqual([value])
  })

  it.each([
    ['11', 'From 0 m to 10 m.'],
    ['-1', 'From 0 m to 10 m.'],
    ['two', 'two'],
    ['1/0', 'not a finite number'],
    ['3 kg', 'mm'],
  ])('%s is refused, in words, and the field stays open', async (text, words) => {
    const { onset } = field()
    await typed(text)
    expect(screen.getByRole('alert').textContent).toMatch(words)
    const input = screen.getByRole('textbox', { name: 'Size' })
    expect(input.getAttribute('aria-invalid')).toBe('true')
    await fireEvent.keyDown(input, { key: 'Escape' })
    expect(onset).not.toHaveBeenCalled()
    expect(shown().textContent).toBe('0.5 m')
  })

  it('wants a whole number where it is one, and offers to widen its range where it can', async () => {
    field({ value: 3, whole: true })
    await typed('2.5')
    expect(screen.getByRole('alert').textContent).toBe('A whole number, please.')
    cleanup()
    const widen = vi.fn()
    field({ widen })
    await typed('12')
    await fireEvent.click(screen.getByRole('button', { name: 'Widen to 12 m' }))
    expect(widen).toHaveBeenCalledWith(12)
  })

  it('steps by arrows, finer with Shift, within its range, and goes back by Delete', async () => {
    const { values } = field()
    for (const [key, shiftKey] of [
      ['ArrowUp', false],
      ['ArrowDown', false],
      ['ArrowUp', true],
      ['PageUp', false],
      ['Delete', false],
    ] as const)
      await fireEvent.keyDown(shown(), { key, shiftKey })
    expect(values()).toEqual([0.51, 0.49, 0.501, 0.6, 0.1])
    cleanup()
    const low = field({ value: 0 })
    await fireEvent.keyDown(shown(), { key: 'ArrowDown' })
    expect(low.values()).toEqual([0])
  })

  it('follows the hand and ends where the hand did; a drag given up leaves what was', async () => {
    const { ondrag, values } = field()
    shown().setPointerCapture = () => {}
    const move = (clientX: number) => fireEvent(shown(), new MouseEvent('pointermove', { clientX, bubbles: true }))
    await fireEvent(shown(), new MouseEvent('pointerdown', { clientX: 100, button: 0, bubbles: true }))
    await move(101) // not yet a drag
    expect(ondrag).not.toHaveBeenCalled()
    await move(200)
    expect(ondrag).toHaveBeenLastCalledWith(1)
    await move(10_000)
    expect(ondrag).toHaveBeenLastCalledWith(10) // held within its range
    await move(140)
    await fireEvent(shown(), new MouseEvent('pointerup', { clientX: 140, bubbles: true }))
    expect(values()).toEqual([0.7])
    await fireEvent(shown(), new MouseEvent('pointerdown', { clientX: 100, button: 0, bubbles: true }))
    await move(200)
    await fireEvent.keyDown(window, { key: 'Escape' })
    expect([ondrag.mock.lastCall, values().at(-1)]).toEqual([[0.5], 0.5])
  })

  it('opened by a click is closed by the next one that opens', async () => {
    field()
    field({ label: 'Rate' })
    await typed('100')
    expect(screen.getByRole('alert')).toBeTruthy()
    await fireEvent.keyDown(screen.getByRole('button', { name: /^Rate/ }), { key: '1' })
    expect([screen.queryByRole('alert'), screen.queryByRole('textbox', { name: 'Size' })]).toEqual([null, null])
  })
})
