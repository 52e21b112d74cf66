import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { at, put } from '../effect/path'
import type { OpenEffect } from '../effect/open.svelte'
import type { FormulaAnswer } from '../wire/types'
import { CHECK_MS, COMMIT_MS, Writing } from './writing.svelte'

const fine: FormulaAnswer = { problems: [], remarks: [], kind: 'number', unit: '', note: '', steps: [], cost: 1 }
const wrong: FormulaAnswer = {
  ...fine,
  kind: '',
  problems: [{ line: 1, column: 1, end_line: 1, end_column: 2, message: 'No.', remedy: '', unknown: '' }],
}

/** A document with one formula, and every edit that was made of it. */
class Effect {
  document: unknown = { base: { kind: 'formula', uid: 'f', text: '1', draft: '' }, emitters: [] }
  edits: string[] = []
  drags = 0
  at = (path: readonly (string | number)[]) => at(this.document, path)
  drag(path: readonly (string | number)[], value: unknown) {
    this.document = put(this.document, path, value)
    this.drags++
  }
  commit(label: string) {
    this.edits.push(label)
  }
  edit(label: string, path: readonly (string | number)[], value: unknown) {
    this.document = put(this.document, path, value)
    this.commit(label)
  }
  get source() {
    return (this.document as { base: { text: string; draft: string } }).base
  }
}
const check = vi.fn(async (text: string) => (text.includes('?') ? wrong : fine))

function begin(effect = new Effect()) {
  const writing = new Writing(effect as unknown as OpenEffect, { path: ['base'], title: 'it', check })
  return { effect, writing }
}

describe('a formula while it is written', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('runs each text that can be read at once, and makes one edit of a pause', async () => {
    const { effect, writing } = begin()
    for (const text of ['2', '2 *', '2 * 3']) {
      writing.type(text)
      await vi.advanceTimersByTimeAsync(CHECK_MS)
    }
    expect([effect.source.text, effect.edits]).toEqual(['2 * 3', []])
    await vi.advanceTimersByTimeAsync(COMMIT_MS)
    expect(effect.edits).toEqual(['Write it'])
  })

  it('lets the last good text run and keeps what cannot run beside it', async () => {
    const { effect, writing } = begin()
    writing.type('2')
    await vi.advanceTimersByTimeAsync(CHECK_MS)
    writing.type('2 ?')
    await vi.advanceTimersByTimeAsync(CHECK_MS + COMMIT_MS)
    expect([effect.source.text, effect.source.draft, writing.runs]).toEqual(['2', '2 ?', false])
    // opened again, it is what was being written; corrected, nothing of it is left over
    const reopened = begin(effect)
    expect(reopened.writing.text).toBe('2 ?')
    reopened.writing.type('2 + 1')
    await vi.advanceTimersByTimeAsync(CHECK_MS + COMMIT_MS)
    expect([effect.source.text, effect.source.draft]).toEqual(['2 + 1', ''])
  })

  it('runs what was put aside for a name as soon as there is one, however long that took', async () => {
    const { effect, writing } = begin()
    check.mockImplementationOnce(async () => wrong)
    writing.type('2 * pen')
    await vi.advanceTimersByTimeAsync(CHECK_MS + COMMIT_MS)
    expect([effect.source.text, effect.source.draft]).toEqual(['1', '2 * pen'])
    effect.document = { ...(effect.document as object), dials: [{ name: 'pen' }] }
    writing.type('2 * pen')
    writing.follow()
    await vi.advanceTimersByTimeAsync(CHECK_MS + COMMIT_MS)
    expect([effect.source.text, effect.source.draft, effect.edits.at(-1)]).toEqual(['2 * pen', '', 'Write it'])
  })

  it('takes nothing from an answer that a newer text has overtaken', async () => {
    const { effect, writing } = begin()
    let late: (answer: FormulaAnswer) => void = () => {}
    check.mockImplementationOnce(() => new Promise((resolve) => (late = resolve)))
    writing.type('5')
    await vi.advanceTimersByTimeAsync(CHECK_MS)
    writing.type('6 ?')
    await vi.advanceTimersByTimeAsync(CHECK_MS)
    late(fine)
    await vi.advanceTimersByTimeAsync(1)
    expect([effect.source.text, writing.runs]).toEqual(['1', false])
  })

  it('makes an edit when the hand leaves, none when nothing was typed, and follows undo', async () => {
    const { effect, writing } = begin()
    await writing.settle()
    expect(effect.edits).toEqual([])
    writing.type('7')
    await writing.settle()
    expect([effect.source.text, effect.edits]).toEqual(['7', ['Write it']])
    effect.document = { base: { kind: 'formula', uid: 'f', text: '1', draft: '' }, emitters: [] }
    writing.follow()
    expect(writing.text).toBe('1')
    effect.document = { base: 4, emitters: [] } // a number again
    writing.type('8')
    await writing.settle()
    expect(effect.document).toEqual({ base: 4, emitters: [] })
  })
})
