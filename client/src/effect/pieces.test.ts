import { beforeEach, describe, expect, it, vi } from 'vitest'
import { madeUpDesk } from '../testing/desk'
import { api } from '../wire/api'
import { carry, copied, copyPiece, duplicateMover, duplicateProp, pasteEmitter, pastePiece } from './pieces'

const piece = { kind: 'responses', data: [1] } as never

describe('pieces', () => {
  const copy = vi.spyOn(api, 'copy')
  const paste = vi.spyOn(api, 'paste')
  beforeEach(() => {
    localStorage.clear()
    copy.mockReset().mockResolvedValue({ piece } as never)
    paste.mockReset().mockImplementation(async ({ document }) => ({ document, uids: ['made'] }) as never)
    vi.spyOn(api, 'save').mockImplementation(async (_, revision, document) => ({
      ...madeUpDesk().opened,
      revision: revision + 1,
      document,
    }))
  })

  it('wait in the browser for whoever puts them somewhere, and nothing is put where nothing was copied', async () => {
    const { draft } = madeUpDesk()
    expect(copied()).toBe(null)
    expect(await pastePiece(draft, 'look.size', 'Paste')).toEqual([])
    expect(paste).not.toHaveBeenCalled()
    await copyPiece(draft, { kind: 'responses', uids: ['life', 'flicker'] })
    expect(copy.mock.calls[0][0]).toMatchObject({
      emitter: 'one',
      kind: 'responses',
      uids: ['life', 'flicker'],
      address: '',
    })
    expect(copied()).toEqual(piece)
    expect(await pastePiece(draft, 'look.opacity', 'Paste')).toEqual(['made'])
    expect(paste.mock.calls[0][0]).toMatchObject({ emitter: 'one', address: 'look.opacity', piece, at: null, move: [] })
    localStorage.setItem('kagero.piece', '{half')
    expect(copied()).toBe(null)
  })

  it('say what they are: a row by its address, an emitter by itself', async () => {
    const { draft } = madeUpDesk()
    await copyPiece(draft, { kind: 'row', address: 'look.size' })
    await copyPiece(draft, { kind: 'emitter', uid: 'two' })
    await copyPiece(draft, { kind: 'push', uid: 'g' })
    expect(
      copy.mock.calls.map(([requested]) => [requested.kind, requested.emitter, requested.uids, requested.address]),
    ).toEqual([
      ['row', 'one', [], 'look.size'],
      ['emitter', 'two', ['two'], ''],
      ['push', 'one', ['g'], ''],
    ])
  })

  it('move only where they are carried, and stay where they are copied', async () => {
    const { draft } = madeUpDesk()
    await carry(draft, ['life'], 'look.opacity', false, 'Move', 2)
    await carry(draft, ['life'], 'look.opacity', true, 'Copy')
    expect(paste.mock.calls.map(([requested]) => [requested.move, requested.at])).toEqual([
      [['life'], 2],
      [[], null],
    ])
    expect(copied()).toBe(null) // what was copied before is not put over
  })

  it('look at what was put: an emitter behind the others, a prop, a push at its place', async () => {
    const { draft } = madeUpDesk()
    await pasteEmitter(draft, piece, 'Duplicate')
    expect(draft.emitterIndex).toBe(1)
    await duplicateProp(draft, 'p', 'Lantern')
    expect([copy.mock.calls.at(-1)![0].kind, draft.heldUid]).toEqual(['prop', 'made'])
    await duplicateMover(draft, 'push', 'g', 'Gravity', 1)
    expect([copy.mock.calls.at(-1)![0].uids, paste.mock.calls.at(-1)![0].at]).toEqual([['g'], 1])
  })
})
