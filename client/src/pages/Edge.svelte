<!-- The edge between two panes: drag it, move it with the arrow keys, double-click for its default. -->
<script lang="ts">
  import { PaneResizer } from 'paneforge'

  let {
    label,
    across = false,
    hidden = false,
    onreset,
  }: {
    label: string
    /** Whether it runs from left to right, between an upper and a lower pane. */
    across?: boolean
    hidden?: boolean
    onreset: () => void
  } = $props()
</script>

<PaneResizer
  class="group relative z-10 grid shrink-0 place-items-center bg-line {across ? 'h-px' : 'w-px'} {hidden
    ? 'hidden'
    : ''}"
  aria-label={label}
  title="Drag this edge; double-click gives its default back"
  ondblclick={onreset}
>
  <span
    class="absolute group-hover:bg-teal/50 group-focus-visible:bg-teal group-data-active:bg-teal {across
      ? 'inset-x-0 -top-[3px] h-[7px] cursor-row-resize'
      : 'inset-y-0 -left-[3px] w-[7px] cursor-col-resize'}"
  ></span>
</PaneResizer>
