<!-- Fewer particles further away: what it is measured from, and whether the camera's view counts. -->
<script lang="ts">
  import { withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import { shownOf } from '../effect/seen'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  const { draft, player, room, selection, catalog } = useDesk()
  const part = $derived(catalog.part(draft.emitter, 'thinning'))
  const from = $derived((draft.document.props ?? []).find((p) => p.uid === draft.emitter.thinning?.prop))
  const METRES = { symbol: 'm', scale: 1, digits: 2 }
  /** Within how many metres all are shown, and from how many on nobody; where these are plain numbers. */
  const metres = $derived.by(() => {
    const { outer, inner } = (draft.emitter.thinning ?? {}) as { outer?: { base: unknown }; inner?: { base: unknown } }
    return typeof outer?.base === 'number' && typeof inner?.base === 'number'
      ? [outer.base * inner.base, outer.base]
      : null
  })
  const camera = $derived(!from || !!from.field_of_view)
  const drawn = $derived(player.shown?.emitters.find((e) => e.uid === draft.emitter.uid))
  const seen = $derived(drawn ? shownOf(drawn) : 0)
</script>

{#if part}
  <PlainRow label="Thinned" help="Fewer are shown further away. Whoever is hidden lives on, so nothing flickers.">
    {#each part.fields as field (field.offered.name)}
      {#if field.offered.kind === 'reference'}<span class="text-quiet">{field.offered.label}</span>{/if}
      {#if field.offered.kind !== 'tick' || camera}<FieldControl {field} />{/if}
    {/each}
    {#if metres}<span class="text-quiet" data-part="thinning-metres"
        >all within <span class="mono text-paper">{withUnit(metres[0], METRES)}</span>, none from
        <span class="mono text-paper">{withUnit(metres[1], METRES)}</span></span
      >{/if}
    {#if drawn}<span class="mono text-xs whitespace-nowrap" data-part="thinned"
        >{seen} <span class="text-quiet">shown of</span> {drawn.count}</span
      >{/if}
    <label
      class="flex items-center gap-1 {room.standing ? '' : 'opacity-50'}"
      title="Thin as if the camera stood where you look from now; turn the view first. Nothing of it is kept."
      ><input
        type="checkbox"
        class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
        disabled={!room.standing && !selection.fromHere}
        bind:checked={selection.fromHere}
      />seen from here</label
    >
    <button
      type="button"
      class="text-xs text-quiet underline decoration-dotted hover:text-paper"
      onclick={() => draft.edit('Stop thinning', draft.inEmitter(['thinning']), null)}>remove</button
    >
  </PlainRow>
{/if}
