<!-- One dial in the drawer: its name, its value, and what opens under it: range, default, note, what it does, how it fares at its ends. -->
<script lang="ts">
  import { tick } from 'svelte'
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { withUnit } from '../controls/numbers'
  import Slider from '../controls/Slider.svelte'
  import TextField from '../controls/TextField.svelte'
  import { useDesk } from '../effect/context'
  import { rename } from '../effect/edits'
  import { dialAt, dialMoved, dialTurned } from '../effect/timekeys'
  import type { Dial, DialUse, Trial } from '../wire/types'
  import { inShort, stepOf } from './dials.svelte'

  let {
    dial,
    index,
    last,
    uses,
    trial,
    trying,
    onmove,
    onduplicate,
    onremove,
  }: {
    dial: Dial
    index: number
    last: boolean
    uses: DialUse[]
    trial: Trial | undefined
    trying: boolean
    onmove: (direction: number) => void
    onduplicate: () => void
    onremove: () => void
  } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()
  const now = $derived(dialAt(dial, player.seconds))
  const here = $derived((dial.keys ?? []).some((k) => Math.abs(k.time - player.seconds) < player.near))
  const turn = (value: number, dragging: boolean) => {
    const changed = dialTurned(dial, player.seconds, value, player.near)
    if (dragging) draft.drag(path, changed)
    else
      draft.edit(dial.keys?.length ? `Key ${dial.name} at frame ${player.frame}` : `Turn ${dial.name}`, path, changed)
  }
  const path = $derived(['dials', index] as const)
  const unit = $derived(catalog.data.dial_units[dial.unit ?? ''])
  const open = $derived(selection.dial === dial.uid)
  const warned = $derived(trial ? [trial.words, ...trial.tried.map((t) => t.words)].some(Boolean) : false)
  const theirs = $derived(selection.turned?.values[dial.uid] ?? null)
  const ENDS = ['low end', 'middle', 'high end']
  const set = (name: keyof Dial, value: unknown, label: string) => draft.edit(label, [...path, name], value)

  /** Another end must keep value and default between the two. */
  function setEnd(end: 'low' | 'high', value: number) {
    const low = end === 'low' ? value : dial.low
    const high = end === 'high' ? value : dial.high
    const held = (v: number) => Math.min(Math.max(v, low), high)
    draft.edit(`Change the range of ${dial.name}`, path, {
      ...dial,
      low,
      high,
      value: held(dial.value),
      default: held(dial.default),
      keys: (dial.keys ?? []).map((k) => ({ ...k, value: held(k.value) })),
    })
  }
  /** Typed past an end: the range goes as far. */
  function widen(value: number) {
    const wide = { ...dial, low: Math.min(dial.low, value), high: Math.max(dial.high, value) }
    draft.edit(
      `Widen ${dial.name} to ${withUnit(value, unit)}`,
      path,
      dialTurned(wide, player.seconds, value, player.near),
    )
  }
  function key() {
    if (!dial.keys?.length)
      draft.edit(`Key ${dial.name} over the clip`, path, {
        ...dial,
        keys: [{ time: player.seconds, value: dial.value, shape: 'smooth' }],
      })
    else if (here) draft.edit(`Remove a key of ${dial.name}`, path, dialMoved(dial, player.seconds, null, player.near))
    else turn(now, false)
  }
  function goTo(use: DialUse) {
    const at = draft.document.emitters.findIndex((e) => e.uid === use.emitter)
    if (at >= 0) draft.emitterIndex = at
    selection.dials = false
    selection.view = 'sheet'
    const placed = catalog.rowAt(draft.emitter, use.address)
    const response =
      placed?.row.responses?.find((r) => r.source.kind === 'dial' && r.source.dial === dial.uid) ??
      placed?.row.responses?.find((r) => r.source.kind === 'formula')
    if (response) selection.select(response.uid)
    else if (placed) selection.selectBase(placed.address)
    void tick().then(() =>
      document.querySelector<HTMLElement>(`[data-name="${use.address}"]`)?.scrollIntoView({ block: 'nearest' }),
    )
  }
</script>

