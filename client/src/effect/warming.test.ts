import { flushSync } from 'svelte'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { Warming } from './warming.svelte'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

it('says what is compiled until it is done, and then asks no more', async () => {
  const answers = [
    { done: 3, of: 31, words: 'contacts' },
    { done: 30, of: 31, words: 'pictures' },
    { done: 0, of: 0, words: '' },
  ]
  const ask = vi.fn(() => Promise.resolve(answers[Math.min(ask.mock.calls.length, answers.length) - 1]))
  const warming = new Warming(ask)
  const text: string[] = []
  for (let i = 0; i < 5; i++) {
    await vi.advanceTimersByTimeAsync(i ? 2000 : 0)
    flushSync()
    text.push(warming.words)
  }
  expect(text).toEqual(['contacts, 3 of 31', 'pictures, 30 of 31', '', '', ''])
  expect(ask).toHaveBeenCalledTimes(3)
})

it('says nothing once all is done, though the server has not ended it yet', async () => {
  const warming = new Warming(() => Promise.resolve({ done: 31, of: 31, words: 'pictures' }))
  await vi.advanceTimersByTimeAsync(0)
  expect(warming.words).toBe('')
})

it('says nothing where the server does not answer, and stops when it is closed', async () => {
  const silent = new Warming(() => Promise.reject(new Error('no answer')))
  await vi.advanceTimersByTimeAsync(5000)
  expect(silent.words).toBe('')
  const ask = vi.fn(() => Promise.resolve({ done: 1, of: 2, words: 'noise' }))
  const closed = new Warming(ask)
  await vi.advanceTimersByTimeAsync(0)
  closed.close()
  await vi.advanceTimersByTimeAsync(9000)
  expect(ask).toHaveBeenCalledTimes(1)
})
