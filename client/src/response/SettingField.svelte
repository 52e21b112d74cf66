<!-- A setting of a response: its number, what drives it, and a way to drive it. -->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { basePath, setBase } from '../effect/edits'
  import { openDialMenu } from '../dials/making'

  let {
    placed,
    title,
    boxed = false,
    name = '',
  }: { placed: PlacedRow; title: string; boxed?: boolean; name?: string } = $props()
  const { draft, catalog, selection, overlay } = useDesk()
  const responses = $derived(placed.row.responses ?? [])
  const base = $derived(placed.row.base)
  const label = $derived(name || placed.label)
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<span
  class="inline-flex items-center gap-1"
  data-setting={placed.address}
  oncontextmenu={(e) => openDialMenu(e, placed, null, { draft, overlay, selection })}
>
  {#if isSourced(base) && base.source.kind === 'formula'}
    <button
      type="button"
      class="mono max-w-[120px] truncate rounded border border-line bg-ink px-1.5 py-[2px] text-teal hover:text-paper"
      onclick={() => selection.selectBase(placed.address)}
      title="The formula {base.source.text}. Click to write it.">{base.source.text}</button
    >
  {:else if isSourced(base)}
    <button
      type="button"
      class="border-b border-dotted border-teal text-teal hover:text-paper"
      onclick={() => setBase(draft, placed, placed.spec.default as never)}
      title="Read from {catalog.nameOf(draft.owner, placed)}. Click to make it a number again."
      >{catalog.nameOf(draft.owner, placed)}</button
    >
  {:else if placed.spec.kind === 'vector'}
    {#each [0, 1, 2] as i}
      <NumberField
        value={(base as number[])[i]}
        unit={{ ...placed.spec.unit, symbol: '' }}
        label="{label} {'xyz'[i]}"
        lowest={placed.spec.lowest}
        highest={placed.spec.highest}
        drag={placed.spec.drag}
        reset={0}
        ondrag={(v) => draft.drag([...draft.inEmitter(basePath(placed)), i], v)}
        onset={(v) =>
          draft.edit(`Change ${placed.label.toLowerCase()} of ${title}`, [...draft.inEmitter(basePath(placed)), i], v)}
      />
    {/each}
    <span class="mono text-quiet">{symbolOf(placed.spec.unit)}</span>
  {:else}
    <NumberField
      {boxed}
      value={base as number}
      unit={placed.spec.unit}
      {label}
      lowest={placed.spec.lowest}
      highest={placed.spec.highest}
      drag={placed.spec.drag}
      reset={placed.spec.default as number}
      ondrag={(v) => draft.drag(draft.inEmitter(basePath(placed)), v)}
      onset={(v) => setBase(draft, placed, v, `Change ${placed.label.toLowerCase()} of ${title}`)}
    />
  {/if}
  {#each responses as response (response.uid)}
    <button
      type="button"
      class="rounded border border-line bg-ink px-1 text-[11px] leading-[16px] hover:border-quiet {response.muted
        ? 'opacity-50'
        : ''}"
      title="{label} is driven from {catalog.nameOf(draft.owner, response)}. Click to shape it."
      onclick={() => selection.select(response.uid)}
      ><span class="mono text-quiet">{catalog.signs.get(response.operation ?? 'multiply')}</span>
      {catalog.nameOf(draft.owner, response)}</button
    >
  {/each}
  <button
    type="button"
    aria-haspopup="dialog"
    class="rounded px-0.5 text-[13px] leading-none text-quiet hover:text-paper"
    aria-label="Drive {label}"
    title="Vary {label.toLowerCase()}, or drive it from something"
    onclick={(e) => overlay.openPicker(e.currentTarget, placed)}>+</button
  >
</span>
