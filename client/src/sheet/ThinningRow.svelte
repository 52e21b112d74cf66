<!-- Fewer particles further away: what it is measured from, and whether the camera's view counts. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  const { draft, catalog } = useDesk()
  const part = $derived(catalog.part(draft.emitter, 'thinning'))
  const seen = $derived((draft.document.props ?? []).find((p) => p.uid === draft.emitter.thinning?.prop))
  const camera = $derived(!seen || !!seen.field_of_view)
</script>

{#if part}
  <PlainRow label="Thinned" help="Fewer are shown further away. Whoever is hidden lives on, so nothing flickers.">
    {#each part.fields as field (field.offered.name)}
      {#if field.offered.kind === 'reference'}<span class="text-quiet">{field.offered.label}</span>{/if}
      {#if field.offered.kind !== 'tick' || camera}<FieldControl {field} />{/if}
    {/each}
    <button
      type="button"
      class="text-xs text-quiet underline decoration-dotted hover:text-paper"
      onclick={() => draft.edit('Stop thinning', draft.inEmitter(['thinning']), null)}>remove</button
    >
  </PlainRow>
{/if}
