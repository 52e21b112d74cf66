import { describe, expect, it } from 'vitest'
import type { OpenEffect } from '../effect/open.svelte'
import { put, type Path } from '../effect/path'
import type { BroughtIn, Effect, Prop } from '../wire/types'
import { mend, referred } from './mend'

const ref = (content: string, name: string) => ({ content, name })
const PROPS = [
  { kind: 'mesh', uid: 'm', name: 'Lantern', file: ref('aa', 'lantern.glb') },
  { kind: 'picture', uid: 'p', name: 'Embers', files: [ref('bb', 'one.png'), ref('cc', 'two.png')] },
  { kind: 'shape', uid: 's', name: 'Ball' },
]
function draft() {
  const result = {
    document: { props: PROPS } as unknown as Effect,
    commits: [] as string[],
    drag: (path: Path, value: unknown) => (result.document = put(result.document, path, value)),
    commit: (label: string) => result.commits.push(label),
  }
  return result
}
const holds = (prop: Prop) => prop.kind
const bring = (of: ReturnType<typeof draft>, content: string, name: string, kind: string, missing: string[]) =>
  mend(
    of as unknown as OpenEffect,
    { content, name, kind, ref: ref(content, name) } as unknown as BroughtIn,
    missing,
    holds,
  )

describe('a file that is brought in again', () => {
  it('is known by where props refer to it', () => {
    expect(referred(draft().document).map((each) => [each.index, each.path.join('.'), each.ref.content])).toEqual([
      [0, 'file', 'aa'],
      [1, 'files.0', 'bb'],
      [1, 'files.1', 'cc'],
    ])
  })
  it('mends the prop that lacks it: with the same content nothing is edited', () => {
    const one = draft()
    expect(bring(one, 'aa', 'renamed.glb', 'mesh', ['aa'])).toBe('renamed.glb is there again: Lantern has it.')
    expect([one.commits, one.document.props]).toEqual([[], PROPS])
  })
  it('mends by its name where it has changed, as one edit, if it holds the same', () => {
    const one = draft()
    expect(bring(one, 'dd', 'two.png', 'picture', ['bb', 'cc'])).toBe('two.png is there again: Embers has it.')
    expect((one.document.props![1] as unknown as { files: unknown[] }).files).toEqual([
      ref('bb', 'one.png'),
      ref('dd', 'two.png'),
    ])
    expect(one.commits).toEqual(['Bring two.png in again'])
    expect(bring(draft(), 'dd', 'lantern.glb', 'picture', ['aa'])).toBe('')
  })
  it('is a new prop where none lacks it', () => {
    const one = draft()
    expect(bring(one, 'aa', 'lantern.glb', 'mesh', ['bb'])).toBe('')
    expect(bring(one, 'ee', 'crane.glb', 'mesh', ['aa', 'bb', 'cc'])).toBe('')
    expect(one.document.props).toEqual(PROPS)
  })
})
