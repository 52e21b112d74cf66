<!-- A push: its first row stands for it; its other rows, settings and region open under it. -->
<script lang="ts">
  import { isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { removePart } from '../effect/edits'
  import type { PartSpec } from '../wire/types'
  import CardButton from '../overlay/CardButton.svelte'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'
  import RegionRow from './RegionRow.svelte'
  import SheetRow from './SheetRow.svelte'

  let {
    part,
    rows,
    open,
    onopen,
    hidden,
  }: {
    part: PartSpec
    /** The rows of the sheet by address. */
    rows: Map<string, PlacedRow>
    open: boolean
    onopen: () => void
    hidden: (row: PlacedRow) => boolean
  } = $props()
  const { draft, selection } = useDesk()
  const own = $derived(part.rows.map((address) => rows.get(address)).filter((row): row is PlacedRow => !!row))
  const label = $derived(part.label)
  const driven = (row: PlacedRow) =>
    (row.row.responses?.length ?? 0) > 0 || isSourced(row.row.base) || selection.found?.placed.address === row.address
  const strength = $derived(rows.get(part.strength))
  /** Whether it acts within a mask, which shows at once. */
  const within = $derived(!!part.region?.mask)
  const more = $derived(own.length > 1 || part.fields.length > 0)
</script>

{#if own[0] && !hidden(own[0])}<SheetRow
    placed={own[0]}
    opens={more ? `all of ${label.toLowerCase()}` : 'its region'}
    {open}
    {onopen}
    onremove={part.removable ? () => removePart(draft, part) : undefined}
  />{/if}
{#each own.slice(1) as row (row.address)}
  {#if open || driven(row)}<SheetRow placed={row} inner />{/if}
{/each}
{#if strength && part.region && (open || within)}<RegionRow placed={strength} region={part.region} {label} />{/if}
{#if open}
  <PlainRow {label} help={part.help} inner
    ><CardButton of="force:{part.kind}" name={label} /><span class="text-quiet">{part.help}</span></PlainRow
  >
  {#each part.fields as field (field.offered.name)}
    <PlainRow label={field.offered.label} help={field.offered.help} inner><FieldControl {field} /></PlainRow>
  {/each}
{/if}
