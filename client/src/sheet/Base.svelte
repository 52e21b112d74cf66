<!-- A row's base value: a number, three of them, or a colour. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft } = useDesk()
  const spec = $derived(placed.spec)
  const path = $derived(draft.inEmitter([...placed.path, 'base']))
  const change = $derived(`Change ${spec.label.toLowerCase()}`)
  const AXES = ['x', 'y', 'z'] as const

  function setTo(value: unknown) {
    draft.edit(change, path, value)
  }
</script>

{#if spec.kind === 'number'}
  <NumberField
    value={placed.row.base as number} unit={spec.unit} label={spec.label} lowest={spec.lowest} highest={spec.highest} drag={spec.drag}
    reset={spec.default as number} frameRate={draft.document.clip.frame_rate} ondrag={(v) => draft.drag(path, v)} onset={setTo}
  />
{:else if spec.kind === 'vector'}
  <span class="flex gap-2.5">
    {#each AXES as axis, i}
      <span class="flex items-baseline gap-1">
        <span class="text-[11px] text-quiet">{axis}</span>
        <NumberField
          value={(placed.row.base as number[])[i]} unit={{ ...spec.unit, symbol: '' }} label="{spec.label} {axis}" lowest={spec.lowest} highest={spec.highest}
          drag={spec.drag} reset={(spec.default as number[])[i]} ondrag={(v) => draft.drag([...path, i], v)} onset={(v) => draft.edit(change, [...path, i], v)}
        />
      </span>
    {/each}
    <span class="mono self-baseline text-quiet">{spec.unit.symbol}</span>
  </span>
{:else}
  <Swatch
    value={placed.row.base as [number, number, number]} label={spec.label} brightness={false}
    ondrag={(v) => draft.drag(path, v)} onset={setTo}
  />
{/if}
