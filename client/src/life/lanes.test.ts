import { expect, it } from 'vitest'
import { Catalog, inUse } from '../effect/catalog.svelte'
import type { CurveResponse, Emitter, Response, RowSpec } from '../wire/types'
import { lanesOf, moveKeys } from './lanes'

const spec = (key: string) =>
  ({
    key,
    label: key,
    band: 'look',
    kind: 'number',
    stage: 'live',
    unit: { symbol: '', scale: 1, digits: 2 },
    lowest: 0,
    highest: 1,
    drag: 1,
    default: 1,
    help: '',
    always: true,
    family: key,
  }) as RowSpec
const catalog = new Catalog({ sources: [], operations: [], settings: { curve: {} }, draws: [] } as never)
const words = { name: 'life', column: 'life', unit: spec('x').unit, live: true }
const laid = (name: string, at: number) => ({
  address: `look.${name}`,
  path: ['look', name],
  spec: at,
  label: name,
  unused: false,
  plain: false,
  of: '',
  host: '',
})
catalog.layout = {
  specs: [spec('look.size'), spec('look.opacity')],
  emitters: {
    e: {
      rows: [laid('size', 0), laid('opacity', 1)],
      parts: {},
      sources: { s: words, o: words },
      bands: [],
      used: {},
      fitted: '',
    },
  },
  props: {},
  picture: {},
  addable: [],
  showable: [],
  used: {},
}
const response = (uid: string, xs: number[], input: [number, number] = [0, 1]) =>
  ({
    uid,
    kind: 'curve',
    source: { kind: 'life' },
    read: 'live',
    input,
    output: [0, 1],
    curve: { keys: xs.map((x) => ({ x, y: 0.5, shape: 'smooth' })) },
  }) as unknown as CurveResponse
const emitter = (size: Response[], opacity: Response[]) =>
  ({
    uid: 'e',
    births: { place: { kind: 'point' }, launch: {} },
    look: { size: { base: 1, responses: size }, opacity: { base: 1, responses: opacity } },
  }) as unknown as Emitter
const xs = (e: Emitter, row: 'size' | 'opacity') =>
  (e.look[row].responses![0] as CurveResponse).curve.keys.map((k) => k.x)

it('moves keys of several lanes by the same share of life, whatever their input ranges', () => {
  const one = emitter([response('s', [0, 0.4, 1])], [response('o', [0, 0.5, 1], [0, 0.5])])
  const moved = moveKeys(one, lanesOf(catalog, one), new Set(['s:1', 'o:1']), 0.1, 0)
  expect(xs(moved, 'size')).toEqual([0, 0.5, 1])
  expect(xs(moved, 'opacity')).toEqual([0, 0.7, 1])
  expect(xs(one, 'size')).toEqual([0, 0.4, 1])
})

it('keeps keys in order and inside, and those that are chosen together at their distance', () => {
  const one = emitter([response('s', [0.2, 0.4, 0.6])], [])
  expect(xs(moveKeys(one, lanesOf(catalog, one), new Set(['s:1']), 0.9, 0), 'size')).toEqual([0.2, 0.598, 0.6])
  const both = xs(moveKeys(one, lanesOf(catalog, one), new Set(['s:1', 's:2']), 0.9, 0), 'size')
  expect(both).toEqual([0.2, 0.8, 1])
})

it('a response acts unless it, its row or its source is muted', () => {
  const one = emitter([response('s', [0, 1])], [])
  const [placed] = catalog.rowsOf(one)
  const own = placed.row.responses![0]
  expect(catalog.isActive(one, placed, own)).toBe(true)
  expect(catalog.isActive({ ...one, muted_sources: ['life'] } as Emitter, placed, own)).toBe(false)
  expect(catalog.isActive(one, { ...placed, row: { ...placed.row, muted: true } as never }, own)).toBe(false)
  expect(catalog.isActive(one, placed, { ...own, muted: true })).toBe(false)
  expect(inUse(placed)).toBe(true)
})
