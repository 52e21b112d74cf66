import { expect, test } from 'vitest'
import { inTurn } from './turns'

const later = () => new Promise<void>((done) => setTimeout(done, 5))

test('one is asked for after the other, a failure stops none, and what is given up is not begun or is told so', async () => {
  const events: string[] = []
  const work = (name: string, fails = false) =>
    inTurn(async (signal) => {
      events.push(`${name} begins`)
      await later()
      events.push(`${name} ${signal.aborted ? 'was given up' : 'ends'}`)
      if (fails) throw new Error(name)
    })
  const first = work('a', true)
  const second = work('b')
  work('c')
  await Promise.resolve()
  first() // while it works
  second() // before it begins
  await new Promise<void>((done) => inTurn(async () => done()))
  expect(events).toEqual(['a begins', 'a was given up', 'c begins', 'c ends'])
})

test('what stands in front is asked for before what waits already, each in its order', async () => {
  const events: string[] = []
  const work = (name: string, first = false) =>
    inTurn(async () => {
      events.push(name)
      await later()
    }, first)
  for (const name of ['a', 'b', 'c']) work(name)
  for (const name of ['x', 'y']) work(name, true)
  await new Promise<void>((done) => inTurn(async () => done()))
  expect(events).toEqual(['a', 'x', 'y', 'b', 'c'])
})
