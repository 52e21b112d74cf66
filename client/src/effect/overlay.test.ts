import { describe, expect, it } from 'vitest'
import { Overlay } from './overlay.svelte'

describe('what is tried', () => {
  it('says why it did not work, until something else is tried', async () => {
    const overlay = new Overlay()
    await overlay.attempt(async () => {
      throw new Error('There is no mesh.')
    })
    expect(overlay.notice).toBe('There is no mesh.')
    await overlay.attempt(async () => {})
    expect(overlay.notice).toBe('')
  })
  it('keeps what it said itself once it is done', async () => {
    const overlay = new Overlay()
    await overlay.attempt(async () => (overlay.notice = 'lantern.glb is there again: Lantern has it.'))
    expect(overlay.notice).toBe('lantern.glb is there again: Lantern has it.')
  })
})
