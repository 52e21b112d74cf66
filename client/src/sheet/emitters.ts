/** What one can do with an emitter, from its tab or its place in the list. */
import type { Desk } from '../effect/context'
import { placeEmitter, removeEmitter } from '../effect/edits'
import { copyPiece, duplicateEmitter } from '../effect/pieces'
import type { Emitter } from '../wire/types'

export const MOVED = 'application/x-kagero-emitter'
/** From so many on, or with folders, they stand in a list beside the sheet. */
export const MANY = 6
/** Colours that stay apart on the dark and the light ground. */
const COLOURS: [string, string][] = [
  ['lantern', '#e0a458'],
  ['ember', '#d8683f'],
  ['rose', '#cf6a87'],
  ['iris', '#9a7fd1'],
  ['river', '#5b9bd5'],
  ['reed', '#5fae8b'],
  ['moss', '#9bb04f'],
  ['stone', '#9c968c'],
]

type Parts = Pick<Desk, 'draft' | 'selection' | 'overlay'>
export const listed = (emitters: readonly Emitter[]): boolean =>
  emitters.length > MANY || emitters.some((e) => e.folder)

export function chooseEmitter({ draft, selection }: Parts, uid: string): void {
  draft.emitterIndex = draft.document.emitters.findIndex((e) => e.uid === uid)
  if (selection.view === 'props' || selection.view === 'finish') selection.view = 'sheet'
  selection.filter = null
  selection.select(null)
}
export function showEmitter({ draft }: Parts, emitter: Emitter): void {
  const shown = emitter.visible !== false
  const index = draft.document.emitters.indexOf(emitter)
  draft.edit(`${shown ? 'Hide' : 'Show'} ${emitter.name}`, ['emitters', index, 'visible'], !shown)
}
export function soloEmitter({ selection }: Parts, uid: string): void {
  selection.only = selection.only === uid ? null : uid
}

export function emitterMenu(desk: Parts, anchor: EventTarget | null, emitter: Emitter, rename: () => void): void {
  const { draft, selection, overlay } = desk
  const { emitters } = draft.document
  const index = emitters.indexOf(emitter)
  const set = (name: string, value: string, label: string) => draft.edit(label, ['emitters', index, name], value)
  const folders = [...new Set(emitters.map((e) => e.folder ?? '').filter(Boolean))]
  overlay.openMenu(anchor, emitter.name, [
    { label: 'Rename', hint: 'F2', act: rename },
    { label: 'Duplicate', act: () => void overlay.attempt(() => duplicateEmitter(draft, emitter.uid, emitter.name)) },
    { label: 'Copy', act: () => void overlay.attempt(() => copyPiece(draft, { kind: 'emitter', uid: emitter.uid })) },
    { label: emitter.visible === false ? 'Show' : 'Hide', act: () => showEmitter(desk, emitter) },
    {
      label: selection.only === emitter.uid ? 'End solo' : 'Solo: only this emitter',
      act: () => soloEmitter(desk, emitter.uid),
    },
    null,
    {
      label: 'Colour…',
      dot: emitter.colour ?? '',
      act: () =>
        overlay.openMenu(anchor, `Colour of ${emitter.name}`, [
          { label: 'none', dot: '', act: () => set('colour', '', `Give ${emitter.name} no colour`) },
          ...COLOURS.map(([label, dot]) => ({
            label,
            dot,
            act: () => set('colour', dot, `Make ${emitter.name} ${label}`),
          })),
        ]),
    },
    {
      label: 'Into a folder…',
      hint: emitter.folder ?? '',
      act: () =>
        overlay.openList(
          anchor,
          'Folder of emitters: type a new name, or choose',
          ['', ...folders].map((folder) => ({
            label: folder || 'no folder',
            group: 'folders',
            act: () =>
              set(
                'folder',
                folder,
                folder ? `Put ${emitter.name} into ${folder}` : `Take ${emitter.name} out of its folder`,
              ),
          })),
          (folder) => ({
            label: `a new folder ${folder}`,
            act: () => set('folder', folder.slice(0, 80), `Put ${emitter.name} into ${folder}`),
          }),
        ),
    },
    null,
    { label: 'Earlier', disabled: index === 0, act: () => placeEmitter(draft, emitter.uid, emitters[index - 1].uid) },
    {
      label: 'Later',
      disabled: index === emitters.length - 1,
      act: () => placeEmitter(draft, emitter.uid, emitters[index + 1].uid),
    },
    null,
    {
      label: 'Delete',
      disabled: emitters.length === 1,
      why: 'An effect has at least one emitter.',
      act: () => removeEmitter(draft, index),
    },
  ])
}
