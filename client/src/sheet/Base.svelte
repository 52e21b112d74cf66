<!-- A row's base: a number, three of them, a colour, or a source it is read from. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import NumberField from '../controls/NumberField.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import { isSourced, type PlacedRow } from '../effect/catalog'
  import { useDesk } from '../effect/context'
  import { basePath, setBase } from '../effect/edits'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft, catalog, overlay } = useDesk()
  const spec = $derived(placed.spec)
  const path = $derived(draft.inEmitter(basePath(placed)))
  const base = $derived(placed.row.base)
  const AXES = ['x', 'y', 'z'] as const
  const set = (value: unknown) => setBase(draft, placed, value as never)
</script>

{#if isSourced(base)}
  <span class="flex items-center gap-0.5 whitespace-nowrap">
    <button type="button" class="border-b border-dotted border-teal pb-0.5 text-teal hover:text-paper" title="The base is read from {catalog.sourceName(draft.emitter, base.source)}, {base.read}. Click for another source." onclick={(e) => overlay.openPicker(e.currentTarget, placed)}
    >{catalog.sourceName(draft.emitter, base.source)}</button>
    <button type="button" class="rounded p-0.5 text-quiet hover:text-paper" aria-label="Make {placed.label} a number again" title="A number again" onclick={() => set(spec.default)}><X size={12} /></button>
  </span>
{:else if spec.kind === 'number'}
  <NumberField
    value={base as number} unit={spec.unit} label={placed.label} lowest={spec.lowest} highest={spec.highest} drag={spec.drag}
    reset={spec.default as number} frameRate={draft.document.clip.frame_rate} ondrag={(v) => draft.drag(path, v)} onset={set}
  />
{:else if spec.kind === 'vector'}
  <span class="flex gap-2">
    {#each AXES as axis, i}
      <span class="flex items-baseline gap-1">
        <span class="text-[11px] text-quiet">{axis}</span>
        <NumberField
          value={(base as number[])[i]} unit={{ ...spec.unit, symbol: '' }} label="{placed.label} {axis}" lowest={spec.lowest} highest={spec.highest}
          drag={spec.drag} reset={(spec.default as number[])[i]} ondrag={(v) => draft.drag([...path, i], v)} onset={(v) => draft.edit(`Change ${placed.label.toLowerCase()}`, [...path, i], v)}
        />
      </span>
    {/each}
    <span class="mono self-baseline text-quiet">{spec.unit.symbol}</span>
  </span>
{:else}
  <Swatch value={base as [number, number, number]} label={placed.label} brightness={false} ondrag={(v) => draft.drag(path, v)} onset={set} />
{/if}
