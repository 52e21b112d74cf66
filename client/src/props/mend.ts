/** Files that props are made of and that are not there any more: a file that is brought in again goes to the prop that lacks it. */
import type { OpenEffect } from '../effect/open.svelte'
import type { Path } from '../effect/path'
import type { BroughtIn, Effect, Prop } from '../wire/types'

type Ref = { content: string; name: string }
/** A file of a prop: which prop, where in it, and the file. */
export interface Referred {
  prop: Prop
  index: number
  path: Path
  ref: Ref
}

/** Return the files that the props of an effect are made of. */
export function referred(effect: Effect): Referred[] {
  return (effect.props ?? []).flatMap((prop, index) => {
    const { file, files } = prop as { file?: Ref; files?: Ref[] }
    return [
      ...(file ? [{ prop, index, path: ['file'] as Path, ref: file }] : []),
      ...(files ?? []).map((ref, i) => ({ prop, index, path: ['files', i] as Path, ref })),
    ]
  })
}

/**
 * Give a file that was brought in to the props that lack it: by its content, or, where that is another, by its name. missing: contents that were not
 * there before. Returns what was mended, in words; nothing where no prop lacked it.
 */
export function mend(draft: OpenEffect, brought: BroughtIn, missing: string[], holds: (prop: Prop) => string): string {
  const lacking = referred(draft.document).filter(({ ref }) => missing.includes(ref.content))
  const here = lacking.filter(({ ref }) => ref.content === brought.content)
  const named = lacking.filter(({ ref, prop }) => ref.name === brought.name && holds(prop) === brought.kind)
  const those = here.length ? here : named
  if (!those.length) return ''
  const names = [...new Set(those.map(({ prop }) => prop.name))].join(', ')
  if (!here.length) {
    for (const { index, path } of named) draft.drag(['props', index, ...path], brought.ref)
    draft.commit(`Bring ${brought.name} in again`)
  }
  return `${brought.name} is there again: ${names} ${names.includes(',') ? 'have' : 'has'} it.`
}
