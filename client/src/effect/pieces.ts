/** Copying and putting pieces: the core makes them and puts them in; they wait in the browser, for other effects too. */
import { api } from '../wire/api'
import type { Piece } from '../wire/types'
import type { OpenEffect } from './open.svelte'

const KEPT = 'kagero.piece'

/** Return what was copied last, or null. */
export function copied(): (Piece & { kind: string }) | null {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? 'null')
  } catch {
    return null
  }
}

/** What of an emitter can be copied by itself, by the list that it stands in. */
export const MOVERS = { forces: 'push', rides: 'ride', contacts: 'contact', cues: 'cue', shaping: 'shaping' } as const
export type Mover = (typeof MOVERS)[keyof typeof MOVERS]
type What =
  | { kind: 'responses'; uids: string[] }
  | { kind: 'row'; address: string }
  | { kind: 'emitter' | 'prop' | Mover; uid: string }

export async function copyPiece(effect: OpenEffect, what: What): Promise<void> {
  const emitter = what.kind === 'emitter' ? what.uid : effect.emitter.uid
  const { piece } = await api.copy({
    document: effect.plain(),
    emitter,
    kind: what.kind,
    uids: what.kind === 'responses' ? what.uids : 'uid' in what ? [what.uid] : [],
    address: what.kind === 'row' ? what.address : '',
  })
  localStorage.setItem(KEPT, JSON.stringify(piece))
}

/** Put a piece onto a row; returns the new responses' uids. move: these are taken away, so that they move. */
export async function pastePiece(
  effect: OpenEffect,
  address: string,
  label: string,
  options: { piece?: Piece; at?: number; move?: string[] } = {},
): Promise<string[]> {
  const piece = options.piece ?? copied()
  if (!piece) return []
  const emitter = effect.emitter.uid
  const result = await effect.ask(
    (document) => api.paste({ document, emitter, address, piece, at: options.at ?? null, move: options.move ?? [] }),
    label,
  )
  return result.uids
}

/** Carry responses to another row of the same emitter, or copy them there. */
export async function carry(
  effect: OpenEffect,
  uids: string[],
  address: string,
  copy: boolean,
  label: string,
  at?: number,
): Promise<string[]> {
  const { piece } = await api.copy({
    document: effect.plain(),
    emitter: effect.emitter.uid,
    kind: 'responses',
    uids,
    address: '',
  })
  return pastePiece(effect, address, label, { piece, at, move: copy ? [] : uids })
}

/** Put an emitter behind the others; a copy of one in this effect without `piece`. */
export async function pasteEmitter(effect: OpenEffect, piece: Piece, label: string): Promise<void> {
  await effect.ask((document) => api.paste({ document, emitter: '', address: '', piece, at: null, move: [] }), label)
  effect.emitterIndex = effect.document.emitters.length - 1
}

export async function duplicateEmitter(effect: OpenEffect, uid: string, name: string): Promise<void> {
  const { piece } = await api.copy({ document: effect.plain(), emitter: uid, kind: 'emitter', uids: [], address: '' })
  await pasteEmitter(effect, piece, `Duplicate ${name}`)
}

/** Put a prop behind the others, or behind the one it is a copy of; it is looked at then. */
export async function pasteProp(effect: OpenEffect, piece: Piece, label: string): Promise<void> {
  const result = await effect.ask(
    (document) => api.paste({ document, emitter: '', address: '', piece, at: null, move: [] }),
    label,
  )
  effect.heldUid = result.uids[0]
}

export async function duplicateProp(effect: OpenEffect, uid: string, name: string): Promise<void> {
  const { piece } = await api.copy({
    document: effect.plain(),
    emitter: effect.emitter.uid,
    kind: 'prop',
    uids: [uid],
    address: '',
  })
  await pasteProp(effect, piece, `Duplicate ${name}`)
}

/** Put a push or ride into the emitter that is worked on, behind all or before one of them. */
export async function pasteMover(
  effect: OpenEffect,
  piece: Piece,
  label: string,
  at: number | null = null,
): Promise<string[]> {
  const emitter = effect.emitter.uid
  const result = await effect.ask(
    (document) => api.paste({ document, emitter, address: '', piece, at, move: [] }),
    label,
  )
  return result.uids
}

export async function duplicateMover(effect: OpenEffect, kind: Mover, uid: string, name: string, at: number) {
  const emitter = effect.emitter.uid
  const { piece } = await api.copy({ document: effect.plain(), emitter, kind, uids: [uid], address: '' })
  await pasteMover(effect, piece, `Duplicate ${name}`, at)
}
