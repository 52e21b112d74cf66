import { describe, expect, it } from 'vitest'
import type { CurveResponse, SourceChoice } from '../wire/types'
import type { Catalog, PlacedRow } from './catalog.svelte'
import { drive, formulaName, liveInput } from './edits'
import names from './names.samples.json'
import type { OpenEffect } from './open.svelte'

describe('names as formulas write them', () => {
  it('are the core’s', () => {
    for (const [name, written] of Object.entries(names)) expect(formulaName(name)).toBe(written)
  })
})

describe('the range of a new response', () => {
  const choice = { input: [0, 5], fixed: false, now: [1, 2, 3], clip: null } as unknown as SourceChoice
  it('is what particles have, and remembers what that came from', () => {
    expect(liveInput(choice, 'a mesh')).toEqual({ input: [1, 3], fitted: 'a mesh' })
    expect(liveInput({ ...choice, clip: [0, 1, 4] }, 'a mesh').input).toEqual([0, 4])
  })
  it('is the usual one, fitted to nothing, where it is known beforehand or nobody lives', () => {
    for (const other of [{ fixed: true }, { now: null }, { now: [2, 2, 2] as [number, number, number] }])
      expect(liveInput({ ...choice, ...other }, 'a mesh')).toEqual({ input: [0, 5], fitted: '' })
  })
})

describe('a row that is driven', () => {
  const DEGREES = { symbol: '°/s', scale: 180 / Math.PI, digits: 0 }
  const choice = {
    key: 'life',
    label: 'life',
    group: 'time',
    column: 'life',
    read: 'live',
    source: { kind: 'life' },
    input: [0, 1],
  }
  function driven(base: number | number[], row: object = {}, before: object[] = []): CurveResponse {
    let result: unknown
    const owner = { uid: 'one', motion: { spin: { base, responses: before } } }
    const effect = {
      document: { emitters: [owner], dials: [] },
      owner,
      inEmitter: (path: unknown[]) => path,
      edit: (_: string, __: unknown, value: unknown) => (result = value),
    } as unknown as OpenEffect
    const spec = { kind: 'number', unit: DEGREES, drag: 12, default: 0, key: 'motion.spin', ...row }
    const placed = { label: 'Spin', address: 'motion.spin', path: ['motion', 'spin'], row: owner.motion.spin, spec }
    drive(
      effect,
      { chose: () => {}, fittedTo: () => '' } as unknown as Catalog,
      placed as unknown as PlacedRow,
      choice as unknown as SourceChoice,
    )
    return (result as typeof owner).motion.spin.responses.at(-1) as unknown as CurveResponse
  }
  it('is multiplied', () => {
    expect(driven(2)).toMatchObject({ operation: 'multiply', output: [0, 1] })
    expect(driven([0, 1, 0], { kind: 'vector' }).operation).toBe('multiply')
  })
  it('is moved where it is a place, whatever its base: a factor would leave components at nought where they are', () => {
    const metres = { kind: 'vector', unit: { symbol: 'm', scale: 1, digits: 2 }, lowest: -1000, default: [0, 1, 0] }
    expect(driven([0, 0.6, 0], metres).operation).toBe('add')
    expect(driven([0.4, 0.6, 1], { ...metres, lowest: 0 }).operation).toBe('multiply') // a size
  })
  it('is set by the first that drives a colour, and multiplied by those after it', () => {
    const first = driven([1, 0.5, 0.2], { kind: 'colour' })
    expect(first).toMatchObject({ kind: 'gradient', operation: 'set' })
    const second = driven([1, 0.5, 0.2], { kind: 'colour' }, [first])
    expect(second.operation).toBe('multiply')
    expect((second as unknown as { gradient: { stops: object[] } }).gradient.stops[0]).toEqual({
      x: 0,
      colour: [1, 1, 1],
    })
  })
  it('is added to where it is nought: nothing multiplies that', () => {
    const result = driven(0)
    expect(result.operation).toBe('add')
    expect(Number(result.output[1]) * DEGREES.scale).toBeCloseTo(200) // about a quarter of a full drag, of one digit
    expect(driven([0, 0, 0], { kind: 'vector', default: [0, 0, 0] }).operation).toBe('add')
    expect(driven(0, { default: 0.5, unit: { symbol: 'm', scale: 1, digits: 2 } }).output).toEqual([0, 0.5])
  })
})
