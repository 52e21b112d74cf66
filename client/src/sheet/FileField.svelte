<!-- The file of a part: its name, and another in its place. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import { api } from '../wire/api'
  import type { FieldSpec } from '../wire/types'

  let { field, name, files }: { field: FieldSpec; name: string; files: { name: string }[] } = $props()
  const { draft, overlay } = useDesk()
  const offer = $derived(field.offered)
  let input = $state<HTMLInputElement>()

  async function replace(chosen: FileList | null) {
    const file = chosen?.[0]
    if (!file) return
    const { uid } = draft.owner
    await overlay.attempt(async () => {
      const found = await api.bringFile(file, () => undefined)
      if (found.kind !== offer.holds) throw new Error(`${file.name} is a ${found.kind}; a ${offer.holds} is needed.`)
      // it may have moved, or gone, while the file was on its way
      const index = (draft.document.props ?? []).findIndex((p) => p.uid === uid)
      if (index < 0) throw new Error(`What ${file.name} was for is gone.`)
      const ref = found.ref
      draft.edit(`Change ${name}`, ['props', index, ...field.path], offer.kind === 'files' ? [ref] : ref)
      // what followed a face or points that are no longer there says so
      const lost = (draft.document.props ?? []).filter(
        (p) =>
          p.follow?.prop === uid &&
          ((p.follow!.at === 'surface' && (p.follow!.face ?? 0) >= found.faces) ||
            (p.follow!.at === 'points' && (p.follow!.points ?? []).some((n: number) => n >= found.points))),
      )
      if (lost.length)
        overlay.notice = `${lost.map((p) => p.name).join(', ')} followed a place that the new file does not have: choose it again.`
    })
  }
</script>

<input
  bind:this={input}
  type="file"
  class="hidden"
  aria-label="Replace the {name}"
  accept={offer.accept.join(',')}
  onchange={(e) => {
    void replace(e.currentTarget.files)
    e.currentTarget.value = ''
  }}
/>
<button
  type="button"
  class="text-xs text-quiet underline decoration-dotted hover:text-paper"
  onclick={() => input?.click()}>replace {files[0]?.name}</button
>
