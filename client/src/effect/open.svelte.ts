/** The open effect: its document, edits, autosave, undo. Every change makes a new document; what is unchanged stays the same object. */
import { api, Refused, Unreachable } from '../wire/api'
import type { Effect, Emitter, Finding, Layout, Opened, Prop } from '../wire/types'
import { at, put, type Path } from './path'
import { Queue } from './queue'

export type SaveState = 'saved' | 'changed' | 'saving' | 'unreachable' | 'refused' | 'conflict'
type Waiting = { document: Effect; label: string }

const RETRY_MS = 3000
const MOST_ASKED = 40

export class OpenEffect {
  readonly id: number
  document = $state.raw<Effect>(null!)
  emitterIndex = $state(0)
  /** The prop, item of the finish or frame whose rows are looked at, instead of the emitter's. */
  heldUid = $state<string | null>(null)
  saveState = $state<SaveState>('saved')
  savedAt = $state.raw(new Date())
  undoLabel = $state<string | null>(null)
  redoLabel = $state<string | null>(null)
  /** Why the saved state cannot be played, or an edit was not taken. */
  findings = $state.raw<Finding[]>([])
  /** What the server said when it could not keep an edit, which is tried again. */
  trouble = $state('')
  /** The last state that could be played, where the one that was opened cannot. */
  playable: Effect | null = null
  /** Told of every new document; dragging: more are about to come. */
  onchange: (dragging: boolean) => void = () => {}
  /** Told how the core lays out the document, whenever it was opened or saved. */
  onlayout: (layout: Layout) => void = () => {}

  private revision: number
  private waiting: Waiting[] = []
  private queued = false
  /** Steps back and forward that found no answer, in order: taken once there is one. */
  private postponed: (typeof api.undo)[] = []
  private requested = new Queue()
  /** Saving, undoing and redoing, one after the other: each needs the revision that the one before it made. */
  private turn = new Queue()
  private retry: ReturnType<typeof setTimeout> | undefined

  constructor(opened: Opened) {
    this.id = opened.id
    this.revision = opened.revision
    this.take(opened)
  }

  get emitter(): Emitter {
    return this.document.emitters[Math.min(this.emitterIndex, this.document.emitters.length - 1)]
  }

  get prop(): Prop | undefined {
    return this.heldUid ? (this.document.props ?? []).find((p) => p.uid === this.heldUid) : undefined
  }

  /** Where what is read by the clip alone stands whose rows are looked at: a prop, an item of the finish, the frame. */
  private get held(): Path | null {
    const uid = this.heldUid
    if (!uid) return null
    if (uid === this.document.frame?.uid) return ['frame']
    for (const group of ['props', 'finish'] as const) {
      const index = (this.document[group] ?? []).findIndex((each) => each.uid === uid)
      if (index >= 0) return [group, index]
    }
    return null
  }

  /** Whose rows are looked at: the emitter, or what is read by the clip alone, which has rows in the same way and nothing else of an emitter. */
  get owner(): Emitter {
    return this.held ? (this.at(this.held) as Emitter) : this.emitter
  }

  /** Return a path into the document of a path into what is looked at. */
  inEmitter(path: Path): Path {
    if (this.held) return [...this.held, ...path]
    return ['emitters', this.document.emitters.indexOf(this.emitter), ...path]
  }

  at(path: Path): unknown {
    return at(this.document, path)
  }

  /** Change something while a hand is still moving it; `commit` makes it an edit. */
  drag(path: Path, value: unknown): void {
    this.document = put(this.document, path, value)
    this.saveState = 'changed'
    this.onchange(true)
  }

  /** Make what was dragged an edit with a name, to be saved and undone. */
  commit(label: string): void {
    this.waiting.push({ document: this.document, label })
    this.saveState = 'changed'
    this.onchange(false)
    this.work()
  }

  /** Change something at once, as an edit. */
  edit(label: string, path: Path, value: unknown): void {
    this.document = put(this.document, path, value)
    this.commit(label)
  }

  /** Take a whole new document as an edit. */
  replace(document: Effect, label: string): void {
    this.document = document
    this.commit(label)
  }

  /**
   * Let the server make an edit of the document as it is; edits made meanwhile are in it, since it is asked again. One at a time.
   */
  ask<T extends { document: Effect }>(
    call: (document: Record<string, unknown>) => Promise<T>,
    label: string,
  ): Promise<T> {
    return this.requested.add(async () => {
      for (let tries = 0; tries < MOST_ASKED; tries++) {
        const before = this.document
        const result = await call(this.plain())
        if (this.document !== before) continue
        this.replace(result.document, label)
        return result
      }
      throw new Error(`${label}: the effect changed all the while. Try again when it rests.`)
    })
  }

