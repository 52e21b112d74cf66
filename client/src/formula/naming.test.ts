import { describe, expect, it } from 'vitest'
import type { Catalog } from '../effect/catalog.svelte'
import type { OpenEffect } from '../effect/open.svelte'
import { put, type Path } from '../effect/path'
import type { Dial, Effect } from '../wire/types'
import { makeable, makeNamed, numberAt, renamedIn } from './naming'

describe('what a formula lacks', () => {
  it('can become a dial or a draw, and only what its group says where it has one', () => {
    expect(makeable('wobble').map((each) => each.kind)).toEqual(['dial', 'draw'])
    expect(makeable('dials.reach')).toEqual([{ kind: 'dial', name: 'reach' }])
    expect(makeable('draws.luck')).toEqual([{ kind: 'draw', name: 'luck' }])
    for (const other of ['props.bell', 'own.count', 'masks.', 'dials.']) expect(makeable(other)).toEqual([])
  })
  it('is renamed wherever it stands as a name of its own, and nowhere else', () => {
    const text = 'wobble * 2 + draws.wobble + wobbles # wobble\nwobble(3) + (wobble)'
    expect(renamedIn(text, 'wobble', 'dials.wobble')).toBe(
      'dials.wobble * 2 + draws.wobble + wobbles # wobble\nwobble(3) + (dials.wobble)',
    )
    expect(renamedIn('dials . reach + 1', 'dials.reach', 'dials.reach_2')).toBe('dials.reach_2 + 1')
  })
  it('is a number where one stands under the pointer, but no digit of a name or comment', () => {
    const text = 'vec3(0.5, .25, 1e-3) * x2 # 9'
    for (const [at, value] of [
      [6, 0.5],
      [11, 0.25],
      [16, 0.001],
    ] as const)
      expect(numberAt(text, at)).toMatchObject({ value })
    for (const at of [2, 25, 29]) expect(numberAt(text, at), `at ${at}`).toBeNull()
    const found = numberAt(text, 6)!
    expect(text.slice(found.from, found.to)).toBe('0.5')
  })
})

class Draft {
  document = { dials: [] as Dial[], emitters: [{ uid: 'e', draws: [{ name: 'luck' }] }] } as unknown as Effect
  edits: string[] = []
  get emitter() {
    return this.document.emitters[0]
  }
  inEmitter = (path: Path): Path => ['emitters', 0, ...path]
  edit(label: string, path: Path, value: unknown) {
    this.document = put(this.document, path, value)
    this.edits.push(label)
  }
}
const catalog = { drawKind: () => ({ template: { kind: 'uniform' }, range: [0, 1] }) } as unknown as Catalog

describe('what is made of it', () => {
  it('is a dial at its present value, which is its default, within a range to turn in, under a name of its own', () => {
    const draft = new Draft()
    const make = (name: string, value?: number) =>
      makeNamed(draft as unknown as OpenEffect, catalog, 'dial', name, value)
    expect([make('Reach', 0.4), make('reach', -2), make('other', 0)]).toEqual([
      'dials.reach',
      'dials.reach_2',
      'dials.other',
    ])
    expect(draft.document.dials.map((d) => [d.value, d.default, d.low, d.high])).toEqual([
      [0.4, 0.4, 0, 0.8],
      [-2, -2, -4, 0],
      [0, 0, -1, 1],
    ])
    expect(draft.edits).toHaveLength(3)
  })
  it('is a draw of the emitter that is looked at', () => {
    const draft = new Draft()
    expect(makeNamed(draft as unknown as OpenEffect, catalog, 'draw', 'chance')).toBe('draws.chance')
    expect(draft.document.emitters[0].draws.map((d) => d.name)).toEqual(['luck', 'chance'])
  })
})
