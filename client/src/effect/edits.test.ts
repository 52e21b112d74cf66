import { describe, expect, it } from 'vitest'
import type { Emitter } from '../wire/types'
import { formulaName, readers } from './edits'
import names from './names.samples.json'

describe('names as formulas write them', () => {
  it('are the core’s', () => {
    for (const [name, written] of Object.entries(names)) expect(formulaName(name)).toBe(written)
  })
  it('count as readers of a draw', () => {
    const source = (text: string) => ({ kind: 'formula', uid: 'f', text, draft: '' })
    const emitter = (text: string) => ({ draws: [{ uid: 'd', name: 'Wind 2' }], own: [], look: { size: { base: { source: source(text), read: 'live' } } } }) as unknown as Emitter
    expect(readers(emitter('draws.wind_2 * 2 + draws . wind_2'), 'd')).toBe(2)
    expect(readers(emitter('draws.wind_20 + my.draws.wind_2'), 'd')).toBe(0)
  })
})
