/** The open effect: its document, edits, autosave, undo. Every change makes a new document; what is unchanged stays the same object. */
import { api, Refused, Unreachable } from '../wire/api'
import type { Effect, Emitter, Finding, Opened, Prop } from '../wire/types'
import { at, put, type Path } from './path'

export type SaveState = 'saved' | 'changed' | 'saving' | 'unreachable' | 'refused' | 'conflict'
type Waiting = { document: Effect; label: string }

const RETRY_MS = 3000

export class OpenEffect {
  readonly id: number
  document = $state.raw<Effect>(null!)
  emitterIndex = $state(0)
  /** The prop whose rows are looked at, instead of the emitter's. */
  propUid = $state<string | null>(null)
  saveState = $state<SaveState>('saved')
  savedAt = $state.raw(new Date())
  undoLabel = $state<string | null>(null)
  redoLabel = $state<string | null>(null)
  findings = $state.raw<Finding[]>([])
  /** Told of every new document; dragging: more are about to come. */
  onchange: (dragging: boolean) => void = () => {}

  private revision: number
  private waiting: Waiting[] = []
  private working: Promise<void> | null = null
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
    return this.propUid ? (this.document.props ?? []).find((p) => p.uid === this.propUid) : undefined
  }

  /** Whose rows are looked at: the emitter, or a prop, which has rows in the same way and nothing else of an emitter. */
  get owner(): Emitter {
    return (this.prop as unknown as Emitter | undefined) ?? this.emitter
  }

  /** Return a path into the document of a path into what is looked at. */
  inEmitter(path: Path): Path {
    if (this.prop) return ['props', this.document.props!.indexOf(this.prop), ...path]
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

  private async step(call: typeof api.undo): Promise<void> {
    await this.flush()
    if (this.saveState !== 'saved' && this.saveState !== 'refused') return
    this.saveState = 'saving'
    try {
      this.take(await call(this.id, this.revision))
      this.onchange(false)
    } catch (problem) {
      this.fail(problem)
    }
  }

  private async flush(): Promise<void> {
    while (this.working) await this.working
  }

  private work(): void {
    if (this.working) return
    this.working = this.saveAll().finally(() => {
      this.working = null
      if (this.waiting.length && (this.saveState === 'saving' || this.saveState === 'changed')) this.work()
    })
  }

  private async saveAll(): Promise<void> {
    clearTimeout(this.retry)
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
        this.findings = []
      } catch (problem) {
        this.fail(problem)
        return
      }
    }
    this.saveState = 'saved'
  }

  private fail(problem: unknown): void {
    if (problem instanceof Refused && problem.status === 409) {
      this.saveState = 'conflict'
    } else if (problem instanceof Refused) {
      // what cannot be played is not saved; it stays here to be corrected, and the next good edit is saved
      this.waiting = []
      this.findings = problem.findings
      this.saveState = 'refused'
    } else if (problem instanceof Unreachable) {
      this.saveState = 'unreachable'
      this.retry = setTimeout(() => this.work(), RETRY_MS)
    } else {
      throw problem
    }
  }

  private take(opened: Opened): void {
    this.revision = opened.revision
    this.document = opened.document
    this.emitterIndex = Math.min(this.emitterIndex, opened.document.emitters.length - 1)
    this.undoLabel = opened.undo
    this.redoLabel = opened.redo
    this.savedAt = new Date(opened.saved)
    this.saveState = 'saved'
    this.findings = []
  }
}
