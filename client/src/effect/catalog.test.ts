import { describe, expect, it } from 'vitest'
import { madeUpDesk } from '../testing/desk'
import type { Effect, Response } from '../wire/types'
import { inUse, isSourced, numbers, placeInWords } from './catalog.svelte'
import { put } from './path'

const SIZE = 'look.size'

describe('the catalog', () => {
  it('places every row where its value stands, in the order of the core, settings of responses behind', () => {
    const { catalog, draft } = madeUpDesk()
    const laid = catalog.layout.emitters.one.rows
    const rows = catalog.allRows(draft.emitter)
    expect(rows.map((row) => row.address)).toEqual(laid.map((row) => row.address))
    expect(catalog.rowsOf(draft.emitter)).toEqual(rows.filter((row) => !row.of))
    const size = catalog.rowAt(draft.emitter, SIZE)!
    expect([size.label, size.row.base, size.row.responses?.map((r) => r.uid)]).toEqual([
      size.spec.label,
      0.1,
      ['life', 'flicker'],
    ])
    const settings = catalog.settingsOf(draft.emitter, size)
    expect(settings.length).toBeGreaterThan(4)
    expect(settings.every((row) => row.of === SIZE && row.host === size && row.plain)).toBe(true)
    expect(catalog.rowAt(draft.emitter, 'no.such.row')).toBeUndefined()
  })

  it('keeps what was placed as long as nothing about it changed, so that only what changed is drawn again', () => {
    const { catalog, draft } = madeUpDesk()
    const before = catalog.rowsOf(draft.emitter)
    expect(catalog.rowsOf(draft.emitter)).toBe(before)
    const path = catalog.rowAt(draft.emitter, SIZE)!.path
    const changed = put(draft.emitter, [...path, 'base'], 0.2)
    const after = catalog.rowsOf(changed)
    const same = after.filter((row, i) => row === before[i]).map((row) => row.address)
    expect(same).not.toContain(SIZE)
    const driven = before.filter((row) => !row.plain).map((row) => row.address)
    expect(driven.filter((address) => !same.includes(address))).toEqual([SIZE])
  })

  it('lays out the settings of a response that was just made, until the core does', () => {
    const { catalog, draft } = madeUpDesk()
    const size = catalog.rowAt(draft.emitter, SIZE)!
    const fresh = { ...size.row.responses![0], uid: 'fresh', output: [0.25, 4] } as Response
    const result = put(draft.emitter, [...size.path, 'responses'], [...size.row.responses!, fresh])
    const ahead = catalog
      .settingsOf(result, catalog.rowAt(result, SIZE)!)
      .filter((row) => row.address.startsWith('responses.fresh.'))
    expect(ahead.map((row) => row.address).sort()).toEqual(
      Object.keys(catalog.data.settings.curve)
        .map((name) => `responses.fresh.${name}`)
        .sort(),
    )
    const high = ahead.find((row) => row.address.endsWith('.high'))!
    expect([high.row.base, high.path.slice(-2), high.spec.band]).toEqual([4, ['output', 1], size.spec.band])
  })

  it('names what a response reads, also one that was chosen since', () => {
    const { catalog, draft } = madeUpDesk()
    const [life, flicker] = catalog.rowAt(draft.emitter, SIZE)!.row.responses!
    expect([catalog.nameOf(draft.emitter, life), catalog.nameOf(draft.emitter, flicker)]).toEqual(['life', 'flicker'])
    expect(catalog.columnOf(draft.emitter, life)).not.toBe(catalog.columnOf(draft.emitter, flicker))
    const fresh = { ...life, uid: 'fresh', source: { kind: 'speed' } } as Response
    expect(catalog.nameOf(draft.emitter, fresh)).toBe(catalog.source('speed').label)
    catalog.chose('fresh', { name: 'how fast', column: 'speed', unit: catalog.source('speed').unit, live: true })
    expect(catalog.nameOf(draft.emitter, fresh)).toBe('how fast')
  })

  it('says whether a response acts: it, its row and its column must be heard', () => {
    const { catalog, draft } = madeUpDesk()
    const size = catalog.rowAt(draft.emitter, SIZE)!
    const [life] = size.row.responses!
    const column = catalog.columnOf(draft.emitter, life)
    expect(catalog.isActive(draft.emitter, size, life)).toBe(true)
    expect(catalog.isActive(draft.emitter, size, { ...life, muted: true })).toBe(false)
    expect(catalog.isActive(draft.emitter, { ...size, row: { ...size.row, muted: true } }, life)).toBe(false)
    expect(catalog.isActive({ ...draft.emitter, muted_sources: [column] }, size, life)).toBe(false)
    expect(catalog.isActive({ ...draft.emitter, muted_sources: ['another'] }, size, life)).toBe(true)
  })

  it('says which rows are in use: driven, from a source, or another value than that of doing nothing', () => {
    const { catalog, draft } = madeUpDesk()
    const row = (address: string) => catalog.rowAt(draft.emitter, address)!
    expect(inUse(row(SIZE))).toBe(true)
    const idle = catalog.rowsOf(draft.emitter).find((each) => !inUse(each))!
    expect(idle.row.base).toEqual(idle.spec.default)
    expect(inUse({ ...idle, row: { ...idle.row, base: 77 } })).toBe(true)
    const sourced = { source: { kind: 'life' }, read: 'live' } as never
    expect([isSourced(sourced), inUse({ ...idle, row: { base: sourced, responses: [] } as never })]).toEqual([
      true,
      true,
    ])
    expect([numbers(2, [1]), numbers([1, 2, 3] as never, [1]), numbers(sourced, [5])]).toEqual([[2], [1, 2, 3], [5]])
  })

  it('tells places of findings in words', () => {
    const { catalog, draft } = madeUpDesk()
    const words = (where: string) => placeInWords(catalog, draft.document, where)
    const size = catalog.rowAt(draft.emitter, SIZE)!
    expect(words('emitters.0.look.size.base')).toBe(`One, ${size.label}`)
    expect(words('emitters.1.look.size.responses.0')).toBe(`Two, ${size.label}`)
    expect(words('dials.0.value')).toBe('Strength')
    expect([
      words('dials.9'),
      words('clip.frame_rate'),
      words('camera'),
      words('emitters.9'),
      words('nowhere'),
    ]).toEqual(['one of the dials', 'The clip', "The effect's camera", 'One of the emitters', 'The effect'])
  })

  it('finds flags of parts, and nothing of what is not laid out', () => {
    const { catalog, draft } = madeUpDesk()
    expect(catalog.thing(draft.emitter)).toBe(catalog.layout.emitters.one)
    expect(catalog.part({ uid: 'none' }, '')).toBeUndefined()
    expect(catalog.is({ uid: 'none' }, 'camera')).toBe(false)
    expect(catalog.rowsOf({ uid: 'none' } as Effect['emitters'][number])).toEqual([])
  })
})
