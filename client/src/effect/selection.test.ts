import { describe, expect, it } from 'vitest'
import { madeUpDesk } from '../testing/desk'

const SIZE = 'look.size'

describe('what is chosen on a Desk', () => {
  it('is found where it stands, and not where it went', () => {
    const { selection, draft } = madeUpDesk()
    selection.select('flicker')
    expect([selection.found?.placed.address, selection.found?.index, selection.found?.response.uid]).toEqual([
      SIZE,
      1,
      'flicker',
    ])
    selection.key = 3
    selection.select('flicker')
    expect(selection.key).toBe(3)
    selection.select('life')
    expect([selection.key, selection.found?.index]).toEqual([0, 0])
    draft.emitterIndex = 1 // whose size nothing drives
    expect(selection.found).toBe(null)
    selection.select(null)
    expect(selection.found).toBe(null)
  })

  it('marks rows, each by itself', () => {
    const { selection } = madeUpDesk()
    selection.mark('a')
    selection.mark('b')
    selection.mark('a')
    expect(selection.marked).toEqual(['b'])
  })

  it('hears under a solo only what it names, and the document itself without one', () => {
    const { selection, draft, catalog } = madeUpDesk()
    const { document } = draft
    expect(selection.heard(document)).toBe(document)
    const placed = catalog.rowAt(draft.emitter, SIZE)!
    const [life, flicker] = placed.row.responses!
    const muted = () =>
      selection.heard(document).emitters[0].look.size.responses!.map((r: { muted?: boolean }) => !!r.muted)
    const fades = () => !!selection.heard(document).emitters[0].look.opacity.responses![0].muted
    const hears = () => [life, flicker].map((r) => selection.hears(draft.emitter, placed, r))

    selection.solo = { emitter: 'one', label: 'flicker', response: 'flicker', row: SIZE }
    expect([muted(), hears()]).toEqual([
      [true, false],
      [false, true],
    ])
    expect(fades()).toBe(false) // one response of a row alone: other rows are heard
    selection.solo = { emitter: 'one', label: 'size', row: SIZE }
    expect(fades()).toBe(true)
    expect([muted(), hears()]).toEqual([
      [false, false],
      [true, true],
    ])
    selection.solo = { emitter: 'one', label: 'opacity', row: 'look.opacity' }
    expect([muted(), hears()]).toEqual([
      [true, true],
      [false, false],
    ])
    selection.solo = { emitter: 'one', label: 'life', source: catalog.columnOf(draft.emitter, life) }
    expect([muted(), hears()]).toEqual([
      [false, true],
      [true, false],
    ])
    selection.solo = { emitter: 'two', label: 'opacity', row: 'look.opacity' } // of another emitter: all is heard here
    expect([muted(), hears()]).toEqual([
      [false, false],
      [true, true],
    ])
    expect(document).toEqual(madeUpDesk().draft.document) // nothing of it is stored
  })

  it('hears dials as somebody else turned them, within their ends, and thinning as from where one looks', () => {
    const { selection, draft } = madeUpDesk((opened) => {
      opened.document.emitters[1].thinning = { prop: 'cam' } as never
    })
    selection.turned = { name: 'Mia', values: { dial: 7, other: 1 } }
    expect(selection.heard(draft.document).dials).toMatchObject([{ uid: 'dial', value: 1, keys: [] }])
    selection.turned = null
    const standing = { position: [1, 2, 3], target: [0, 0, 0] }
    expect(selection.heard(draft.document, standing)).toBe(draft.document)
    selection.fromHere = true
    const heard = selection.heard(draft.document, standing)
    expect([heard.camera.position, heard.emitters[1].thinning?.prop, heard.emitters[0]]).toEqual([
      [1, 2, 3],
      null,
      draft.document.emitters[0],
    ])
    selection.preview = { ...draft.document, name: 'as it would be' }
    expect(selection.heard(draft.document).name).toBe('as it would be')
  })
})
