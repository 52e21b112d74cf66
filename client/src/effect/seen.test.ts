import { describe, expect, it } from 'vitest'
import type { DrawnEmitter } from '../wire/packets'
import type { Effect } from '../wire/types'
import type { OpenEffect } from './open.svelte'
import { shownOf } from './seen'
import { Trial } from './trial'

const drawn = (columns: DrawnEmitter['columns'], count: number, defaults = {}) =>
  ({ uid: 'e', count, columns, defaults }) as unknown as DrawnEmitter

describe('who is seen', () => {
  it('has a size and an opacity, whatever numbers these are sent as', () => {
    const halves = new Uint16Array([0x3c00, 0x0000, 0x8000, 0x0001]) // 1, 0, -0, the smallest
    expect(shownOf(drawn({ size: halves }, 4, { opacity: 1 }))).toBe(2)
    expect(shownOf(drawn({ size: new Float32Array([1, 1, 0]), opacity: new Uint8Array([0, 255, 255]) }, 3))).toBe(1)
    expect(shownOf(drawn({}, 5, { size: 0.1, opacity: 1 }))).toBe(5)
    expect(shownOf(drawn({}, 5, { size: 0.1, opacity: 0 }))).toBe(0)
  })
})

describe('a trial of an edit', () => {
  it('changes a document of its own, and leaves the open one and all that did not change', () => {
    const document = { emitters: [{ uid: 'a', x: { n: 1 } }, { uid: 'b' }], props: [] } as unknown as Effect
    const open = {
      document,
      emitter: document.emitters[0],
      inEmitter: (path: (string | number)[]) => ['emitters', 0, ...path],
    } as unknown as OpenEffect
    const trial = new Trial(open)
    trial.edit('', trial.inEmitter(['x', 'n']), 2)
    expect((trial.owner as unknown as { x: { n: number } }).x.n).toBe(2)
    expect((document.emitters[0] as unknown as { x: { n: number } }).x.n).toBe(1)
    expect(trial.document.emitters[1]).toBe(document.emitters[1])
  })
})
