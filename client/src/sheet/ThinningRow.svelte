<!-- Fewer particles further away: what it is measured from, and whether the camera's view counts. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import PlainRow from './PlainRow.svelte'

  const { draft } = useDesk()
  const thinning = $derived(draft.emitter.thinning!)
  const props = $derived((draft.document.props ?? []).filter((p) => p.kind !== 'mask'))
  const path = $derived(draft.inEmitter(['thinning']))
  const camera = $derived(!thinning.prop || props.find((p) => p.uid === thinning.prop)?.kind === 'camera')
</script>

<PlainRow label="Thinned" help="Fewer are shown further away. Whoever is hidden lives on, so nothing flickers.">
  <span class="text-quiet">by the distance to</span>
  <Choice label="Distance to" value={thinning.prop ?? ''} options={[{ value: '', name: "the effect's camera" }, ...props.map((p) => ({ value: p.uid, name: p.name }))]} onpick={(uid) => draft.edit('Change what thinning is measured from', [...path, 'prop'], uid || null)} />
  {#if camera}<label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={thinning.view} onchange={(e) => draft.edit('Hide what the camera does not see', [...path, 'view'], e.currentTarget.checked)} />none outside its view</label>{/if}
  <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => draft.edit('Stop thinning', path, null)}>remove</button>
</PlainRow>
