import { describe, expect, it } from 'vitest'
import type { Effect, Prop } from '../wire/types'
import { freeName, geometryKey, newProp } from './props'

const ball = {
  kind: 'shape',
  uid: 'new',
  name: 'sphere',
  shape: 'sphere',
  radius: 0.5,
  scale: { base: [1, 1, 1], responses: [{ uid: 'new-0' }] },
}
const add = {
  label: 'Sphere',
  group: 'shapes',
  help: '',
  path: ['props'],
  value: ball,
  append: true,
  why: '',
  whole: false,
}
const prop = (name: string, more: Record<string, unknown> = {}) =>
  ({ ...ball, name, uid: name.toLowerCase(), ...more }) as unknown as Prop
const effect = (props: Prop[], emitters: unknown[] = []) => ({ props, emitters }) as unknown as Effect

describe('props', () => {
  it('get names that formulas can tell apart', () => {
    expect(freeName(effect([prop('Bell'), prop('bell-2')]), 'BELL')).toBe('BELL 3')
  })
  it('are made with uids and names of their own, or say what they lack', () => {
    const [one, two] = [newProp(effect([prop('sphere')]), add), newProp(effect([]), add, { radius: 2 })]
    expect([one.name, two.name, two.radius]).toEqual(['sphere 2', 'sphere', 2])
    const uids = [one, two].flatMap((p) => [p.uid, (p.scale as unknown as typeof ball.scale).responses[0].uid])
    expect([new Set(uids).size, uids.some((uid) => uid.startsWith('new'))]).toEqual([4, false])
    expect(() => newProp(effect([]), { ...add, why: 'There is no mesh.' })).toThrow('no mesh')
  })
  it('have the same geometry wherever they stand, and another when a size changes', () => {
    const a = prop('A')
    expect(geometryKey({ ...a, name: 'B', tint: [1, 0, 0], position: a.scale } as Prop)).toBe(geometryKey(a))
    expect(geometryKey({ ...a, roughness: a.scale, glow_by: 'p', lit: false } as never)).toBe(geometryKey(a))
    expect(geometryKey({ ...a, dissolve: { mask: 'm' } } as never)).toBe(geometryKey(a))
    expect(geometryKey({ ...a, radius: 2 } as Prop)).not.toBe(geometryKey(a))
    expect(geometryKey({ ...a, strokes: [{}] } as never)).not.toBe(geometryKey(a))
  })
})
