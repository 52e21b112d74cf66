<!-- How particles are drawn: as what, and how that meets what lies behind. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind } from '../effect/edits'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  const { draft, catalog } = useDesk()
  const part = $derived(catalog.part(draft.emitter, 'look'))
</script>

{#if part}
  <PlainRow label="Drawn" help={part.help}>
    {#if part.kinds.length > 1}
      <Choice
        label="Drawn as"
        value={part.kind}
        options={part.kinds.map((k) => ({ value: k.kind, name: k.label, disabled: !!k.why }))}
        onpick={(kind) =>
          changeKind(
            draft,
            part.kinds.find((k) => k.kind === kind)!,
            `Draw as ${kind}`,
          )}
      />
    {:else}<span class="text-quiet">as {part.label.toLowerCase()}s,</span>{/if}
    {#each part.fields as field (field.offered.name)}<FieldControl {field} />{/each}
  </PlainRow>
{/if}
