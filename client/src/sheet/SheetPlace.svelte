<!-- The place of the sheet: emitters as tabs, and the view that is chosen of the current one. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import EmitterList from './EmitterList.svelte'
  import { listed } from './emitters'
  import EmitterTabs from './EmitterTabs.svelte'
  import Sheet from './Sheet.svelte'

  const { draft, selection } = useDesk()
  const only = $derived(draft.document.emitters.find((e) => e.uid === selection.only))
</script>

<section class="will-change-transform flex h-full min-h-0 flex-col bg-panel" aria-label="Sheet" data-part="sheet">
  <EmitterTabs />
  {#if only}
    <div class="flex shrink-0 items-center gap-2 border-b border-line bg-vermilion/15 px-3.5 py-1" role="status">
      <span>Solo: only <b>{only.name}</b> is on the stage; nothing of it is stored.</span>
      <button
        type="button"
        class="ml-auto underline decoration-dotted hover:text-paper"
        onclick={() => (selection.only = null)}>End solo</button
      >
    </div>
  {/if}
  {#if selection.solo}
    <div class="flex shrink-0 items-center gap-2 border-b border-line bg-vermilion/15 px-3.5 py-1" role="status">
      <span>Solo: <b>{selection.solo.label}</b>. The rest is silent here; nothing of it is stored.</span>
      <button
        type="button"
        class="ml-auto underline decoration-dotted hover:text-paper"
        onclick={() => (selection.solo = null)}>End solo</button
      >
    </div>
  {/if}
  <div class="flex min-h-0 flex-1">
    {#if listed(draft.document.emitters) && selection.view !== 'props' && selection.view !== 'finish'}<EmitterList
      />{/if}
    <div class="flex min-h-0 min-w-0 flex-1 flex-col">
      {#if selection.view === 'sheet'}<Sheet
        />{:else if selection.view === 'loom'}{#await import('../loom/Loom.svelte') then { default: Loom }}<Loom
          />{/await}{:else if selection.view === 'props'}{#await import('../props/PropsView.svelte') then { default: PropsView }}<PropsView
          />{/await}{:else if selection.view === 'finish'}{#await import('../finish/FinishView.svelte') then { default: FinishView }}<FinishView
          />{/await}{:else if selection.view === 'table'}{#await import('../table/Table.svelte') then { default: Table }}<Table
          />{/await}{:else}{#await import('../table/OneLife.svelte') then { default: OneLife }}<OneLife />{/await}{/if}
    </div>
  </div>
</section>
