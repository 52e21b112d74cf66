<!-- Values that others gave the dials: looked at beside the artist's own, taken or thrown away, one by one or all. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import { withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { Dial, TurnedOverlay } from '../wire/types'
  import { differences, type Dials } from './dials.svelte'

  let { known }: { known: Dials } = $props()
  const { draft, catalog, selection } = useDesk()
  const dials = $derived(draft.document.dials ?? [])
  const unit = (dial: Dial) => catalog.data.dial_units[dial.unit ?? '']
  const when = (overlay: TurnedOverlay) =>
    new Date(overlay.saved).toLocaleString([], { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
  const looked = (overlay: TurnedOverlay) => selection.turned?.name === overlay.name

  function look(overlay: TurnedOverlay) {
    selection.turned = looked(overlay) ? null : { name: overlay.name, values: overlay.values }
  }
  async function accept(overlay: TurnedOverlay, uids: string[]) {
    const held = (d: Dial) => Math.min(Math.max(overlay.values[d.uid], d.low), d.high)
    const names = dials.filter((d) => uids.includes(d.uid)).map((d) => d.name)
    draft.edit(
      `Take ${names.join(', ')} from ${overlay.name}`,
      ['dials'],
      dials.map((d) => (uids.includes(d.uid) ? { ...d, value: held(d), keys: [] } : d)),
    )
    await away(overlay, uids)
  }
  async function away(overlay: TurnedOverlay, uids: string[]) {
    if (looked(overlay)) selection.turned = null
    await known.takeOut(overlay, uids)
  }
</script>

{#if known.overlays.length}
  <section class="px-4 py-3" aria-label="Turned by others" data-part="overlays">
    <h3 class="mb-1 font-bold">Turned by others</h3>
    {#each known.overlays as overlay (overlay.id)}
      {@const list = differences(dials, overlay.values)}
      <div
        class="mb-2 rounded-md border p-2.5 {looked(overlay) ? 'border-vermilion' : 'border-line'}"
        data-overlay={overlay.name}
      >
        <div class="flex items-center gap-2">
          <b class="truncate">{overlay.name}</b><span class="text-xs whitespace-nowrap text-quiet">{when(overlay)}</span
          >
          <span class="ml-auto flex gap-1"
            ><Action
              small
              kind="line"
              pressed={looked(overlay)}
              onclick={() => look(overlay)}
              hint="See the effect with these values; yours stay as they are"
              >{looked(overlay) ? 'See mine' : 'See theirs'}</Action
            ></span
          >
        </div>
        {#each list as { dial, theirs } (dial.uid)}
          <div class="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-3 py-0.5">
            <span class="truncate">{dial.name}</span>
            <span class="mono text-xs"
              ><span class="text-quiet">{withUnit(dial.value, unit(dial))}</span> →
              <span class="text-teal">{withUnit(theirs, unit(dial))}</span></span
            >
            <span class="flex gap-2 text-xs">
              <button
                type="button"
                class="underline decoration-dotted hover:text-teal"
                aria-label="Accept {dial.name} of {overlay.name}"
                onclick={() => accept(overlay, [dial.uid])}>accept</button
              >
              <button
                type="button"
                class="text-quiet underline decoration-dotted hover:text-paper"
                aria-label="Throw away {dial.name} of {overlay.name}"
                onclick={() => away(overlay, [dial.uid])}>throw away</button
              >
            </span>
          </div>
        {:else}<p class="text-quiet">The same as yours by now.</p>{/each}
        <div class="mt-1 flex gap-3 text-xs">
          {#if list.length > 1}<button
              type="button"
              class="underline decoration-dotted hover:text-teal"
              onclick={() =>
                accept(
                  overlay,
                  list.map((d) => d.dial.uid),
                )}>accept all</button
            >{/if}
          <button
            type="button"
            class="text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => away(overlay, [])}>throw all away</button
          >
        </div>
      </div>
    {/each}
  </section>
{/if}
