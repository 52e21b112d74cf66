<!-- What the launch aims at: a direction, the normal, away from a point, or away from a point as a guide mesh says. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind } from '../effect/edits'
  import { api } from '../wire/api'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  let { open, onopen }: { open: boolean; onopen: () => void } = $props()
  const { draft, player, selection, catalog, overlay } = useDesk()
  const launch = $derived(draft.emitter.births.launch)
  const place = $derived(draft.emitter.births.place)
  const part = $derived(catalog.part(draft.emitter, 'births.launch'))
  const guide = $derived((draft.document.props ?? []).find((p) => p.uid === launch.guide))
  const shells = $derived(player.field === `speed:${draft.emitter.uid}`)
  /** A shape round where particles are born guides them from now on, with the brush at hand. */
  function make() {
    const emitter = draft.emitter.uid
    void overlay.attempt(async () => {
      const created = await draft.ask(
        (document) => api.makeGuide({ document, emitter }),
        `Guide ${draft.emitter.name} by a shape`,
      )
      begin(created.uid)
    })
  }
  function begin(uid: string) {
    selection.view = 'props'
    draft.heldUid = uid
    player.brush = 'reshape'
    player.showField(`speed:${draft.emitter.uid}`)
  }
</script>

{#if part}
  <PlainRow label="Launched" help={part.help} opens="its numbers" {open} {onopen}>
    <Choice
      label="Launched"
      value={part.kind}
      options={part.kinds.map((k) => ({ value: k.kind, name: k.label, disabled: !!k.why }))}
      onpick={(kind) =>
        changeKind(
          draft,
          part.kinds.find((k) => k.kind === kind)!,
          `Launch ${part.kinds.find((k) => k.kind === kind)!.label}`,
        )}
    />
    {#each part.fields as field (field.offered.name)}
      {#if field.offered.name !== 'space' || place.prop}<FieldControl {field} />{/if}
    {/each}
    {#if !guide}
      <button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        title="A shape round the births, seen through; how far it is says how fast particles fly, and the brush reshapes it"
        onclick={make}>make a guide</button
      >
    {/if}
    {#if guide}
      <button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        title="Colour the guide by how fast it sends particles"
        onclick={() => player.showField(shells ? '' : `speed:${draft.emitter.uid}`)}
        >{shells ? 'hide speeds' : 'show speeds'}</button
      >
      {#if guide.strokes}<button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          title="Push, pull, scale and smooth the guide on the stage"
          onclick={() => begin(guide!.uid)}>reshape it</button
        >{/if}
    {/if}
  </PlainRow>
{/if}
