<!-- The rows and settings of what is read by the clip alone and stands in no space: an item of the finish (with a card: its rows first), the frame. -->
<script lang="ts">
  import TextField from '../controls/TextField.svelte'
  import { useDesk } from '../effect/context'
  import CardButton from '../overlay/CardButton.svelte'
  import FieldControl from '../sheet/FieldControl.svelte'
  import PlainRow from '../sheet/PlainRow.svelte'
  import SheetRow from '../sheet/SheetRow.svelte'

  let {
    thing,
    name,
    card = '',
    onremove,
    onname,
  }: {
    thing: { uid: string }
    name: string
    card?: string
    onremove?: () => void
    onname?: (name: string) => void
  } = $props()
  const { draft, catalog } = useDesk()
  const part = $derived(catalog.part(thing, ''))
  const rows = $derived(catalog.rowsOf(draft.owner).filter((row) => !row.unused))
  const lists = $derived((part?.fields ?? []).filter((field) => field.offered.kind === 'references'))
  const fields = $derived(
    (part?.fields ?? []).filter(
      (field) =>
        field.offered.kind !== 'references' &&
        field.offered.options.length + Number(field.offered.kind !== 'reference') > 0,
    ),
  )
</script>

{#snippet plain()}
  {#each fields as field (field.offered.name)}
    <PlainRow label={field.offered.kind === 'tick' ? '' : field.offered.label} help={field.offered.help} inner
      ><FieldControl {field} of={name} /></PlainRow
    >
  {/each}
{/snippet}
{#snippet driven()}
  {#each rows as placed (placed.address)}<SheetRow {placed} inner />{/each}
{/snippet}
<div class="pb-2" data-part="held-sheet">
  {#if part?.lacks}<p class="px-3.5 pb-1 text-xs text-amber" role="note">{part.lacks}</p>{/if}
  {#if card}{@render driven()}{@render plain()}{:else}{@render plain()}{@render driven()}{/if}
  {#each lists as field (field.offered.name)}
    {#if field.offered.options.length}<PlainRow label={field.offered.label} help={field.offered.help} inner
        ><FieldControl {field} of={name} /></PlainRow
      >{/if}
  {/each}
  {#if onname || onremove}
    <div class="flex items-center gap-3 px-3.5 pt-1.5">
      {#if onname}<span class="flex items-center gap-2 text-quiet"
          >Name<TextField value={name} label="Name of {name}" onset={onname} /></span
        >{/if}
      <span class="ml-auto text-xs text-quiet">{part?.help ?? ''}</span>
      {#if card}<CardButton of={card} {name} />{/if}
      {#if onremove}<button
          type="button"
          class="shrink-0 text-xs text-quiet underline decoration-dotted hover:text-paper"
          onclick={onremove}>remove</button
        >{/if}
    </div>
  {/if}
</div>
