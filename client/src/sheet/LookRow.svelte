<!-- How particles are drawn: as what, and how that meets what lies behind; what else there is to say of it opens under it. Of a further look its rows, too. -->
<script lang="ts">
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import X from '@lucide/svelte/icons/x'
  import Choice from '../controls/Choice.svelte'
  import CardButton from '../overlay/CardButton.svelte'
  import { inUse, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind, muteLook, removePart } from '../effect/edits'
  import type { PartSpec } from '../wire/types'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'
  import SheetRow from './SheetRow.svelte'

  let {
    part,
    rows = [],
    hidden = () => false,
  }: {
    part: PartSpec
    /** Of a further look: its rows. */
    rows?: PlacedRow[]
    hidden?: (row: PlacedRow) => boolean
  } = $props()
  const { draft, player, selection } = useDesk()
  const further = $derived(part.removable)
  const head = $derived(
    ['shelf', 'blend'].flatMap((name) => part.fields.filter((field) => field.offered.name === name)),
  )
  /** What is its own comes before what all looks have. */
  const COMMON = ['stands', 'order']
  const more = $derived(
    part.fields
      .filter((field) => !head.includes(field))
      .toSorted((a, b) => COMMON.indexOf(a.offered.name) - COMMON.indexOf(b.offered.name)),
  )
  let open = $state(false)
  const name = $derived(further ? 'Also as' : 'Drawn as')
  const standsIn = $derived(player.shown?.emitters.find((each) => each.uid === draft.emitter.uid)?.stands_in)
  const optional = $derived(rows.filter((row) => !row.spec.always))
  const stands = (row: PlacedRow) =>
    !hidden(row) && (row.spec.always || open || inUse(row) || selection.found?.placed.address === row.address)
</script>

<div
  class={part.muted ? 'opacity-55' : ''}
  data-look={part.path.join('.')}
  data-mover={part.removable ? String(part.path.at(-1)).slice(1) : undefined}
>
  <PlainRow
    label={name}
    help={part.help}
    opens={more.length || optional.length ? `more of the ${further ? part.label.toLowerCase() : 'look'}` : undefined}
    {open}
    onopen={() => (open = !open)}
  >
    <Choice
      label={name}
      value={part.kind}
      options={part.kinds.map((k) => ({ value: k.kind, name: k.label, disabled: !!k.why }))}
      onpick={(kind) => {
        const to = part.kinds.find((k) => k.kind === kind)!
        changeKind(draft, to, `Draw as ${to.label.toLowerCase()}`)
      }}
    />
    {#each head as field (field.offered.name)}<FieldControl {field} />{/each}
    {#snippet out()}
      <span class="flex items-center gap-1.5">
        <CardButton of={part.card} name={part.label} />
        <button
          type="button"
          class="rounded text-quiet hover:text-paper"
          aria-pressed={!part.muted}
          aria-label="{part.muted ? 'Draw' : 'Do not draw'} the {part.label.toLowerCase()}"
          title="{part.muted ? 'Draw' : 'Do not draw'} the {part.label.toLowerCase()}"
          onclick={() => muteLook(draft, part)}
          >{#if part.muted}<EyeOff size={13} />{:else}<Eye size={13} />{/if}</button
        >
        {#if further}<button
            type="button"
            class="rounded text-quiet hover:text-paper"
            aria-label="Remove the {part.label.toLowerCase()}"
            title="Remove the {part.label.toLowerCase()}"
            onclick={() => removePart(draft, part)}><X size={13} /></button
          >{/if}
      </span>
    {/snippet}
  </PlainRow>
  {#if part.lacks}<p class="px-3.5 pb-1 text-xs text-amber" role="note">{part.lacks}</p>{/if}
  {#if standsIn && !further}<p class="px-3.5 pb-1 text-xs text-amber" role="note">{standsIn}</p>{/if}
  {#if open}
    {#each more as field (field.offered.name)}
      <PlainRow label={field.offered.label} help={field.offered.help} inner><FieldControl {field} /></PlainRow>
    {/each}
  {/if}
  {#each rows as row (row.address)}
    {#if stands(row)}<SheetRow placed={row} inner />{/if}
  {/each}
</div>
