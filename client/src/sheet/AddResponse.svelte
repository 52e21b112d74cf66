<!-- What can drive a row: vary it per particle, or choose a source; what is not offered says why. -->
<script lang="ts">
  import { Dropdown } from 'flowbite-svelte'
  import Plus from '@lucide/svelte/icons/plus'
  import { useDesk } from '../effect/context'
  import { drive, vary } from '../effect/edits'
  import type { PlacedRow } from '../effect/catalog'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft, player, catalog, selection } = useDesk()
  let open = $state(false)
  const refuses = $derived(placed.spec.refuses as Record<string, string>)
  const sources = $derived(catalog.data.sources.filter((s) => s.kind !== 'draw'))
  const draws = $derived(draft.emitter.draws ?? [])
  const id = $derived(`add-${placed.address.replaceAll('.', '-')}`)

  function pickVary(draw: string | null) {
    open = false
    selection.select(vary(draft, catalog, placed, draw))
  }
  function pick(kind: string) {
    open = false
    const seconds = (player.clip.last_frame - player.clip.first_frame) / player.clip.frame_rate || 1
    selection.select(drive(draft, catalog, placed, { kind } as never, seconds))
  }
  const item = 'flex w-full items-baseline justify-between gap-3 px-3 py-1 text-left text-[13px] hover:bg-raised disabled:opacity-50 disabled:hover:bg-transparent focus-visible:-outline-offset-2'
</script>

<button
  type="button" {id} aria-haspopup="menu" aria-expanded={open} aria-label="Drive {placed.spec.label}" title="Vary {placed.spec.label.toLowerCase()}, or drive it from something"
  class="flex h-[22px] w-[22px] shrink-0 items-center justify-center rounded border border-transparent text-quiet hover:border-line hover:text-paper"
><Plus size={14} /></button>
<Dropdown simple={false} triggeredBy="#{id}" bind:isOpen={open} placement="bottom-start" class="z-50 w-64 rounded-md border border-line bg-panel py-1 text-paper shadow-2xl dark:bg-panel">
  <div role="menu" aria-label="Drive {placed.spec.label}">
    {#if refuses.draw}
      <button role="menuitem" class={item} disabled title={refuses.draw}>Vary per particle</button>
    {:else}
      <button role="menuitem" class={item} onclick={() => pickVary(null)}>Vary per particle<span class="text-xs text-quiet">own draw</span></button>
      {#each draws as draw (draw.uid)}
        <button role="menuitem" class={item} onclick={() => pickVary(draw.uid)}>Vary with {draw.name}<span class="text-xs text-quiet">shared draw</span></button>
      {/each}
    {/if}
    <div class="my-1 border-t border-line"></div>
    {#each sources as source (source.kind)}
      {#if refuses[source.kind]}
        <div class="px-3 py-1 opacity-60">
          <div class="text-[13px]">{source.label}</div>
          <div class="text-[11px] leading-[14px] text-quiet">{refuses[source.kind]}</div>
        </div>
      {:else}
        <button role="menuitem" class={item} title={source.help} onclick={() => pick(source.kind)}>From {source.label}<span class="text-xs text-quiet">{source.unit.symbol}</span></button>
      {/if}
    {/each}
  </div>
</Dropdown>
