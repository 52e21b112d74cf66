/** An effect as it would be after an edit: nothing of it is stored, and the open effect stays as it is. */
import type { Effect, Emitter } from '../wire/types'
import type { OpenEffect } from './open.svelte'
import { at, put, type Path } from './path'

/** What edits of rows need of an effect. */
export type Editable = Pick<OpenEffect, 'document' | 'owner' | 'emitter' | 'inEmitter' | 'edit'>

export class Trial implements Editable {
  document: Effect
  private readonly here: Path
  private readonly there: Path

  constructor(effect: OpenEffect) {
    this.document = effect.document
    this.here = effect.inEmitter([])
    this.there = ['emitters', effect.document.emitters.indexOf(effect.emitter)]
  }
  get owner(): Emitter {
    return at(this.document, this.here) as Emitter
  }
  get emitter(): Emitter {
    return at(this.document, this.there) as Emitter
  }
  inEmitter(path: Path): Path {
    return [...this.here, ...path]
  }
  edit(_label: string, path: Path, value: unknown): void {
    this.document = put(this.document, path, value)
  }
}
