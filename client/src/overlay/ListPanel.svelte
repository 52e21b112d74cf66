<!-- A searchable list: type to narrow it, arrows walk, Enter takes. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import { useDesk } from '../effect/context'
  import Floating from '../controls/Floating.svelte'

  const { overlay } = useDesk()
  const list = $derived(overlay.list!)
  type Item = (typeof list.items)[number]
  let text = $state('')
  let at = $state(0)
  let input = $state<HTMLInputElement>()
  const shown = $derived.by(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean)
    const found = list.items.filter((i) =>
      words.every((word) => `${i.label} ${i.group} ${i.help ?? ''}`.toLowerCase().includes(word)),
    )
    // what it is called counts before what it says
    const late = (i: (typeof found)[number]) => Number(!i.label.toLowerCase().startsWith(text.toLowerCase()))
    const creatable =
      list.make && text.trim() && !found.some((i) => i.label.toLowerCase() === text.trim().toLowerCase())
    return [
      ...(words.length ? found.sort((a, b) => late(a) - late(b)) : found),
      ...(creatable ? [{ group: 'new', ...list.make!(text.trim()) } as Item] : []),
    ]
  })

  onMount(() => input?.focus())
  function take(item: (typeof list.items)[number] | undefined) {
    if (!item || item.why) return
    overlay.close()
    item.act()
  }
  function keys(event: KeyboardEvent) {
    if (event.key === 'ArrowDown') at = Math.min(at + 1, shown.length - 1)
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0)
    else if (event.key === 'Enter') take(shown[at])
    else return
    event.preventDefault()
    document.getElementById(`list-${at}`)?.scrollIntoView({ block: 'nearest' })
  }
</script>

<Floating anchor={list.anchor} width={300} label={list.title} onclose={() => overlay.close()}>
  <div class="border-b border-line p-2">
    <input
      bind:this={input}
      bind:value={text}
      oninput={() => (at = 0)}
      onkeydown={keys}
      type="text"
      role="combobox"
      aria-expanded="true"
      aria-controls="list-options"
      aria-activedescendant="list-{at}"
      aria-label={list.title}
      placeholder="Search"
      spellcheck="false"
      autocomplete="off"
      class="h-7 w-full rounded border border-line bg-ink px-2 py-0 text-[13px] text-paper focus:border-teal focus:ring-0"
    />
  </div>
  <div id="list-options" role="listbox" aria-label={list.title} tabindex="-1" class="min-h-0 overflow-y-auto pb-1">
    {#each shown as item, i}
      {#if i === 0 || shown[i - 1].group !== item.group}<div class="px-3 pt-1.5 pb-0.5 text-[11px] text-quiet">
          {item.group}
        </div>{/if}
      <div
        id="list-{i}"
        role="option"
        aria-selected={i === at}
        tabindex="-1"
        onclick={() => take(item)}
        onkeydown={(e) => e.key === 'Enter' && take(item)}
        onpointermove={() => (at = i)}
        title={item.why ?? item.help}
        aria-disabled={item.why ? 'true' : undefined}
        class="flex cursor-pointer items-baseline justify-between gap-3 px-3 py-[3px] text-[13px] {i === at
          ? 'bg-raised'
          : ''}"
      >
        <span class="flex items-center gap-2.5 {item.why ? 'text-quiet opacity-60' : ''}"
          >{#if item.picture}<img
              src={item.picture}
              alt=""
              class="h-9 w-9 rounded bg-[#0f1418] object-contain"
            />{/if}{item.label}</span
        >{#if item.why && i === at}<span class="text-right text-[11px] text-quiet">{item.why}</span
          >{:else if item.detail}<span class="mono text-[11px] text-quiet">{item.detail}</span>{/if}
      </div>
    {:else}
      <p class="px-3 py-2 text-quiet">Nothing by that name.</p>
    {/each}
  </div>
</Floating>
