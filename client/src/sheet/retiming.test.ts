import { fireEvent } from '@testing-library/svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { mounted } from '../testing/mounted'
import KeyMarks from '../transport/KeyMarks.svelte'
import type { Opened } from '../wire/types'
import RetimingRow from './RetimingRow.svelte'

afterEach(() => vi.restoreAllMocks())
/** Keys of which all but the first lie behind the clip's last frame, at 0.48 s. */
const KEYS = [
  { at: 0, shows: 0, shape: 'smooth' },
  { at: 2, shows: 9, shape: 'smooth' },
  { at: 4, shows: -7, shape: 'linear' },
]
const retimed = ({ document }: Opened) => (document.emitters[0].retiming = { keys: structuredClone(KEYS) } as never)

describe('keys behind the end of a clip', () => {
  it('are drawn, and keep their numbers when another key is moved', async () => {
    const desk = mounted(RetimingRow, () => ({}), { change: retimed })
    const paths = [...document.querySelectorAll('path')].map((each) => each.getAttribute('d'))
    expect(paths.some((d) => d?.includes('NaN'))).toBe(false)
    const at = [...document.querySelectorAll<HTMLElement>('[data-key]')].map((each) => parseFloat(each.style.left))
    expect(at).toEqual(at.toSorted((a, b) => a - b))
    expect(new Set(at).size).toBe(3)
    await fireEvent.keyDown(document.querySelector('[data-key="0"]')!, { key: 'ArrowUp' })
    const keys = desk.emitter().retiming!.keys
    expect(keys[0].shows).toBeGreaterThan(0)
    expect(keys.slice(1)).toEqual(KEYS.slice(1))
  })

  it('stand at the end of the transport, not outside of it', () => {
    const keyed = (at: number) => ({
      kind: 'curve',
      uid: `k${at}`,
      source: { kind: 'clip_time' },
      read: 'live',
      amount: 1,
      muted: false,
      operation: 'set',
      input: [0, at],
      output: [0, 1],
      curve: {
        keys: [
          { x: 0, y: 0 },
          { x: 1, y: 1 },
        ],
      },
    })
    mounted(KeyMarks, () => ({ width: 600 }), {
      change: ({ document }) => (document.emitters[0].look.size.responses = [keyed(4)] as never),
    })
    const left = [...document.querySelectorAll<HTMLElement>('[data-time-key]')].map((each) =>
      parseFloat(each.style.left),
    )
    expect(left).toEqual([0, 600])
  })
})
