<!-- A row as a sentence: name, base, its responses in order, what comes out. -->
<script lang="ts">
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import X from '@lucide/svelte/icons/x'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog'
  import AddResponse from './AddResponse.svelte'
  import Base from './Base.svelte'
  import Chip from './Chip.svelte'
  import Out from './Out.svelte'

  let { placed, inner = false, opens, open = false, onopen, onremove }: {
    placed: PlacedRow
    /** A row of a force or place that stands under its summary. */
    inner?: boolean
    /** What else opens under this row, in words. */
    opens?: string
    open?: boolean
    onopen?: () => void
    onremove?: () => void
  } = $props()
  const { selection } = useDesk()

  const responses = $derived(placed.row.responses ?? [])
  const chosen = $derived(responses.some((r) => r.uid === selection.uid))
  const wide = $derived(placed.spec.kind === 'vector')
</script>

<div
  class="group grid min-h-[29px] items-center px-3.5 py-px {chosen ? 'bg-raised' : 'hover:bg-raised/50'} {wide ? 'grid-cols-[120px_auto_minmax(0,1fr)_auto]' : 'grid-cols-[120px_72px_minmax(0,1fr)_auto]'}"
  data-row={placed.address}
>
  <span class="flex items-center gap-1 pr-1 leading-[15px]" title={placed.spec.help}>
    <span class={inner ? 'pl-3 text-quiet' : ''}>{placed.spec.label}</span>
    {#if opens}
      <button type="button" onclick={onopen} aria-expanded={open} aria-label="{open ? 'Hide' : 'Show'} {opens}" title="{open ? 'Hide' : 'Show'} {opens}" class="rounded text-quiet hover:text-paper">
        <ChevronRight size={13} class={open ? 'rotate-90' : ''} />
      </button>
    {/if}
  </span>
  <span><Base {placed} /></span>
  <span class="flex flex-wrap items-center gap-x-1 gap-y-0.5 py-px">
    {#each responses as response, index (response.uid)}
      <Chip {placed} {response} {index} />
    {/each}
    <AddResponse {placed} />
    {#if onremove}
      <button
        type="button" onclick={onremove} aria-label="Remove {placed.spec.label}" title="Remove {placed.spec.label.toLowerCase()} from this emitter"
        class="flex h-[22px] w-[22px] items-center justify-center rounded text-quiet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-paper"
      ><X size={14} /></button>
    {/if}
  </span>
  <Out {placed} />
</div>
