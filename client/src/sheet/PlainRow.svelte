<!-- A row that is settled rather than driven: words and choices instead of responses. -->
<script lang="ts">
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import type { Snippet } from 'svelte'

  let {
    label,
    help,
    children,
    out,
    opens,
    open = false,
    onopen,
    inner = false,
  }: {
    label: string
    help: string
    children: Snippet
    out?: Snippet
    opens?: string
    open?: boolean
    onopen?: () => void
    inner?: boolean
  } = $props()
</script>

<div class="grid min-h-[29px] grid-cols-[120px_minmax(0,1fr)_auto] items-center px-3.5 py-px hover:bg-raised/50">
  <span class="flex items-center gap-1" title={help}>
    <span class={inner ? 'pl-3 text-quiet' : ''}>{label}</span>
    {#if opens}
      <button
        type="button"
        onclick={onopen}
        aria-expanded={open}
        aria-label="{open ? 'Hide' : 'Show'} {opens}"
        title="{open ? 'Hide' : 'Show'} {opens}"
        class="rounded text-quiet hover:text-paper"
      >
        <ChevronRight size={13} class={open ? 'rotate-90' : ''} />
      </button>
    {/if}
  </span>
  <span class="flex flex-wrap items-center gap-2">{@render children()}</span>
  {#if out}<span class="mono text-right whitespace-nowrap">{@render out()}</span>{/if}
</div>
