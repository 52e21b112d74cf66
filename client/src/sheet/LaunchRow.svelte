<!-- What the launch aims at: a direction, the normal, away from a point, or away from a point as a guide mesh says. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import PlainRow from './PlainRow.svelte'

  let { open, onopen }: { open: boolean; onopen: () => void } = $props()
  const { draft, player, selection, catalog } = useDesk()
  const launch = $derived(draft.emitter.births.launch)
  const place = $derived(draft.emitter.births.place)
  const guides = $derived((draft.document.props ?? []).filter((p) => catalog.data.guides.includes(p.kind)))
  const guide = $derived(guides.find((p) => p.uid === launch.guide))
  const path = $derived(draft.inEmitter(['births', 'launch']))
  const shells = $derived(player.field === `speed:${draft.emitter.uid}`)
  function aimAt(aim: string) {
    const words = catalog.data.aims.find((a) => a.kind === aim)!.label
    draft.edit(`Launch ${words}`, path, { ...launch, aim, guide: aim === 'guided' ? (launch.guide ?? guides[0]?.uid ?? null) : launch.guide })
  }
  function paint() {
    selection.view = 'props'
    draft.propUid = guide!.uid
    player.brush = true
    player.showField(`speed:${draft.emitter.uid}`)
  }
</script>

<PlainRow label="Launched" help={catalog.data.aims.find((a) => a.kind === (launch.aim ?? 'direction'))!.help} opens="its numbers" {open} {onopen}>
  <Choice label="Launched" value={launch.aim ?? 'direction'} options={catalog.data.aims.map((a) => ({ value: a.kind, name: a.label, disabled: a.kind === 'guided' && !guides.length }))} onpick={aimAt} />
  {#if (launch.aim ?? 'direction') === 'direction' && place.kind === 'prop'}
    <Segments label="The direction is" value={launch.space ?? 'world'} options={[{ value: 'world', label: "the world's", title: 'The same, however the prop turns' }, { value: 'own', label: "the prop's", title: 'It turns with the prop' }]} onpick={(space) => draft.edit('Change whose direction it is', [...path, 'space'], space)} />
  {:else if launch.aim === 'guided'}
    <Choice label="Guide" value={launch.guide ?? ''} options={[...(guide ? [] : [{ value: launch.guide ?? '', name: 'choose a mesh' }]), ...guides.map((p) => ({ value: p.uid, name: p.name }))]} onpick={(uid) => draft.edit('Choose the guide', [...path, 'guide'], uid)} />
    {#if guide}
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" title="Colour the guide by how fast it sends particles" onclick={() => player.showField(shells ? '' : `speed:${draft.emitter.uid}`)}>{shells ? 'hide speeds' : 'show speeds'}</button>
      {#if guide.kind === 'shape' || guide.kind === 'mesh'}<button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" title="Push, pull, scale and smooth the guide on the stage" onclick={paint}>reshape it</button>{/if}
    {/if}
  {/if}
</PlainRow>
