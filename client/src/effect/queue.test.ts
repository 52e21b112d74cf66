import { expect, it } from 'vitest'
import { Queue } from './queue'

it('does one thing after the other, whatever ends badly, and gives each its own answer', async () => {
  const queue = new Queue()
  const words: string[] = []
  const work = (name: string, fails = false) =>
    queue.add(async () => {
      words.push(`${name} begins`)
      await new Promise((then) => setTimeout(then, name === 'a' ? 9 : 1))
      words.push(`${name} ends`)
      if (fails) throw new Error(name)
      return name
    })
  const all = await Promise.allSettled([work('a'), work('b', true), work('c')])
  expect(words).toEqual(['a begins', 'a ends', 'b begins', 'b ends', 'c begins', 'c ends'])
  expect(all.map((each) => (each.status === 'fulfilled' ? each.value : String(each.reason)))).toEqual([
    'a',
    'Error: b',
    'c',
  ])
  await expect(queue.add(() => Promise.resolve(4))).resolves.toBe(4)
})
