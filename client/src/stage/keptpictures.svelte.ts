/** Pictures of the render view that are kept: with the effect they are of, in this browser, until they are thrown away. */
import type { Shot } from './render.svelte'

export type Kept = Shot & { id: string; effect: number }
/** Where kept pictures stand. */
export interface PictureStore {
  all(effect: number): Promise<Kept[]>
  put(picture: Kept): Promise<unknown>
  remove(id: string): Promise<unknown>
}
export const MOST_KEPT = 12

export class KeptPictures {
  shots = $state.raw<readonly Kept[]>([])
  /** Why a picture could not be kept, or is kept only as long as this page; in words. */
  problem = $state('')
  /** When those that were kept before are there. */
  readonly ready: Promise<void>

  constructor(
    private readonly effect: number,
    private readonly store: PictureStore = new InBrowser(),
  ) {
    this.ready = this.store
      .all(effect)
      .then((before) => void (this.shots = [...before, ...this.shots]))
      .catch(() => {})
  }

  /** Keep a picture; a second one of the same name is told apart. */
  async keep(shot: Shot): Promise<void> {
    await this.ready
    if (this.shots.length >= MOST_KEPT) {
      this.problem = `${MOST_KEPT} pictures are kept. Throw one away first.`
      return
    }
    const same = this.shots.filter((each) => each.name.replace(/ \(\d+\)$/, '') === shot.name).length
    const name = same ? `${shot.name} (${same + 1})` : shot.name
    const kept = { ...shot, name, effect: this.effect, id: `${Date.now()}-${Math.random().toString(36).slice(2, 8)}` }
    this.shots = [...this.shots, kept]
    this.problem = ''
    await this.store.put(kept).catch(() => (this.problem = 'Kept until this page closes: the browser stores no more.'))
  }

  drop(shot: Kept): void {
    this.shots = this.shots.filter((each) => each !== shot)
    this.problem = ''
    void this.store.remove(shot.id).catch(() => {})
  }
}

/** IndexedDB (W3C, "Indexed Database API 3.0"): pictures by their id, found by their effect. */
class InBrowser implements PictureStore {
  private opened: Promise<IDBDatabase> | undefined

  private open(): Promise<IDBDatabase> {
    this.opened ??= new Promise((resolve, reject) => {
      const requested = indexedDB.open('kagero-pictures', 1)
      requested.onupgradeneeded = () =>
        requested.result.createObjectStore('pictures', { keyPath: 'id' }).createIndex('effect', 'effect')
      requested.onsuccess = () => resolve(requested.result)
      requested.onerror = () => reject(requested.error ?? new Error('no store'))
    })
    return this.opened
  }
  private async ask<T>(mode: IDBTransactionMode, call: (store: IDBObjectStore) => IDBRequest<T>): Promise<T> {
    const turn = (await this.open()).transaction('pictures', mode)
    return new Promise((resolve, reject) => {
      const requested = call(turn.objectStore('pictures'))
      turn.oncomplete = () => resolve(requested.result)
      turn.onerror = turn.onabort = () => reject(turn.error ?? new Error('not stored'))
    })
  }
  all(effect: number) {
    return this.ask<Kept[]>('readonly', (store) => store.index('effect').getAll(effect))
  }
  put(picture: Kept) {
    return this.ask('readwrite', (store) => store.put(picture))
  }
  remove(id: string) {
    return this.ask('readwrite', (store) => store.delete(id))
  }
}
