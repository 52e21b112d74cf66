import { describe, expect, it } from 'vitest'
import { formulaName } from './edits'
import names from './names.samples.json'

describe('names as formulas write them', () => {
  it('are the core’s', () => {
    for (const [name, written] of Object.entries(names)) expect(formulaName(name)).toBe(written)
  })
})