  /** The document as data to send. */
  plain(): Record<string, unknown> {
    return this.document as unknown as Record<string, unknown>
  }

  async undo(): Promise<void> {
    await this.step(api.undo)
  }

  async redo(): Promise<void> {
    await this.step(api.redo)
  }

  /** Go to one of the states that `api.history` lists. */
  async walk(number: number): Promise<void> {
    await this.step((id, revision) => api.walk(id, revision, number))
  }

  /** After a conflict: give up what is here and take the newer state. */
  async takeTheirs(): Promise<void> {
    const opened = await api.open(this.id)
    this.waiting = []
    this.take(opened)
    this.onchange(false)
  }

  /** After a conflict: make a new effect of what is here; return its id. */
  async keepCopy(): Promise<number> {
    const name = `${this.document.name} (copy)`.slice(0, 80)
    const copy = await api.create({ ...this.document, name }, 'Kept as a copy')
    this.waiting = []
    return copy.id
  }

  /** Return whether something would be lost if the page closed now. */
  get unsaved(): boolean {
    return this.saveState !== 'saved'
  }

  private step(call: typeof api.undo): Promise<void> {
    return this.turn.add(async () => {
      if (!this.postponed.length) await this.saveAll()
      if (this.postponed.length || this.saveState === 'unreachable') return void this.postponed.push(call)
      if (this.saveState !== 'saved' && this.saveState !== 'refused') return
      this.saveState = 'saving'
      try {
        const opened = await call(this.id, this.revision)
        if (this.waiting.length) {
          this.revision = opened.revision // edited meanwhile, which goes before what came back
          this.work()
        } else {
          this.take(opened)
          this.onchange(false)
        }
      } catch (problem) {
        if (this.fail(problem) === 'again') this.postponed.push(call)
      }
    })
  }

  private work(): void {
    if (this.queued) return
    this.queued = true
    void this.turn.add(async () => {
      this.queued = false
      await this.saveAll()
      if (this.saveState === 'saved') for (const call of this.postponed.splice(0)) void this.step(call)
    })
  }

  private async saveAll(): Promise<void> {
    clearTimeout(this.retry)
    if (!this.waiting.length) {
      if (this.saveState === 'unreachable') this.saveState = 'saved'
      return
    }
    let refused = false
    while (this.waiting.length) {
      const next = this.waiting[0]
      this.saveState = 'saving'
      try {
        const opened = await api.save(this.id, this.revision, next.document, next.label)
        this.waiting.shift()
        this.revision = opened.revision
        this.undoLabel = opened.undo
        this.redoLabel = opened.redo
        this.savedAt = new Date(opened.saved)
        this.findings = opened.findings
        this.onlayout(opened.layout)
        this.trouble = ''
        refused = false
      } catch (problem) {
        if (this.fail(problem) !== 'no use') return
        this.waiting.shift() // the server will never take it; what was edited after it holds its changes too
        refused = true
      }
    }
    this.saveState = refused ? 'refused' : 'saved'
  }

  /** Note why something was not saved, and try again where that may help. Return which. */
  private fail(problem: unknown): 'again' | 'no use' | 'conflict' {
    if (problem instanceof Refused && problem.status === 409) {
      this.saveState = 'conflict'
      return 'conflict'
    }
    if (
      problem instanceof Unreachable ||
      (problem instanceof Refused && (problem.status >= 500 || problem.status === 401 || problem.status === 429))
    ) {
      this.trouble = problem instanceof Refused ? problem.findings[0].message.replace(/\.$/, '') : ''
      this.saveState = 'unreachable'
      clearTimeout(this.retry)
      this.retry = setTimeout(() => this.work(), RETRY_MS)
      return 'again'
    }
    if (!(problem instanceof Refused)) throw problem
    this.findings = problem.findings
    this.saveState = 'refused'
    return 'no use'
  }

  private take(opened: Opened): void {
    this.revision = opened.revision
    this.document = opened.document
    this.emitterIndex = Math.min(this.emitterIndex, opened.document.emitters.length - 1)
    this.undoLabel = opened.undo
    this.redoLabel = opened.redo
    this.savedAt = new Date(opened.saved)
    this.saveState = 'saved'
    this.findings = opened.findings
    this.playable = opened.playable ?? null
    this.onlayout(opened.layout)
    this.trouble = ''
  }
}
