import { render } from '@testing-library/svelte'
import { tick } from 'svelte'
import { afterEach, expect, it, vi } from 'vitest'
import type { Card } from '../wire/types'
import EffectCard from './EffectCard.svelte'

type Noting = { on(what: string, note: (problem: unknown) => void): void; off: Noting['on'] }
const { process } = globalThis as unknown as { process: Noting }

afterEach(() => vi.unstubAllGlobals())

it('is taken away as it comes without a word: its row may fold before it is there', async () => {
  vi.stubGlobal('IntersectionObserver', class { observe() {} disconnect() {} }) // prettier-ignore
  const problems: unknown[] = []
  const note = (problem: unknown) => problems.push(problem)
  process.on('unhandledRejection', note)
  const card = { id: 1, name: 'Embers', folder: '', tags: [], saved: '2026-01-01T00:00:00Z', revision: 1,
    first_frame: 0, last_frame: 24, frame_rate: [25, 1], emitters: 1, playable: true } // prettier-ignore
  const { unmount } = render(EffectCard, { card: card as unknown as Card, fresh: true, inside: '' } as never)
  unmount()
  await tick()
  await new Promise((resolve) => setTimeout(resolve, 20))
  process.off('unhandledRejection', note)
  expect(problems).toEqual([])
})
