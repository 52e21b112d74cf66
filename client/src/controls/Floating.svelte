<!-- A panel beside what opened it, kept inside the window; Escape or a press elsewhere closes it. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  import type { Anchor } from './anchor'

  let {
    anchor,
    width,
    label,
    role = 'dialog',
    tall,
    onclose,
    children,
  }: {
    anchor: Anchor
    width: number
    label: string
    role?: 'dialog' | 'menu'
    /** How much room it wants below what opened it; else it stands where there is more. Pixels. */
    tall?: number
    onclose: () => void
    children: Snippet
  } = $props()
  let panel = $state<HTMLDivElement>()
  let height = $state(200)
  const left = $derived(Math.max(8, Math.min(anchor.left, innerWidth - width - 8)))
  const below = $derived(innerHeight - anchor.bottom - 12)
  const above = $derived(anchor.top - 12)
  const under = $derived(below >= (tall ?? Math.min(height, 360)) || below >= above)
  const room = $derived(Math.max(120, under ? below : above))

  // over everything, wherever it stands in the page
  $effect(() => {
    if (panel?.isConnected) panel.showPopover() // it may have been closed again before it was there
  })
  function press(event: PointerEvent) {
    if (panel && !panel.contains(event.target as Node)) onclose()
  }
  function keys(event: KeyboardEvent) {
    if (event.key !== 'Escape') return
    event.preventDefault()
    event.stopPropagation()
    onclose()
  }
</script>

<svelte:window onpointerdowncapture={press} onresize={onclose} />
<div
  bind:this={panel}
  popover="manual"
  {role}
  aria-label={label}
  tabindex="-1"
  onkeydown={keys}
  bind:clientHeight={height}
  class="fixed inset-auto z-50 m-0 flex flex-col p-0 overflow-hidden rounded-md border border-line bg-panel text-paper shadow-2xl"
  style:left="{left}px"
  style:width="{width}px"
  style:max-height="{room}px"
  style:top={under ? `${anchor.bottom + 4}px` : undefined}
  style:bottom={under ? undefined : `${innerHeight - anchor.top + 4}px`}
>
  {@render children()}
</div>
