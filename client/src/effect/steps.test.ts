import { describe, expect, it } from 'vitest'
import type { StepOut } from '../wire/types'
import { stepsToGo } from './steps'

const step = (number: number, label: string, more: Partial<StepOut> = {}): StepOut =>
  ({ number, label, now: false, after: null, ...more }) as StepOut

describe('the steps of an effect', () => {
  const every = [
    step(0, 'Made'),
    step(1, 'One', { now: true }),
    step(4, 'Four'),
    step(2, 'Two', { after: 0 }),
    step(3, 'Three', { after: 1 }),
    step(5, 'Five', { after: 0 }),
    step(6, 'Six', { after: -1 }),
  ]
  it('are told from the last to the first, how far off each is, and then what was edited away, together by where it branches off', () => {
    expect(stepsToGo(every, () => {}).map((each) => [each.group, each.label, each.detail ?? ''])).toEqual([
      ['undone', 'Four', '+1'],
      ['now', 'One', ''],
      ['done', 'Made', '−1'],
      ['edited away after “One”', 'Three', ''],
      ['edited away after “Made”', 'Five', ''],
      ['edited away after “Made”', 'Two', ''],
      ['edited away', 'Six', ''],
    ])
  })
  it('are gone to by their number', () => {
    const gone: number[] = []
    for (const each of stepsToGo(every, (number) => gone.push(number))) each.act()
    expect(gone).toEqual([4, 1, 0, 3, 5, 2, 6])
  })
})
