import { expect, it, vi } from 'vitest'
import { Following, Leading, type Seen } from './instep'

const seen = (frame: number) => ({ frame, playing: false }) as unknown as Seen

it('tells a window that comes, whoever was there first, and nobody where none is', async () => {
  let frame = 1
  const requested = vi.fn(() => seen(frame))
  const acts: string[] = []
  const leading = new Leading(1, requested, (what) => acts.push(what))
  leading.tell()
  expect(requested).not.toHaveBeenCalled()
  const shown: number[] = []
  const following = new Following(1, (state) => shown.push(state.frame))
  await vi.waitFor(() => expect(shown).toEqual([1]))
  frame = 2
  leading.tell()
  following.ask('toggle')
  await vi.waitFor(() => expect([shown, acts]).toEqual([[1, 2], ['toggle']]))
  leading.close()
  const second = new Leading(
    1,
    () => seen(9),
    () => {},
  ) // the Desk was loaded anew
  await vi.waitFor(() => expect(shown).toEqual([1, 2, 9]))
  second.close()
  following.close()
})

it('keeps effects apart', async () => {
  const shown: number[] = []
  const following = new Following(2, (state) => shown.push(state.frame))
  const other = new Leading(
    3,
    () => seen(5),
    () => {},
  )
  const own = new Leading(
    2,
    () => seen(6),
    () => {},
  )
  await vi.waitFor(() => expect(shown).toEqual([6]))
  for (const each of [following, other, own]) each.close()
})
