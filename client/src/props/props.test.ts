import { describe, expect, it } from 'vitest'
import type { Effect, Prop } from '../wire/types'
import { cameraOf, freeName, geometryKey, mayFollow, newProp, pathOf } from './props'

const prop = (name: string, more: Record<string, unknown> = {}) => ({ ...newProp('shape', name, { shape: 'sphere' }), uid: name.toLowerCase(), ...more }) as Prop
const effect = (props: Prop[], emitters: unknown[] = []) => ({ props, emitters }) as unknown as Effect

describe('props', () => {
  it('never follow themselves, however long the way', () => {
    const [a, b, c] = [prop('A', { follow: { prop: 'b' } }), prop('B', { follow: { prop: 'c' } }), prop('C')]
    const made = effect([a, b, c])
    expect([mayFollow(made, c, a), mayFollow(made, c, b), mayFollow(made, a, c)]).toEqual([false, false, true])
  })
  it('get names that formulas can tell apart', () => {
    expect(freeName(effect([prop('Bell'), prop('bell-2')]), 'BELL')).toBe('BELL 3')
  })
  it('have the same geometry wherever they stand, and another when a size changes', () => {
    const a = prop('A')
    expect(geometryKey({ ...a, name: 'B', tint: [1, 0, 0], position: a.scale } as Prop)).toBe(geometryKey(a))
    expect(geometryKey({ ...a, radius: 2 } as Prop)).not.toBe(geometryKey(a))
  })
  it('make a drawing a path a metre high on the ground', () => {
    const file = { kind: 'drawing', name: 'wave.svg', line: [[10, -20, 0], [30, -20, 0], [30, 20, 0]] }
    expect(pathOf(effect([]), file as never).points).toEqual([[-0.25, 0, 0], [0.25, 0, 0], [0.25, 1, 0]])
    expect(() => pathOf(effect([]), { ...file, line: [] } as never)).toThrow('no line')
  })
  it('make a moving camera keyframes, turning the short way', () => {
    const at = (turn: number, x: number) => [Math.cos(turn), 0, Math.sin(turn), x, 0, 1, 0, 2, -Math.sin(turn), 0, Math.cos(turn), 3, 0, 0, 0, 1]
    const keys = [0, 1, 2].map((i) => ({ time: i, place: at(3 + i * 0.2, i * 100) }))
    const made = cameraOf(effect([]), { name: 'Quay', field_of_view: 0.8, place: keys[0].place, keys }, 0.01) as unknown as { position: { base: number[]; responses: { output: number[]; component: string }[] }; rotation: { responses: { output: number[]; component: string }[] } }
    expect(made.position.base).toEqual([0, 0.02, 0.03])
    expect(made.position.responses.map((r) => [r.component, ...r.output])).toEqual([['x', 0, 2]])
    const [turn] = made.rotation.responses
    expect([turn.component, turn.output.map((v) => Number(v.toFixed(2)))]).toEqual(['y', [3, 3.4]])
  })
})
