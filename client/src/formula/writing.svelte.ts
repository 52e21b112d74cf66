/**
 * A formula while it is written. Each text that can be read goes into the document at once, so that the picture follows;
 * one that cannot is kept beside it as a draft, and the last good one keeps running. Pauses make edits.
 */
import type { OpenEffect } from '../effect/open.svelte'
import type { Path } from '../effect/path'
import type { FormulaAnswer, FormulaSource } from '../wire/types'

export const CHECK_MS = 120
export const COMMIT_MS = 1200

export type Target = {
  /** Where the formula stands in the document, its row, and what it is called in undo. */
  path: Path
  title: string
  check: (text: string) => Promise<FormulaAnswer>
}

export class Writing {
  text = $state('')
  answer = $state.raw<FormulaAnswer | null>(null)
  unreachable = $state(false)
  /** Whether the text runs: what is seen is what is written. */
  readonly runs = $derived(this.answer !== null && !this.answer.problems.length)

  private requested = 0
  /** What formulas know by name: what is wrong now may be right once something is made or renamed. */
  private known = ''
  private checking: ReturnType<typeof setTimeout> | undefined
  private pausing: ReturnType<typeof setTimeout> | undefined
  private changed = false

  constructor(
    private effect: OpenEffect,
    private target: Target,
  ) {
    const source = this.source()
    this.text = source?.draft || source?.text || ''
    this.known = this.names()
    void this.check()
  }

  /** The formula in the document; undefined when it was taken away. */
  source(): FormulaSource | undefined {
    const source = this.effect.at(this.target.path) as FormulaSource | undefined
    return source?.kind === 'formula' ? source : undefined
  }

  /** Take what is typed. */
  type(text: string): void {
    if (text === this.text) return
    this.text = text
    this.changed = true
    clearTimeout(this.checking)
    this.checking = setTimeout(() => void this.check(), CHECK_MS)
  }

  /** Take the document's text after undo, redo or another edit; what is being typed goes before. */
  follow(): void {
    const source = this.source()
    if (!source) return
    const names = this.names()
    if (names !== this.known) {
      this.known = names
      if (this.answer?.problems.length) {
        // what was put aside as a draft since a name was missing runs as soon as there is one
        if (source.draft && source.draft === this.text) this.changed = true
        void this.check()
      }
    }
    if (this.changed) return
    const there = source.draft || source.text
    if (there === this.text) return
    this.text = there
    void this.check()
  }

  private names(): string {
    const { dials, props, emitters } = this.effect.document
    const named = [
      ...(dials ?? []),
      ...(props ?? []),
      ...emitters.flatMap((e) => [...(e.draws ?? []), ...(e.own ?? [])]),
    ]
    return named.map((each) => each.name).join('\n')
  }

  /** Make what was written an edit now: the hand has left. */
  async settle(): Promise<void> {
    if (!this.changed) return
    clearTimeout(this.checking)
    await this.check()
    this.commit()
  }

  close(): void {
    clearTimeout(this.checking)
    void this.settle()
  }

  private async check(): Promise<void> {
    const mine = ++this.requested
    const text = this.text
    let answer
    try {
      answer = await this.target.check(text)
    } catch {
      this.unreachable = true
      return
    }
    if (mine !== this.requested) return
    this.unreachable = false
    this.answer = answer
    if (!this.changed) return
    const source = this.source()
    if (!source) return
    if (!answer.problems.length) {
      if (source.text !== text || source.draft) this.effect.drag(this.target.path, { ...source, text, draft: '' })
    }
    clearTimeout(this.pausing)
    this.pausing = setTimeout(() => this.commit(), COMMIT_MS)
  }

  private commit(): void {
    clearTimeout(this.pausing)
    const source = this.source()
    if (!this.changed || !source) return
    this.changed = false
    const runs = this.answer !== null && !this.answer.problems.length && source.text === this.text
    if (runs) this.effect.commit(`Write ${this.target.title}`)
    else if (source.draft !== this.text)
      this.effect.edit(`Begin ${this.target.title}`, this.target.path, { ...source, draft: this.text.slice(0, 4000) })
  }
}
