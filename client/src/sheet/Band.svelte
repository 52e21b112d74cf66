<!-- A band's name and line, what is hidden in it, and a searchable list of what can be added. -->
<script lang="ts">
  import { useDesk } from '../effect/context'

  type Add = { label: string; group: string; help?: string; why?: string; act: () => void }
  let {
    name,
    adds = [],
    copies,
    hidden = 0,
    onshow,
  }: {
    name: string
    adds?: Add[]
    /** What was copied and can be put here, asked when the list opens. */
    copies?: () => Add[]
    hidden?: number
    onshow?: () => void
  } = $props()
  const { overlay } = useDesk()
</script>

<div class="flex items-center gap-2.5 px-3.5 pt-[7px] pb-0.5 text-[11px] tracking-[0.08em] text-quiet">
  <h2 class="uppercase">{name}</h2>
  <span class="h-px flex-1 bg-line"></span>
  {#if hidden}<button type="button" class="rounded tracking-normal hover:text-paper" onclick={onshow}
      >show {hidden} hidden</button
    >{/if}
  {#if adds.length}
    <button
      type="button"
      aria-haspopup="dialog"
      aria-label="Add a row to {name}"
      class="rounded tracking-normal hover:text-paper"
      onclick={(e) => overlay.openList(e.currentTarget, `Add a row to ${name}`, [...(copies?.() ?? []), ...adds])}
      >add a row</button
    >
  {/if}
</div>
