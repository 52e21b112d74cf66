<!-- A row's base: a number, three of them, a colour, or a source it is read from. -->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import Lock from '@lucide/svelte/icons/lock'
  import LockOpen from '@lucide/svelte/icons/lock-open'
  import X from '@lucide/svelte/icons/x'
  import type { Change } from '../controls/numbers'
  import NumberField from '../controls/NumberField.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import { isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { basePath, setBase, setNumbers } from '../effect/edits'
  import { settable, valueAt, withValue, type Component } from '../effect/timekeys'
  import { openDialMenu } from '../dials/making'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()
  const lastLine = (text: string) =>
    text
      .split('\n')
      .map((line) => line.replace(/#.*/, '').trim())
      .filter(Boolean)
      .at(-1) ?? text
  const dialMenu = (event: MouseEvent, component: number | null = null) =>
    openDialMenu(event, placed, component, { draft, overlay, selection })
  const spec = $derived(placed.spec)
  const path = $derived(draft.inEmitter(basePath(placed)))
  const base = $derived(placed.row.base)
  const AXES = ['x', 'y', 'z'] as const
  /** A scale is one number for all axes, until it is unlocked or they differ. */
  const lockable = $derived(spec.kind === 'vector' && spec.key.endsWith('.scale'))
  const alike = $derived(
    !isSourced(base) &&
      Array.isArray(base) &&
      base.every((b) => b === base[0]) &&
      !(placed.row.responses ?? []).some((r) => r.kind !== 'gradient' && r.component !== 'all'),
  )
  let unlocked = $state(false)
  const locked = $derived(lockable && alike && !unlocked)
  /** The number as it is at this frame, where keys over the clip say it: then what is typed is a key here. */
  const byKeys = (which: Component) => {
    const r = settable(placed.row, which)
    return r !== null && r !== 'free' && r.operation === 'set'
  }
  const now = (which: Component) =>
    byKeys(which)
      ? valueAt(placed.row, which, player.seconds)
      : which < 0
        ? (base as number)
        : (base as number[])[which]
  const keyHere = (which: Component, value: number, dragging: boolean) => {
    const row = withValue(placed.row, which, player.seconds, value, player.near)
    if (dragging) draft.drag(draft.inEmitter(placed.path), row)
    else draft.edit(`Key ${placed.label.toLowerCase()} at frame ${player.frame}`, draft.inEmitter(placed.path), row)
  }
  const set = (value: unknown) => setBase(draft, placed, value as never)
  /** The rows that are marked with this one, this one among them. */
  const together = $derived(
    selection.marked.includes(placed.address)
      ? selection.marked.map((each) => catalog.rowAt(draft.owner, each)).filter((row): row is PlacedRow => !!row)
      : [],
  )
  function typed(value: unknown, change: Change) {
    if (together.length > 1) setNumbers(draft, together, change, spec.unit.symbol)
    else if (byKeys(-1)) keyHere(-1, value as number, false)
    else set(value)
  }
</script>

{#if isSourced(base) && base.source.kind === 'formula'}
  <span class="flex min-w-0 items-center gap-0.5 whitespace-nowrap">
    <button
      type="button"
      data-formula={placed.address}
      aria-pressed={selection.base === placed.address}
      class="mono min-w-0 truncate rounded border bg-ink px-1.5 py-[3px] text-left text-teal hover:text-paper {selection.base ===
      placed.address
        ? 'border-vermilion'
        : 'border-line'} {placed.row.responses?.length ? 'max-w-[150px]' : 'max-w-[330px]'}"
      title="The base is the formula {base.source.text}{base.source.draft
        ? '\n(what is being written cannot run yet)'
        : ''}\nClick to write it."
      onclick={() => selection.selectBase(placed.address)}>{lastLine(base.source.text)}</button
    >{#if base.source.draft}<span
        class="h-[6px] w-[6px] shrink-0 rounded-full bg-amber"
        title="What is being written cannot run yet; the last good one does"
      ></span>{/if}
  </span>
{:else if isSourced(base)}
  <span class="flex min-w-0 items-center gap-0.5 whitespace-nowrap">
    <button
      type="button"
      class="min-w-0 truncate border-b border-dotted border-teal pb-0.5 text-teal hover:text-paper {placed.row.responses
        ?.length
        ? 'max-w-[150px]'
        : 'max-w-[330px]'}"
      title="The base is read from {catalog.nameOf(draft.owner, placed)}, {base.read}. Click for another source."
      onclick={(e) => overlay.openPicker(e.currentTarget, placed)}>{catalog.nameOf(draft.owner, placed)}</button
    >
    <button
      type="button"
      class="rounded p-0.5 text-quiet hover:text-paper"
      aria-label="Make {placed.label} a number again"
      title="A number again"
      onclick={() => set(spec.default)}><X size={12} /></button
    >
  </span>
{:else if spec.kind === 'number'}
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <span oncontextmenu={dialMenu}
    ><NumberField
      value={now(-1)}
      unit={spec.unit}
      label={placed.label}
      lowest={spec.lowest}
      highest={spec.highest}
      drag={spec.drag}
      reset={spec.default as number}
      ondrag={together.length > 1 ? undefined : (v) => (byKeys(-1) ? keyHere(-1, v, true) : draft.drag(path, v))}
      onset={typed}
    /></span
  >
{:else if spec.kind === 'vector' && locked}
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <span class="flex items-baseline gap-2" oncontextmenu={(e) => dialMenu(e)}>
    <NumberField
      value={now(0)}
      unit={spec.unit}
      label={placed.label}
      lowest={spec.lowest}
      highest={spec.highest}
      drag={spec.drag}
      reset={(spec.default as number[])[0]}
      ondrag={(v) => draft.drag(path, [v, v, v])}
      onset={(v) => set([v, v, v])}
    />
    <button
      type="button"
      class="self-center rounded p-0.5 text-quiet hover:text-paper"
      aria-label="Give each axis of {placed.label} its own number"
      title="All axes alike: click to give each its own number"
      onclick={() => (unlocked = true)}><Lock size={12} /></button
    >
  </span>
{:else if spec.kind === 'vector'}
  <span class="flex gap-2">
    {#if lockable && alike}<button
        type="button"
        class="self-center rounded p-0.5 text-quiet hover:text-paper"
        aria-label="One number for all axes of {placed.label}"
        title="One number for all axes"
        onclick={() => (unlocked = false)}><LockOpen size={12} /></button
      >{/if}
    {#each AXES as axis, i}
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <span class="flex items-baseline gap-1" oncontextmenu={(e) => dialMenu(e, i)}>
        <span class="text-[11px] text-quiet">{axis}</span>
        <NumberField
          value={now(i as Component)}
          unit={{ ...spec.unit, symbol: '' }}
          label="{placed.label} {axis}"
          lowest={spec.lowest}
          highest={spec.highest}
          drag={spec.drag}
          reset={(spec.default as number[])[i]}
          ondrag={(v) => (byKeys(i as Component) ? keyHere(i as Component, v, true) : draft.drag([...path, i], v))}
          onset={(v, change) =>
            together.length > 1
              ? setNumbers(draft, together, change, spec.unit.symbol)
              : byKeys(i as Component)
                ? keyHere(i as Component, v, false)
                : draft.edit(`Change ${placed.label.toLowerCase()}`, [...path, i], v)}
        />
      </span>
    {/each}
    <span class="mono self-baseline text-quiet">{symbolOf(spec.unit)}</span>
  </span>
{:else}
  <Swatch
    value={base as [number, number, number]}
    label={placed.label}
    brightness={spec.highest > 1}
    ondrag={(v) => draft.drag(path, v)}
    onset={set}
  />
{/if}
