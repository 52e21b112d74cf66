import { expect, it } from 'vitest'
import { Catalog, sourceKey } from '../effect/catalog'
import type { Effect, Emitter, Prop, Source } from '../wire/types'
import { geometryKey, mayFollow, newMask, users } from './props'

const row = (base: unknown) => ({ base, responses: [], muted: false })
const spec = (key: string) => ({ key, label: key, band: 'births', kind: 'number', stage: 'birth', unit: { symbol: '/s', scale: 1, digits: 2 }, lowest: 0, highest: 1, drag: 1, default: 1, help: '', always: false, family: key })
const LAUNCH = ['direction', 'cone', 'speed', 'origin', 'multiplier', 'offset', 'inherit']
const keys = ['births.rate', 'births.begins', ...LAUNCH.map((n) => `births.launch.${n}`), 'motion.grip', 'thinning.outer', 'thinning.margin']
const catalog = new Catalog({
  rows: keys.map(spec), sources: [], operations: [], draws: [], own_rows: {}, draw_rows: {}, prop_rows: { position: spec('props.position'), radius: spec('props.radius'), level: spec('props.level') }, guides: ['shape', 'mesh'],
  source_parts: { mask: { value: { label: '', unit: { symbol: '%' } }, since: { label: 'since touched', unit: { symbol: 's' } } }, surface: { distance: { label: 'distance', unit: { symbol: 'm' } } } },
  aims: [{ kind: 'direction', rows: ['direction'] }, { kind: 'normal', rows: [] }, { kind: 'away', rows: ['origin'] }, { kind: 'guided', rows: ['origin', 'multiplier', 'offset'] }],
  masks: [{ shape: 'sphere', label: 'Sphere', needs: '', rows: ['position', 'radius'], template: { kind: 'mask', shape: 'sphere' } }, { shape: 'mesh', label: 'Inside a mesh', needs: 'solid', rows: ['radius'], template: { kind: 'mask', shape: 'mesh' } },
    { shape: 'union', label: 'Any of', needs: 'masks', rows: [], template: { kind: 'mask', shape: 'union' } }, { shape: 'noise', label: 'Noise', needs: '', rows: ['level'], template: { kind: 'mask', shape: 'noise' } }],
} as never)

function emitter(aim: string, place: object, more: object = {}): Emitter {
  const launch = { aim, ...Object.fromEntries(LAUNCH.map((name) => [name, row(1)])) }
  return { uid: 'e', name: 'E', births: { rate: row(1), begins: row(0), when: 'rate', per: 'second', place, launch }, motion: { grip: row(0) }, ...more } as unknown as Emitter
}
const used = (e: Emitter) => catalog.rowsOf(e).filter((r) => !r.unused).map((r) => r.address.replace(/^births\.(launch\.)?/, ''))
const effect = (...props: object[]) => ({ props, emitters: [] }) as unknown as Effect
const ball = { uid: 'b', name: 'Ball', kind: 'shape', follow: null } as unknown as Prop

it('only rows that take part in an aim, a place and a timing are in use', () => {
  const point = { kind: 'point' }
  expect(used(emitter('direction', point))).toEqual(['rate', 'direction', 'cone', 'speed'])
  expect(used(emitter('normal', { kind: 'prop' }))).toEqual(['rate', 'cone', 'speed', 'inherit', 'motion.grip'])
  expect(used(emitter('guided', point))).toEqual(['rate', 'cone', 'origin', 'multiplier', 'offset'])
  const each = emitter('away', { kind: 'particles' })
  ;(each.births as { when: string }).when = 'each'
  expect(used(each)).not.toContain('begins') // births from particles have the times their parents give
  expect(used(emitter('direction', point, { thinning: { view: false, outer: row(1), margin: row(1) } }))).toContain('thinning.outer')
  expect(used(emitter('direction', point, { thinning: { view: false, outer: row(1), margin: row(1) } }))).not.toContain('thinning.margin')
  expect(used(emitter('direction', point, { thinning: null }))).not.toContain('thinning.outer')
})
it('a rate by the frame says so', () => {
  const by = emitter('direction', { kind: 'point' })
  ;(by.births as { per: string }).per = 'frame'
  expect(catalog.rowsOf(by)[0].spec.unit.symbol).toBe('/frame')
})
it('masks have the rows of their shape, and sources of them their own units and names', () => {
  const rows = (shape: string) => catalog.rowsOf({ kind: 'mask', shape, position: row([0, 0, 0]), radius: row(1), level: row(1) } as never).map((r) => r.address)
  expect(rows('sphere')).toEqual(['place.position', 'place.radius'])
  expect(rows('noise')).toEqual(['place.level'])
  catalog.propsNow = () => [{ uid: 'm', name: 'Front' }, ball] as never
  const since = { kind: 'mask', mask: 'm', part: 'since' } as Source
  expect([catalog.unitOf({} as never, since).symbol, catalog.sourceName({} as never, since)]).toEqual(['s', 'Front since touched'])
  const away = { kind: 'surface', prop: 'b', part: 'distance' } as Source
  expect([catalog.unitOf({} as never, away).symbol, catalog.sourceName({} as never, away)]).toEqual(['m', 'Ball distance'])
  expect([sourceKey(since), sourceKey(away), sourceKey({ kind: 'mask', mask: 'm' } as Source)]).toEqual(['mask.m.since', 'surface.b.distance', 'mask.m.value'])
})
it('a new mask takes what fits, and says so where nothing does', () => {
  expect(() => newMask(effect(), catalog, 'mesh')).toThrow(/needs a shape or mesh/)
  expect(() => newMask(effect(ball), catalog, 'union')).toThrow(/no masks/)
  const made = newMask(effect(ball), catalog, 'mesh') as unknown as { of: string; name: string }
  expect([made.of, made.name]).toEqual(['b', 'inside a mesh mask'])
  expect((newMask(effect(newMask(effect(), catalog, 'sphere')), catalog, 'union') as unknown as { masks: string[] }).masks).toHaveLength(1)
})
it('whoever reads a mask or a prop by any of its ways uses it', () => {
  const mask = { uid: 'm', name: 'Left front', kind: 'mask', shape: 'sphere' } as unknown as Prop
  const union = { uid: 'u', name: 'Both', kind: 'mask', shape: 'union', masks: ['m'] }
  const body = { ...ball, dissolve: { mask: 'm', latched: true } }
  const reading = { uid: 'e', name: 'Sparks', text: 'latched.left_front > 0.5' }
  const all = { props: [mask, union, body], emitters: [reading] } as unknown as Effect
  expect(users(all, mask)).toEqual(['Both', 'Ball', 'Sparks'])
  const guided = { props: [ball], emitters: [{ uid: 'e', name: 'Ring', births: { launch: { guide: 'b' } } }] } as unknown as Effect
  expect(users(guided, ball)).toEqual(['Ring'])
})
it('what is only seen of a prop does not make its geometry another', () => {
  expect(geometryKey({ ...ball, name: 'Other', dissolve: { mask: 'm' } } as never)).toBe(geometryKey(ball))
  expect(geometryKey({ ...ball, strokes: [{}] } as never)).not.toBe(geometryKey(ball))
  expect(mayFollow(effect(ball), ball, ball)).toBe(false)
})
