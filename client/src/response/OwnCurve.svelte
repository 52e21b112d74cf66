<!-- A curve that belongs to a setting rather than a response: straight, or as it is drawn. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import type { Key } from '../wire/types'
  import CurveEditor from './CurveEditor.svelte'

  let {
    curve,
    label,
    across,
    ondrag,
    onset,
  }: {
    curve: { keys: readonly Key[] } | null | undefined
    /** What it is of. */
    label: string
    /** What goes from left to right, in words. */
    across: string
    ondrag: (curve: { keys: Key[] }) => void
    onset: (curve: { keys: Key[] } | null, label: string) => void
  } = $props()
  const { catalog } = useDesk()
  let chosen = $state(0)
  const same = (a: readonly Key[], b: readonly Key[]) =>
    a.length === b.length && a.every((k, i) => k.x === b[i].x && k.y === b[i].y && k.shape === b[i].shape)
  const known = $derived(curve ? catalog.data.presets.find((p) => same(curve.keys, p.keys as Key[]))?.name : 'straight')
</script>

<div class="flex min-w-0 flex-1 flex-wrap items-start gap-3" data-part="own-curve">
  <span class="flex items-center gap-2"
    ><span class="text-quiet">{label}</span>
    <Choice
      label="Curve: {label}"
      value={known ?? 'drawn'}
      options={[
        { value: 'straight', name: 'straight' },
        ...(known ? [] : [{ value: 'drawn', name: 'as drawn' }]),
        ...catalog.data.presets.map((p) => ({ value: p.name, name: p.name })),
      ]}
      onpick={(name) => {
        const preset = catalog.data.presets.find((p) => p.name === name)
        chosen = 0
        if (name !== 'drawn')
          onset(preset ? { keys: structuredClone(preset.keys) as Key[] } : null, `Choose a curve: ${name}`)
      }}
    /></span
  >
  {#if curve}
    <div class="flex h-[104px] min-w-[220px] flex-1 flex-col">
      <div class="min-h-0 flex-1">
        <CurveEditor
          keys={curve.keys}
          {chosen}
          distribution={undefined}
          onchoose={(i) => (chosen = i)}
          ondrag={(keys) => ondrag({ keys })}
          onset={(keys, words) => onset({ keys }, words)}
        />
      </div>
      <span class="text-[11px] text-quiet">{across}</span>
    </div>
  {/if}
</div>
