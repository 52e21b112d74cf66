<!-- The emitter's draws: each with its kind and how its values really lie, and its bounds as rows. -->
<script lang="ts">
  import { tick } from 'svelte'
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import X from '@lucide/svelte/icons/x'
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import TextField from '../controls/TextField.svelte'
  import { shown } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind, removePart, rename } from '../effect/edits'
  import type { Draw, PartSpec } from '../wire/types'
  import CardButton from '../overlay/CardButton.svelte'
  import FieldControl from './FieldControl.svelte'
  import SheetRow from './SheetRow.svelte'

  let { part, rows }: { part: PartSpec; rows: PlacedRow[] } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()
  let open = $state(false)
  const uid = $derived(String(part.path.at(-1)).slice(1))
  const i = $derived((draft.emitter.draws ?? []).findIndex((d) => d.uid === uid))
  const draw = $derived<Draw | undefined>(draft.emitter.draws?.[i])
  const uses = $derived(catalog.thing(draft.emitter)?.used[uid]?.length ?? 0)
  const seen = $derived(player.measure(draft.emitter.uid)?.draws[uid])
  $effect(() => {
    // a draw whose values are set by its bounds alone shows them at once
    if (!draw || draw.uid !== selection.fresh || draw.kind === 'uniform' || draw.kind === 'sign') return
    open = true
    selection.fresh = null
    void tick().then(() =>
      document.querySelector(`[data-draw="${uid}"]`)?.scrollIntoView({ block: 'start', behavior: 'instant' }),
    )
  })
  const PLAIN = { symbol: '', scale: 1, digits: 2 }
  const path = (...rest: (string | number)[]) => draft.inEmitter(['draws', i, ...rest])
  const driven = (row: PlacedRow) =>
    (row.row.responses?.length ?? 0) > 0 || selection.found?.placed.address === row.address
  function change(kind: string) {
    open = true
    const offer = part.kinds.find((k) => k.kind === kind)!
    changeKind(draft, offer, `Make ${draw!.name} ${offer.label}`)
  }
</script>

{#if draw}
  <div
    class="group grid min-h-[29px] grid-cols-[120px_minmax(0,1fr)_auto] items-center px-3.5 py-px hover:bg-raised/50"
    data-draw={draw.uid}
  >
    <span class="flex items-center gap-1">
      <TextField
        value={draw.name}
        label="Name of the draw"
        onset={(name) => overlay.attempt(() => rename(draft, 'draw', draw.uid, draw.name, name))}
      />
      <button
        type="button"
        onclick={() => (open = !open)}
        aria-expanded={open}
        aria-label="{open ? 'Hide' : 'Show'} the bounds of {draw.name}"
        class="rounded text-quiet hover:text-paper"><ChevronRight size={13} class={open ? 'rotate-90' : ''} /></button
      >
    </span>
    <span class="flex flex-wrap items-center gap-2">
      <Choice
        label="Kind of {draw.name}"
        options={part.kinds.map((k) => ({ value: k.kind, name: k.label }))}
        value={draw.kind}
        onpick={change}
      />
      <CardButton of="draw:{draw.kind}" name={draw.name} />
      {#each part.fields as field (field.offered.name)}<FieldControl {field} of={draw.name} />{/each}
      <span class="text-xs text-quiet"
        >{uses ? `read ${uses === 1 ? 'once' : `${uses} times`}` : 'nothing reads it'}</span
      >
      {#if !uses}<button
          type="button"
          class="rounded p-1 text-quiet hover:text-paper"
          aria-label="Remove {draw.name}"
          title="Remove {draw.name}"
          onclick={() => removePart(draft, { ...part, label: draw.name })}><X size={13} /></button
        >{/if}
    </span>
    <span class="flex items-center gap-2" title="How the values of the living lie">
      {#if seen}
        {@const top = Math.max(1, ...seen.bins)}
        <svg width="72" height="20" role="img" aria-label="distribution of {draw.name}">
          {#each seen.bins as n, b}<rect
              x={b * 3}
              y={20 - (n / top) * 19}
              width="2.4"
              height={(n / top) * 19}
              fill="var(--color-teal)"
              opacity="0.6"
            />{/each}
        </svg>
        <span class="mono whitespace-nowrap">{shown(seen.low, PLAIN, false)} – {shown(seen.high, PLAIN, false)}</span>
      {/if}
    </span>
  </div>
  {#if draw.options && open}
    <div class="flex flex-wrap items-center gap-2 px-3.5 py-1 pl-[135px]">
      {#each draw.options as option, o}
        <span class="flex items-center gap-1 rounded border border-line bg-ink px-1.5 py-0.5">
          <NumberField
            value={option.value}
            unit={PLAIN}
            label="Value {o + 1} of {draw.name}"
            drag={2}
            onset={(v) => draft.edit(`Change a value of ${draw.name}`, path('options', o, 'value'), v)}
          />
          <span class="text-[11px] text-quiet">weight</span>
          <NumberField
            value={option.weight ?? 1}
            unit={PLAIN}
            label="Weight {o + 1} of {draw.name}"
            lowest={0}
            highest={1e6}
            drag={2}
            reset={1}
            onset={(v) => draft.edit(`Change a weight of ${draw.name}`, path('options', o, 'weight'), v)}
          />
          {#if draw.options.length > 1}<button
              type="button"
              class="rounded text-quiet hover:text-paper"
              aria-label="Remove value {o + 1} of {draw.name}"
              onclick={() =>
                draft.edit(
                  `Remove a value of ${draw.name}`,
                  path('options'),
                  draw.options.filter((x: unknown) => x !== option),
                )}><X size={12} /></button
            >{/if}
        </span>
      {/each}
      <button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        onclick={() =>
          draft.edit(`Add a value to ${draw.name}`, path('options'), [
            ...draw.options,
            { value: draw.options.length, weight: 1 },
          ])}>add a value</button
      >
    </div>
  {/if}
  {#each rows as row (row.address)}
    {#if open || driven(row)}<SheetRow placed={row} inner />{/if}
  {/each}
{/if}
