/** Which cards the Library shows, and in which order. */
import { framesASecond } from '../effect/rate'
import type { Card } from '../wire/types'

export type Order = 'newest' | 'name' | 'longest'
export type Looking = { text: string; folder: string; tags: readonly string[]; order: Order }

const within = (folder: string, other: string) => other === folder || folder === '' || other.startsWith(`${folder}/`)
export const secondsOf = (card: Card) => (card.last_frame - card.first_frame) / framesASecond(card)

/**
 * Return the cards of a folder and those below it that have every tag and every word, in order. besides: of a copy made just
 * now, what it was made of; it stands right behind that.
 */
export function arranged(cards: readonly Card[], looking: Looking, besides: ReadonlyMap<number, number>): Card[] {
  const words = looking.text.toLowerCase().split(/\s+/).filter(Boolean)
  const found = cards.filter((card) => {
    const text = [card.name, card.folder, ...card.tags].join(' ').toLowerCase()
    return (
      within(looking.folder, card.folder) &&
      looking.tags.every((tag) => card.tags.includes(tag)) &&
      words.every((word) => text.includes(word))
    )
  })
  const by = {
    newest: (a: Card, b: Card) => b.saved.localeCompare(a.saved) || b.id - a.id,
    name: (a: Card, b: Card) => a.name.localeCompare(b.name, undefined, { numeric: true }) || a.id - b.id,
    longest: (a: Card, b: Card) => secondsOf(b) - secondsOf(a) || a.id - b.id,
  }[looking.order]
  const sorted = found.toSorted(by)
  for (const [copy, original] of besides) {
    const at = sorted.findIndex((card) => card.id === copy)
    if (at < 0 || !sorted.some((card) => card.id === original)) continue
    const [card] = sorted.splice(at, 1)
    sorted.splice(sorted.findIndex((card) => card.id === original) + 1, 0, card)
  }
  return sorted
}

/** Return the folders right below one, by path, with how many cards are in and below each. */
export function foldersIn(cards: readonly Card[], folder: string): { path: string; name: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const card of cards) {
    if (card.folder === folder || !within(folder, card.folder)) continue
    const name = card.folder.slice(folder ? folder.length + 1 : 0).split('/')[0]
    const path = folder ? `${folder}/${name}` : name
    counts.set(path, (counts.get(path) ?? 0) + 1)
  }
  return [...counts]
    .map(([path, count]) => ({ path, name: path.slice(folder ? folder.length + 1 : 0), count }))
    .sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }))
}

/** Return every folder there is, by path, those above others too. */
export function allFolders(cards: readonly Card[]): string[] {
  const paths = new Set<string>()
  for (const { folder } of cards) folder.split('/').forEach((_, i, names) => paths.add(names.slice(0, i + 1).join('/')))
  return [...paths].filter(Boolean).sort((a, b) => a.localeCompare(b, undefined, { numeric: true }))
}

/** Return the tags of cards, the most used first. */
export function tagsOf(cards: readonly Card[]): { tag: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const card of cards) for (const tag of card.tags) counts.set(tag, (counts.get(tag) ?? 0) + 1)
  return [...counts]
    .map(([tag, count]) => ({ tag, count }))
    .sort((a, b) => b.count - a.count || a.tag.localeCompare(b.tag))
}
