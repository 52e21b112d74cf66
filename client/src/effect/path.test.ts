import { expect, it } from 'vitest'
import { at, newUid, put } from './path'

it('changes one place and keeps the rest the same objects', () => {
  const document = { a: [{ x: 1 }, { x: 2 }], b: { c: 3 } }
  const changed = put(document, ['a', 1, 'x'], 5)
  expect(changed).toEqual({ a: [{ x: 1 }, { x: 5 }], b: { c: 3 } })
  expect(document.a[1].x).toBe(2)
  expect(changed.b).toBe(document.b)
  expect(changed.a[0]).toBe(document.a[0])
  expect(at(changed, ['a', 1, 'x'])).toBe(5)
  expect(at(changed, ['nothing', 'here'])).toBeUndefined()
})

it('makes uids the core accepts, each its own', () => {
  const uids = Array.from({ length: 200 }, newUid)
  expect(new Set(uids).size).toBe(200)
  for (const uid of uids) expect(uid).toMatch(/^[a-z0-9][a-z0-9-]{0,39}$/)
})