<section
  class="border-b border-line px-4 py-1.5 {open ? 'bg-raised' : ''}"
  data-dial={dial.uid}
  aria-label="Dial {dial.name}"
>
  <div class="flex items-center gap-2">
    <button
      type="button"
      aria-expanded={open}
      aria-label="{open ? 'Hide' : 'Show'} the settings of {dial.name}"
      class="rounded text-quiet hover:text-paper"
      onclick={() => (selection.dial = open ? null : dial.uid)}
      ><ChevronRight size={14} class={open ? 'rotate-90' : ''} /></button
    >
    <TextField
      value={dial.name}
      label="Name of the dial"
      onset={(name) => overlay.attempt(() => rename(draft, 'dial', dial.uid, dial.name, name))}
    />
    {#if warned}<span
        class="h-[6px] w-[6px] rounded-full bg-amber"
        title={[trial?.words, ...(trial?.tried.map((t) => t.words) ?? [])].filter(Boolean).join('\n')}
      ></span>{/if}
    {#if dial.keys?.length}<span class="text-xs whitespace-nowrap text-teal">keyed</span>{/if}
    <span class="truncate text-xs text-quiet">{uses.length ? inShort(uses) : 'drives nothing yet'}</span>
    <span class="ml-auto"
      ><NumberField
        value={now}
        {unit}
        label={dial.name}
        lowest={dial.low}
        highest={dial.high}
        drag={dial.high - dial.low}
        reset={dial.default}
        widen={(v) => widen(v)}
        ondrag={(v) => turn(v, true)}
        onset={(v) => turn(v, false)}
      /></span
    >
  </div>
  <Slider
    value={now}
    low={dial.low}
    high={dial.high}
    step={stepOf(dial)}
    label="Turn {dial.name}"
    words={withUnit(now, unit)}
    mark={theirs}
    ondrag={(v) => turn(v, true)}
    onset={(v) => turn(v, false)}
  />
  {#if open}
    <div class="grid grid-cols-[76px_minmax(0,1fr)] items-baseline gap-x-3 gap-y-1.5 pb-1.5 pl-1">
      <span class="text-quiet">From, to</span>
      <span class="flex items-baseline gap-2">
        <NumberField
          value={dial.low}
          {unit}
          label="Low end of {dial.name}"
          lowest={-1e9}
          highest={dial.high - 1e-6}
          drag={dial.high - dial.low}
          onset={(v) => setEnd('low', v)}
        />
        <span class="text-quiet">to</span>
        <NumberField
          value={dial.high}
          {unit}
          label="High end of {dial.name}"
          lowest={dial.low + 1e-6}
          highest={1e9}
          drag={dial.high - dial.low}
          onset={(v) => setEnd('high', v)}
        />
        <Choice
          label="Unit of {dial.name}"
          options={Object.keys(catalog.data.dial_units).map((u) => ({ value: u || 'plain', name: u || 'no unit' }))}
          value={dial.unit || 'plain'}
          onpick={(u) => set('unit', u === 'plain' ? '' : u, `Change the unit of ${dial.name}`)}
          class="max-w-[92px]"
        />
      </span>
      <span class="text-quiet">Default</span>
      <span class="flex items-baseline gap-3">
        <NumberField
          value={dial.default}
          {unit}
          label="Default of {dial.name}"
          lowest={dial.low}
          highest={dial.high}
          drag={dial.high - dial.low}
          onset={(v) => set('default', v, `Change the default of ${dial.name}`)}
        />
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper disabled:opacity-40"
          disabled={dial.value === dial.default}
          onclick={() => set('value', dial.default, `Turn ${dial.name} back`)}>turn back to it</button
        >
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper disabled:opacity-40"
          disabled={dial.value === dial.default}
          onclick={() => set('default', dial.value, `Change the default of ${dial.name}`)}>make this the default</button
        >
      </span>
      <span class="text-quiet">Over the clip</span>
      <span class="flex items-baseline gap-3">
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          title="Keys stand on the transport while the dial is open here; turning it then sets a key at this frame"
          onclick={key}
          >{!dial.keys?.length
            ? `key it, first at frame ${player.frame}`
            : here
              ? `remove the key at frame ${player.frame}`
              : `key at frame ${player.frame}`}</button
        >
        {#if dial.keys?.length}<span class="text-xs text-quiet"
            >{dial.keys.length} {dial.keys.length === 1 ? 'key' : 'keys'}</span
          ><button
            type="button"
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => draft.edit(`Hold ${dial.name} over the clip`, path, { ...dial, value: now, keys: [] })}
            >hold it as it is now</button
          >{:else}<span class="text-xs text-quiet">one value</span>{/if}
      </span>
      <span class="text-quiet">Group</span>
      <input
        value={dial.group ?? ''}
        maxlength="80"
        list="dial-groups"
        aria-label="Group of {dial.name}"
        placeholder="none"
        class="h-[26px] w-full rounded border border-line bg-ink px-2 py-0 text-[13px] text-paper focus:border-teal focus:ring-0"
        onchange={(e) => set('group', e.currentTarget.value.trim(), `Group ${dial.name}`)}
      />
      <span class="text-quiet">Note</span>
      <input
        value={dial.note}
        maxlength="400"
        aria-label="Note of {dial.name}"
        placeholder="For whoever turns it"
        class="h-[26px] w-full rounded border border-line bg-ink px-2 py-0 text-[13px] text-paper focus:border-teal focus:ring-0"
        onchange={(e) => set('note', e.currentTarget.value, `Write a note on ${dial.name}`)}
      />
      <span class="self-start text-quiet">It</span>
      <span class="flex flex-col items-start">
        {#each uses as use}
          <button
            type="button"
            class="text-left hover:underline hover:decoration-dotted"
            title="Go there"
            onclick={() => goTo(use)}
            >{use.how} <b>{use.label}</b>{draft.document.emitters.length > 1 ? ` of ${use.emitter_name}` : ''}</button
          >
        {:else}<span class="text-quiet"
            >drives nothing yet: choose it in the list of sources, or write dials.… in a formula</span
          >{/each}
      </span>
      <span class="self-start text-quiet">Tried</span>
      <div class="min-w-0" data-part="trial">
        {#if trial}
          <div class="grid grid-cols-3 gap-1.5 {trying ? 'opacity-50' : ''}">
            {#each trial.tried as tried, i}
              <figure class="min-w-0">
                {#if tried.picture}<img
                    src="data:image/png;base64,{tried.picture}"
                    alt="{dial.name} at its {ENDS[i]}, frame {trial.frame}"
                    class="aspect-video w-full rounded border {tried.words ? 'border-amber' : 'border-line'}"
                  />{:else}<div
                    class="grid aspect-video w-full place-items-center rounded border border-amber text-center text-[11px] text-amber"
                  >
                    not played
                  </div>{/if}
                <figcaption class="text-[11px] text-quiet">
                  <span class="mono">{withUnit(tried.value, unit)}</span>{#if tried.words}<span class="block text-amber"
                      >{tried.words}</span
                    >{/if}
                </figcaption>
              </figure>
            {/each}
          </div>
          {#if trial.words}<p class="text-xs text-amber">{trial.words}</p>{/if}
        {:else}<span class="text-quiet">{trying ? 'being tried…' : 'waits until you pause'}</span>{/if}
      </div>
    </div>
    <div class="flex gap-3 pb-1 text-xs">
      <button
        type="button"
        data-part="order"
        class="text-quiet underline decoration-dotted hover:text-paper disabled:opacity-40"
        disabled={index === 0}
        onclick={() => onmove(-1)}>earlier</button
      >
      <button
        type="button"
        class="text-quiet underline decoration-dotted hover:text-paper disabled:opacity-40"
        disabled={last}
        onclick={() => onmove(1)}>later</button
      >
      <button type="button" class="text-quiet underline decoration-dotted hover:text-paper" onclick={onduplicate}
        >duplicate</button
      >
      <button type="button" class="ml-auto text-quiet underline decoration-dotted hover:text-paper" onclick={onremove}
        >remove {dial.name}</button
      >
    </div>
  {/if}
</section>
