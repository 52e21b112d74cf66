import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api, Refused, Unreachable } from '../wire/api'
import type { Effect, Opened } from '../wire/types'
import { OpenEffect } from './open.svelte'
import { Queue } from './queue'

const document = { name: 'A', emitters: [{ uid: 'e', name: 'E' }], dials: [] } as unknown as Effect
const opened = (revision: number, more: Partial<Opened> = {}): Opened =>
  ({
    id: 1,
    revision,
    saved: '2026-01-01T00:00:00Z',
    document,
    undo: null,
    redo: null,
    findings: [],
    playable: null,
    ...more,
  }) as Opened
const finding = { code: 'x', where: 'w', message: 'It is wrong.', remedy: 'Mend it.' }
const settled = () => vi.advanceTimersByTimeAsync(0)

describe('the open effect', () => {
  const save = vi.spyOn(api, 'save')
  let effect: OpenEffect
  beforeEach(() => {
    vi.useFakeTimers()
    save.mockReset()
    effect = new OpenEffect(opened(1))
  })
  afterEach(() => vi.useRealTimers())
  const edit = (name: string) => effect.edit(`Name it ${name}`, ['name'], name)

  it('saves every edit in order, also those that cannot be played, and says why', async () => {
    save.mockImplementation(async (_, revision, document) =>
      opened(revision + 1, { findings: document.name === 'C' ? [finding] : [] }),
    )
    for (const name of ['B', 'C']) edit(name)
    await settled()
    expect([effect.saveState, effect.findings]).toEqual(['saved', [finding]])
    edit('D')
    await settled()
    expect([effect.saveState, effect.findings]).toEqual(['saved', []])
    expect(save.mock.calls.map(([, revision, document, label]) => [revision, document.name, label])).toEqual([
      [1, 'B', 'Name it B'],
      [2, 'C', 'Name it C'],
      [3, 'D', 'Name it D'],
    ])
  })

  it('keeps edits while the server cannot keep them, says why, and saves all of them later', async () => {
    const full = new Refused(507, [{ ...finding, message: 'The disk is full.', remedy: 'Make room.' }])
    for (const problem of [full, new Unreachable('no'), full]) save.mockRejectedValueOnce(problem)
    save.mockImplementation(async (_, revision) => opened(revision + 1))
    edit('B')
    await settled()
    edit('C')
    expect(effect.unsaved).toBe(true)
    await vi.advanceTimersByTimeAsync(1)
    expect(effect.trouble).toBe('')
    await vi.advanceTimersByTimeAsync(3000)
    expect([effect.saveState, effect.trouble]).toEqual(['unreachable', 'The disk is full'])
    await vi.advanceTimersByTimeAsync(3001)
    expect([effect.saveState, effect.trouble, effect.document.name]).toEqual(['saved', '', 'C'])
    expect(save.mock.calls.map(([, , document]) => document.name)).toEqual(['B', 'B', 'B', 'B', 'C'])
  })

  it('walks back as often as it is told, also while a step is on its way, and an edit made meanwhile is kept', async () => {
    const undo = vi.spyOn(api, 'undo').mockImplementation(async (_, revision) => {
      await new Promise((go) => setTimeout(go, 30))
      return opened(revision + 1, { document: { ...document, name: `after ${revision}` } as unknown as Effect })
    })
    save.mockImplementation(async (_, revision) => opened(revision + 1))
    void effect.undo()
    void effect.undo()
    await vi.advanceTimersByTimeAsync(100)
    expect([undo.mock.calls.map(([, revision]) => revision), effect.document.name]).toEqual([[1, 2], 'after 2'])
    void effect.undo()
    await vi.advanceTimersByTimeAsync(10)
    edit('B')
    await vi.advanceTimersByTimeAsync(100)
    expect([
      effect.document.name,
      save.mock.calls.map(([, revision, document]) => [revision, document.name]),
      effect.saveState,
    ]).toEqual(['B', [[4, 'B']], 'saved'])
    undo.mockClear()
    undo.mockRejectedValueOnce(new Unreachable('no'))
    void effect.undo()
    void effect.undo()
    await vi.advanceTimersByTimeAsync(10)
    expect(effect.saveState).toBe('unreachable')
    await vi.advanceTimersByTimeAsync(4000)
    expect([undo.mock.calls.map(([, revision]) => revision), effect.document.name, effect.saveState]).toEqual([
      [5, 5, 6],
      'after 6',
      'saved',
    ])
  })

  it('goes on to the next edit after one that the server will never take', async () => {
    save.mockRejectedValueOnce(new Refused(413, [finding]))
    save.mockImplementation(async (_, revision) => opened(revision + 1))
    edit('B')
    edit('C')
    await settled()
    expect([effect.saveState, effect.document.name, save.mock.calls.length]).toEqual(['saved', 'C', 2])
  })

  it('makes edits by the server one at a time, each of the newest document, and loses none', async () => {
    save.mockImplementation(async (_, revision) => opened(revision + 1))
    const call = (name: string) => async (given: Record<string, unknown>) => {
      await new Promise((go) => setTimeout(go, 50))
      return { document: { ...given, note: `${given.note ?? ''}${name}` } as unknown as Effect }
    }
    const both = Promise.all([effect.ask(call('1'), 'One'), effect.ask(call('2'), 'Two')])
    await vi.advanceTimersByTimeAsync(20)
    edit('B')
    await vi.advanceTimersByTimeAsync(400)
    await both
    expect([effect.document.name, effect.document.note]).toEqual(['B', '12'])
  })
})

it('a queue runs work in turn, whatever takes longer or fails', async () => {
  const queue = new Queue()
  const words: string[] = []
  const work = (name: string, ms: number) => () =>
    new Promise<void>((go, fail) =>
      setTimeout(() => (words.push(name), name === 'b' ? fail(new Error('b')) : go()), ms),
    )
  const results = await Promise.allSettled([queue.add(work('a', 20)), queue.add(work('b', 1)), queue.add(work('c', 0))])
  expect([words, results.map((r) => r.status)]).toEqual([
    ['a', 'b', 'c'],
    ['fulfilled', 'rejected', 'fulfilled'],
  ])
})
