import { expect, it } from 'vitest'
import type { Card } from '../wire/types'
import { allFolders, arranged, foldersIn, tagsOf } from './shelves'

const card = (id: number, name: string, folder: string, tags: string[] = [], last = 100) =>
  ({
    id,
    name,
    folder,
    tags,
    saved: `2026-01-0${id}`,
    first_frame: 0,
    last_frame: last,
    frame_rate: [25, 1],
  }) as unknown as Card
const CARDS = [
  card(1, 'Wake 10', 'Short/Shot 2', ['water']),
  card(2, 'Wake 9', 'Short', ['water', 'night'], 300),
  card(3, 'Embers', ''),
  card(4, 'Spray', 'Shorter', ['night']),
]
const ALL = { text: '', folder: '', tags: [], order: 'newest' as const }
const names = (cards: Card[]) => cards.map((each) => each.name)
const NONE = new Map<number, number>()

it('stands the newest first, and numbers in names by their size', () => {
  expect(names(arranged(CARDS, ALL, NONE))).toEqual(['Spray', 'Embers', 'Wake 9', 'Wake 10'])
  expect(names(arranged(CARDS, { ...ALL, order: 'name' }, NONE))).toEqual(['Embers', 'Spray', 'Wake 9', 'Wake 10'])
  expect(names(arranged(CARDS, { ...ALL, order: 'longest' }, NONE))[0]).toBe('Wake 9')
})

it('shows a folder with what lies below it, not one whose name begins alike', () => {
  expect(names(arranged(CARDS, { ...ALL, folder: 'Short' }, NONE))).toEqual(['Wake 9', 'Wake 10'])
  expect(foldersIn(CARDS, '')).toEqual([
    { path: 'Short', name: 'Short', count: 2 },
    { path: 'Shorter', name: 'Shorter', count: 1 },
  ])
  expect(foldersIn(CARDS, 'Short')).toEqual([{ path: 'Short/Shot 2', name: 'Shot 2', count: 1 }])
  expect(allFolders(CARDS)).toEqual(['Short', 'Short/Shot 2', 'Shorter'])
})

it('asks for every word and every tag', () => {
  expect(names(arranged(CARDS, { ...ALL, text: 'wake shot' }, NONE))).toEqual(['Wake 10'])
  expect(names(arranged(CARDS, { ...ALL, tags: ['water', 'night'] }, NONE))).toEqual(['Wake 9'])
  expect(tagsOf(CARDS)).toEqual([
    { tag: 'night', count: 2 },
    { tag: 'water', count: 2 },
  ])
})

it('stands a copy behind what it was made of, whatever the order', () => {
  expect(names(arranged(CARDS, ALL, new Map([[4, 1]])))).toEqual(['Embers', 'Wake 9', 'Wake 10', 'Spray'])
  expect(names(arranged(CARDS, { ...ALL, folder: 'Shorter' }, new Map([[4, 1]])))).toEqual(['Spray'])
})
