<!-- How particles are drawn: as what, and how that meets what lies behind; what else there is to say of it opens under it. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind } from '../effect/edits'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  const HEAD = ['shelf', 'blend']
  const { draft, catalog, player } = useDesk()
  let open = $state(false)
  const part = $derived(catalog.part(draft.emitter, 'look'))
  const head = $derived(HEAD.flatMap((name) => part?.fields.filter((field) => field.offered.name === name) ?? []))
  const more = $derived(part?.fields.filter((field) => !HEAD.includes(field.offered.name)) ?? [])
  const standsIn = $derived(player.shown?.emitters.find((each) => each.uid === draft.emitter.uid)?.stands_in)
</script>

{#if part}
  <PlainRow
    label="Drawn as"
    help={part.help}
    opens={more.length ? 'more of the look' : undefined}
    {open}
    onopen={() => (open = !open)}
  >
    <Choice
      label="Drawn as"
      value={part.kind}
      options={part.kinds.map((k) => ({ value: k.kind, name: k.label, disabled: !!k.why }))}
      onpick={(kind) => {
        const to = part.kinds.find((k) => k.kind === kind)!
        changeKind(draft, to, `Draw as ${to.label.toLowerCase()}`)
      }}
    />
    {#each head as field (field.offered.name)}<FieldControl {field} />{/each}
  </PlainRow>
  {#if standsIn}<p class="px-3.5 pb-1 text-xs text-amber" role="note">{standsIn}</p>{/if}
  {#if open}
    {#each more as field (field.offered.name)}
      <PlainRow label={field.offered.label} help={field.offered.help} inner><FieldControl {field} /></PlainRow>
    {/each}
  {/if}
{/if}
