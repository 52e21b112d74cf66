<!-- Strokes of the brush, in the order in which they act: each with its eye, its amount, its place in the order. -->
<script lang="ts">
  import ArrowUp from '@lucide/svelte/icons/arrow-up'
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import X from '@lucide/svelte/icons/x'
  import NumberField from '../controls/NumberField.svelte'
  import { withUnit } from '../controls/numbers'

  type Stroke = { kind: string; radius: number; strength: number; on?: boolean; amount?: number }
  let {
    strokes,
    label,
    amounts = false,
    ondrag,
    onset,
  }: {
    strokes: readonly Stroke[]
    /** What they are strokes of. */
    label: string
    /** Whether each has an amount. */
    amounts?: boolean
    ondrag: (strokes: Stroke[]) => void
    onset: (strokes: Stroke[], label: string) => void
  } = $props()
  const METRES = { symbol: 'm', scale: 1, digits: 3 }
  const changed = (i: number, more: Partial<Stroke>) => strokes.map((s, j) => (j === i ? { ...s, ...more } : s))
  const sooner = (i: number) => [...strokes.slice(0, i - 1), strokes[i], strokes[i - 1], ...strokes.slice(i + 1)]
</script>

<ol class="flex flex-col px-3.5 pb-1" aria-label="Strokes of {label}" data-part="strokes">
  {#each strokes as stroke, i}
    {@const off = stroke.on === false}
    <li class="flex items-center gap-2.5 py-px">
      <button
        type="button"
        class="rounded p-0.5 {off ? 'text-amber' : 'text-quiet hover:text-paper'}"
        aria-pressed={!off}
        aria-label="Stroke {i + 1} of {label} acts"
        title={off ? 'Left out: click to let it act' : 'Leave it out'}
        onclick={() => onset(changed(i, { on: off }), `${off ? 'Let a stroke act' : 'Leave a stroke out'}`)}
        >{#if off}<EyeOff size={14} />{:else}<Eye size={14} />{/if}</button
      >
      <span class="w-14 {off ? 'text-quiet line-through' : ''}">{stroke.kind}</span>
      <span class="mono w-20 text-xs text-quiet">{withUnit(stroke.radius, METRES)}</span>
      {#if amounts}
        <NumberField
          value={stroke.amount ?? 1}
          unit={{ symbol: '×', scale: 1, digits: 2 }}
          label="Amount of stroke {i + 1} of {label}"
          lowest={-4}
          highest={4}
          drag={2}
          reset={1}
          ondrag={(v) => ondrag(changed(i, { amount: v }))}
          onset={(v) => onset(changed(i, { amount: v }), 'Change how much a stroke does')}
        />
      {:else}<span class="mono text-xs">{Math.round(stroke.strength * 100)} %</span>{/if}
      <button
        type="button"
        class="ml-auto rounded p-0.5 text-quiet hover:text-paper disabled:opacity-30"
        disabled={i === 0}
        aria-label="Stroke {i + 1} of {label} sooner"
        title="Let it act sooner"
        onclick={() => onset(sooner(i), 'Reorder strokes')}><ArrowUp size={13} /></button
      >
      <button
        type="button"
        class="rounded p-0.5 text-quiet hover:text-paper"
        aria-label="Remove stroke {i + 1} of {label}"
        title="Remove it"
        onclick={() =>
          onset(
            strokes.filter((_, j) => j !== i),
            'Remove a stroke',
          )}><X size={13} /></button
      >
    </li>
  {/each}
</ol>
