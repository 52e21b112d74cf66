import { expect, it } from 'vitest'
import type { AddSpec, Effect, Prop } from '../wire/types'
import { geometryKey, mayFollow, newMask } from './props'

const effect = (...props: object[]) => ({ props, emitters: [] }) as unknown as Effect
const ball = { uid: 'b', name: 'Ball', kind: 'shape', follow: null } as unknown as Prop
const add = (more: Partial<AddSpec>) => ({ label: 'Inside a mesh', group: '', help: '', path: ['props'], append: true, why: '', value: { uid: 'new', kind: 'mask', of: 'b' }, ...more }) as AddSpec

it('a new mask is what the core offers, with a uid and name of its own; where it lacks something it says so', () => {
  const [one, two] = [newMask(effect(ball), add({})), newMask(effect(ball), add({}))]
  expect([one.of, one.name]).toEqual(['b', 'inside a mesh mask'])
  expect(one.uid).toMatch(/^[0-9a-f]{16}$/)
  expect(one.uid).not.toBe(two.uid)
  expect(newMask(effect(one), add({})).name).toBe('inside a mesh mask 2')
  expect(() => newMask(effect(), add({ value: null, why: 'There is no mesh.' }))).toThrow('There is no mesh.')
})
it('what is only seen of a prop does not make its geometry another', () => {
  expect(geometryKey({ ...ball, name: 'Other', dissolve: { mask: 'm' } } as never)).toBe(geometryKey(ball))
  expect(geometryKey({ ...ball, strokes: [{}] } as never)).not.toBe(geometryKey(ball))
  expect(mayFollow(effect(ball), ball, ball)).toBe(false)
})
