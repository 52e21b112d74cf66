import { expect, it } from 'vitest'
import { acts, Catalog, inUse, sourceKey } from '../effect/catalog'
import type { CurveResponse, Emitter, Response, RowSpec } from '../wire/types'
import { lanesOf, moveKeys } from './lanes'

const spec = (key: string) => ({ key, label: key, band: 'look', kind: 'number', stage: 'live', unit: { symbol: '', scale: 1, digits: 2 }, lowest: 0, highest: 1, drag: 1, default: 1, help: '', always: true, family: key }) as RowSpec
const catalog = new Catalog({ rows: [spec('look.size'), spec('look.opacity')], sources: [], aims: [{ kind: 'direction', rows: ['direction'] }], operations: [], draws: [], own_rows: {}, draw_rows: {} } as never)
const response = (uid: string, xs: number[], input: [number, number] = [0, 1]) =>
  ({ uid, kind: 'curve', source: { kind: 'life' }, read: 'live', input, output: [0, 1], curve: { keys: xs.map((x) => ({ x, y: 0.5, shape: 'smooth' })) } }) as unknown as CurveResponse
const emitter = (size: Response[], opacity: Response[]) => ({ births: { place: { kind: 'point' }, launch: {} }, look: { size: { base: 1, responses: size }, opacity: { base: 1, responses: opacity } } }) as unknown as Emitter
const xs = (e: Emitter, row: 'size' | 'opacity') => (e.look[row].responses![0] as CurveResponse).curve.keys.map((k) => k.x)

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
  expect(acts(one, placed, own)).toBe(true)
  expect(acts({ ...one, muted_sources: ['life'] } as Emitter, placed, own)).toBe(false)
  expect(acts(one, { ...placed, row: { ...placed.row, muted: true } as never }, own)).toBe(false)
  expect(acts(one, placed, { ...own, muted: true })).toBe(false)
  expect(inUse(placed)).toBe(true)
})

it('names sources as the core does', () => {
  expect(sourceKey({ kind: 'position', part: 'x' } as never)).toBe('position.x')
  expect(sourceKey({ kind: 'draw', draw: 'd1' } as never)).toBe('draws.d1')
  expect(sourceKey({ kind: 'own', own: 'o', part: 'whole' } as never)).toBe('own.o')
  expect(sourceKey({ kind: 'row', row: 'look.size', part: 'whole' } as never)).toBe('row.look.size')
})
