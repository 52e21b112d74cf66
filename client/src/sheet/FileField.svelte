<!-- The file of a part: its name, and another in its place. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import { api } from '../wire/api'
  import type { FieldSpec } from '../wire/types'

  let { said, name, files, onset }: { said: FieldSpec['offered']; name: string; files: { name: string }[]; onset: (file: { content: string; name: string }) => void } = $props()
  const { draft, overlay } = useDesk()
  let input = $state<HTMLInputElement>()

  async function replace(chosen: FileList | null) {
    const file = chosen?.[0]
    if (!file) return
    await overlay.attempt(async () => {
      const found = await api.bringFile(file, () => undefined)
      if (found.kind !== said.holds) throw new Error(`${file.name} is a ${found.kind}; a ${said.holds} is needed.`)
      const uid = draft.propUid
      onset({ content: found.content, name: found.name })
      // what followed a face or points that are no longer there says so
      const lost = (draft.document.props ?? []).filter((p) => p.follow?.prop === uid && ((p.follow!.at === 'surface' && (p.follow!.face ?? 0) >= found.faces) || (p.follow!.at === 'points' && (p.follow!.points ?? []).some((n: number) => n >= found.points))))
      if (lost.length) overlay.notice = `${lost.map((p) => p.name).join(', ')} followed a place that the new file does not have: choose it again.`
    })
  }
</script>

<input bind:this={input} type="file" class="hidden" aria-label="Replace the {name}" accept={said.accept.join(',')} onchange={(e) => { void replace(e.currentTarget.files); e.currentTarget.value = '' }} />
<button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => input?.click()}>replace {files[0]?.name}</button>
