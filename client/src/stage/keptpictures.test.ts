import { describe, expect, it } from 'vitest'
import { KeptPictures, MOST_KEPT, type Kept, type PictureStore } from './keptpictures.svelte'
import type { Shot } from './render.svelte'

const shot = (name: string) => ({ name, width: 1, height: 1, scale: 1 }) as Shot
function store(full = false): PictureStore & { rows: Map<string, Kept> } {
  const rows = new Map<string, Kept>()
  return {
    rows,
    all: async (effect) => [...rows.values()].filter((each) => each.effect === effect),
    put: async (picture) => {
      if (full) throw new Error('quota')
      rows.set(picture.id, picture)
    },
    remove: async (id) => rows.delete(id),
  }
}
const names = (pictures: KeptPictures) => pictures.shots.map((each) => each.name)

describe('pictures that are kept', () => {
  it('are there when the view is opened again, with their own effect alone, until they are thrown away', async () => {
    const kept = store()
    const first = new KeptPictures(3, kept)
    for (const name of ['frame 4', 'frame 9', 'frame 4']) await first.keep(shot(name))
    const reopened = new KeptPictures(3, kept)
    await reopened.ready
    expect(names(reopened)).toEqual(['frame 4', 'frame 9', 'frame 4 (2)'])
    const other = new KeptPictures(4, kept)
    await other.ready
    expect(names(other)).toEqual([])
    reopened.drop(reopened.shots[1])
    expect(names(reopened)).toEqual(['frame 4', 'frame 4 (2)'])
    expect(kept.rows.size).toBe(2)
  })
  it('push none out: what would be too many is refused in words', async () => {
    const pictures = new KeptPictures(1, store())
    for (let i = 0; i <= MOST_KEPT; i++) await pictures.keep(shot(`frame ${i}`))
    expect(names(pictures)).toHaveLength(MOST_KEPT)
    expect(names(pictures)[0]).toBe('frame 0')
    expect(pictures.problem).toMatch(/Throw one away first/)
    pictures.drop(pictures.shots[0])
    expect(pictures.problem).toBe('')
  })
  it('stay as long as the page where the browser stores none, and say so', async () => {
    const pictures = new KeptPictures(1, store(true))
    await pictures.keep(shot('frame 2'))
    expect(names(pictures)).toEqual(['frame 2'])
    expect(pictures.problem).toMatch(/until this page closes/)
  })
})
