<!-- What stands at the end of a part that there is once: its card, its eye, and a way to be rid of it. -->
<script lang="ts">
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Eye from '@lucide/svelte/icons/eye'
  import { useDesk } from '../effect/context'
  import type { Path } from '../effect/path'
  import CardButton from '../overlay/CardButton.svelte'

  let {
    name,
    title,
    card,
    muted,
    path,
  }: {
    /** In the middle of a sentence. */ name: string
    title: string
    card: string | undefined
    muted: boolean
    /** Where it stands in the document, or a field of it. */ path: (...way: (string | number)[]) => Path
  } = $props()
  const { draft } = useDesk()
</script>

<span class="flex items-center gap-1.5">
  {#if card}<CardButton of={card} name={title} />{/if}
  <button
    type="button"
    class="rounded text-quiet hover:text-paper"
    aria-pressed={!muted}
    aria-label={muted ? `Let ${name} act` : `Mute ${name}`}
    title={muted ? 'Let it act' : 'Mute it'}
    onclick={() => draft.edit(muted ? `Let ${name} act` : `Mute ${name}`, path('muted'), !muted)}
    >{#if muted}<EyeOff size={14} />{:else}<Eye size={14} />{/if}</button
  >
  <button
    type="button"
    class="text-xs text-quiet underline decoration-dotted hover:text-paper"
    onclick={() => draft.edit(`Remove ${name}`, path(), null)}>remove</button
  >
</span>
