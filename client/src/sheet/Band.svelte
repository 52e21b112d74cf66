<!-- A band's name and line, with what can be added to it. -->
<script lang="ts">
  import { Dropdown } from 'flowbite-svelte'

  let { name, adds = [] }: { name: string; adds?: { label: string; add: () => void }[] } = $props()
  let open = $state(false)
  const id = $derived(`band-${name}`)
</script>

<div class="flex items-center gap-2.5 px-3.5 pt-[7px] pb-0.5 text-[11px] tracking-[0.08em] text-quiet">
  <h2 class="uppercase">{name}</h2>
  <span class="h-px flex-1 bg-line"></span>
  {#if adds.length}
    <button type="button" {id} aria-haspopup="menu" aria-expanded={open} aria-label="Add a row to {name}" class="rounded tracking-normal hover:text-paper">add a row</button>
    <Dropdown simple={false} triggeredBy="#{id}" bind:isOpen={open} placement="bottom-end" class="z-50 w-44 rounded-md border border-line bg-panel py-1 tracking-normal text-paper shadow-2xl dark:bg-panel">
      <div role="menu" aria-label="Add a row to {name}">
        {#each adds as { label, add }}
          <button role="menuitem" class="block w-full px-3 py-1 text-left text-[13px] hover:bg-raised focus-visible:-outline-offset-2" onclick={() => { open = false; add() }}>{label}</button>
        {/each}
      </div>
    </Dropdown>
  {/if}
</div>
