import { fireEvent, screen } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import FieldControl from '../sheet/FieldControl.svelte'
import { mounted } from '../testing/mounted'
import { inProportion, shape } from './keepshape.svelte'

afterEach(() => {
  shape.kept = false
  vi.restoreAllMocks()
})

describe('a shape that is kept', () => {
  it('gives the other side in proportion, within its bounds', () => {
    expect(inProportion(720, 1280, 1920, 16, 8192)).toBe(1080)
    expect(inProportion(720, 1280, 100, 64, 8192)).toBe(64)
    expect(inProportion(4096, 1024, 8192, 16, 8192)).toBe(8192)
    expect(inProportion(720, 0, 1920, 16, 8192)).toBe(720)
  })

  it('is kept by the frame where its lock is closed, as one edit, and not where it is open', async () => {
    const desk = mounted(
      FieldControl,
      ({ catalog }) => {
        const fields = catalog.part({ uid: 'frame' }, '')!.fields
        return { field: fields.find((each) => each.offered.name === 'width')!, of: 'frame' }
      },
      { open: ({ draft }) => (draft.heldUid = 'frame') },
    )
    const type = async (text: string) => {
      await fireEvent.click(screen.getByRole('button', { name: /^Width of frame/ }))
      const input = screen.getByLabelText('Width of frame')
      await fireEvent.input(input, { target: { value: text } })
      await fireEvent.keyDown(input, { key: 'Enter' })
    }
    const size = () => [desk.draft.document.frame!.width, desk.draft.document.frame!.height]
    await type('1920')
    expect(size()).toEqual([1920, 720])
    await fireEvent.click(screen.getByLabelText('Keep the shape'))
    await type('960')
    expect(size()).toEqual([960, 360])
    await vi.waitFor(() => expect(desk.edits).toHaveLength(2))
  })
})
