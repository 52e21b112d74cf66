<!-- The chosen response: what it reads, how, and what it does with it. -->
<script lang="ts">
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Trash from '@lucide/svelte/icons/trash-2'
  import Action from '../controls/Action.svelte'
  import Choice from '../controls/Choice.svelte'
  import { curvePath, flipped } from '../controls/curve'
  import NumberField from '../controls/NumberField.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import Segments from '../controls/Segments.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import { useDesk } from '../effect/context'
  import { removeResponse, responsePath, responseTitle, toggleMute } from '../effect/edits'
  import type { Key, Source, Stop } from '../wire/types'
  import CurveEditor from './CurveEditor.svelte'
  import GradientEditor from './GradientEditor.svelte'

  const { draft, player, catalog, selection } = useDesk()
  const found = $derived(selection.found)
  const placed = $derived(found?.placed)
  const response = $derived(found?.response)
  const path = $derived(found ? draft.inEmitter(responsePath(found.placed, found.index)) : [])
  const spec = $derived(placed?.spec)
  const source = $derived(response ? catalog.source(response.source.kind) : undefined)
  const title = $derived(found ? responseTitle(catalog, draft.emitter, found.placed, found.response) : '')
  const count = $derived(placed?.row.responses?.length ?? 0)
  const ORDER = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth']
  const COUNT = ['', 'the only one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight']
  const where = $derived(!found ? '' : count === 1 ? 'alone in this row' : `${ORDER[found.index] ?? `number ${found.index + 1}`} of ${COUNT[count] ?? count} in this row`)

  const uid = $derived(draft.emitter.uid)
  const atFrame = $derived(response ? player.measure(uid)?.responses[response.uid] : undefined)
  const overClip = $derived(response ? player.profile(uid)?.responses[response.uid] : undefined)
  const distribution = $derived(selection.over === 'clip' ? overClip : atFrame)
  const outside = $derived(distribution ? distribution.below + distribution.above : 0)
  const looked = $derived(selection.over === 'clip' ? 'over the whole clip' : `${player.measure(uid)?.count ?? 0} particles now`)

  // what the curve's top and bottom mean: a factor when it multiplies, else the row's own unit
  const PLAIN = { symbol: '', scale: 1, digits: 2 }
  const outUnit = $derived(response?.operation === 'multiply' || response?.operation === undefined || !spec ? PLAIN : spec.unit)
  const sources = $derived.by(() => {
    if (!spec) return []
    const refuses = spec.refuses as Record<string, string>
    const plain = catalog.data.sources.filter((s) => s.kind !== 'draw').map((s) => ({ value: s.kind, name: s.label, disabled: !!refuses[s.kind] }))
    const draws = (draft.emitter.draws ?? []).map((d) => ({ value: `draw:${d.uid}`, name: d.name, disabled: !!refuses.draw }))
    return [...plain, ...draws]
  })
  const sourceValue = $derived(response ? (response.source.kind === 'draw' ? `draw:${response.source.draw}` : response.source.kind) : '')
  const key = $derived(response?.kind === 'curve' ? response.curve.keys[Math.min(selection.key, response.curve.keys.length - 1)] : undefined)
  const stop = $derived(response?.kind === 'gradient' ? response.gradient.stops[Math.min(selection.key, response.gradient.stops.length - 1)] : undefined)

  const set = (name: string, value: unknown, label: string) => draft.edit(label, [...path, name], value)
  const setKeys = (keys: Key[], label: string) => draft.edit(`${label}, ${title}`, [...path, 'curve', 'keys'], keys)
  const setStops = (stops: Stop[], label: string) => draft.edit(`${label}, ${title}`, [...path, 'gradient', 'stops'], stops)

  function pickSource(value: string) {
    const chosen: Source = value.startsWith('draw:') ? { kind: 'draw', draw: value.slice(5) } : ({ kind: value } as Source)
    const facts = catalog.source(chosen.kind)
    draft.edit(`Read ${catalog.sourceName(draft.emitter, chosen)}`, path, { ...response, source: chosen, input: [...facts.default_input], read: !facts.changes && spec?.stage === 'live' ? 'once' : response!.read })
  }
  function matchData() {
    const data = distribution ?? atFrame ?? overClip
    if (!data) return
    const [low, high] = response!.input[0] <= response!.input[1] ? [data.low, data.high] : [data.high, data.low]
    set('input', [low, high], `Match ${title} to its data`)
  }
  function setEnd(list: 'input' | 'output', i: number, value: number, dragging: boolean) {
    if (dragging) draft.drag([...path, list, i], value)
    else draft.edit(`Change ${list === 'input' ? 'from' : 'to'} of ${title}`, [...path, list, i], value)
  }
</script>

<section class="grid h-full min-h-0 grid-cols-[220px_minmax(0,1fr)_326px] bg-raised" aria-label="Response" data-part="response">
  {#if response && spec && source && placed && found}
    <div class="flex min-h-0 flex-col gap-[5px] px-4 py-2">
      <div>
        <h2 class="text-[14px] leading-[17px] font-bold">{title}</h2>
        <div class="flex items-center justify-between text-xs text-quiet">{where}
        <span class="flex">
          <button type="button" class="rounded p-0.5 hover:text-paper {response.muted ? 'text-amber' : 'text-quiet'}" aria-pressed={response.muted} aria-label="Mute {title}" title={response.muted ? 'Muted: click to let it work again (M)' : 'Mute (M)'} onclick={() => toggleMute(draft, catalog, placed, found.index)}><EyeOff size={15} /></button>
          <button type="button" class="rounded p-0.5 text-quiet hover:text-paper" aria-label="Remove {title}" title="Remove (Delete)" onclick={() => removeResponse(draft, catalog, placed, found.index)}><Trash size={15} /></button>
        </span></div>
      </div>
      <div class="flex items-center justify-between"><span class="text-quiet">Source</span><Choice label="Source" options={sources} value={sourceValue} onpick={pickSource} class="max-w-[112px]" /></div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Operation</span>
        <Choice label="Operation" options={catalog.data.operations.map((o) => ({ value: o.kind, name: o.kind.replace('_', ' ') }))} value={response.operation ?? 'multiply'} onpick={(o) => set('operation', o, `Make ${title} ${o.replace('_', ' ')}`)} class="max-w-[112px]" />
      </div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Read</span>
        <Segments label="Read" value={response.read} onpick={(read) => set('read', read, `Read ${title} ${read}`)} options={[
          { value: 'once', label: 'once', title: 'At birth, and kept', disabled: spec.stage === 'emitter' },
          { value: 'live', label: 'live', title: 'At every step', disabled: spec.stage === 'birth' }]} />
      </div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Amount</span>
        <NumberField value={response.amount ?? 1} unit={{ symbol: '%', scale: 100, digits: 0 }} label="Amount" lowest={0} highest={1} drag={1} reset={1} ondrag={(v) => draft.drag([...path, 'amount'], v)} onset={(v) => set('amount', v, `Change amount of ${title}`)} />
      </div>
    </div>

    <div class="flex min-h-0 min-w-0 flex-col pt-2.5 pb-1.5">
      <div class="flex min-h-0 flex-1 gap-2">
        {#if response.kind === 'curve'}
          <div class="mono flex w-11 shrink-0 flex-col justify-between py-1 text-right text-[11px] text-quiet">
            <span>{shown(response.output[1], outUnit)}</span><span>{shown(response.output[0], outUnit)}</span>
          </div>
          <div class="min-w-0 flex-1">
            <CurveEditor
              keys={response.curve.keys} chosen={Math.min(selection.key, response.curve.keys.length - 1)} {distribution}
              onchoose={(i) => (selection.key = i)} ondrag={(keys) => draft.drag([...path, 'curve', 'keys'], keys)} onset={setKeys}
            />
          </div>
        {:else}
          <div class="min-w-0 flex-1 pl-2">
            <GradientEditor
              stops={response.gradient.stops} chosen={Math.min(selection.key, response.gradient.stops.length - 1)} {distribution}
              onchoose={(i) => (selection.key = i)} ondrag={(stops) => draft.drag([...path, 'gradient', 'stops'], stops)} onset={setStops}
            />
          </div>
        {/if}
      </div>
      <div class="mono flex items-center justify-between pt-1.5 text-[11px] text-quiet {response.kind === 'curve' ? 'pr-[60px] pl-[52px]' : 'pl-2'}">
        <span>{withUnit(response.input[0], source.unit)}</span>
        <span class="flex items-center gap-2">{catalog.sourceName(draft.emitter, response.source)}, {looked}
          <Segments label="Look at" value={selection.over} onpick={(v) => (selection.over = v)} options={[{ value: 'frame', label: 'now' }, { value: 'clip', label: 'clip', disabled: !overClip }]} />
        </span>
        <span>{withUnit(response.input[1], source.unit)}</span>
      </div>
    </div>

    <div class="flex min-h-0 flex-col gap-[7px] py-2.5 pr-4 pl-3">
      <div class="flex items-center justify-between">
        <span class="text-quiet">From</span>
        <span class="flex items-center gap-1.5">
          {#each [0, 1] as i}
            {#if i}<span class="text-quiet">to</span>{/if}
            <NumberField boxed value={response.input[i]} unit={source.unit} label="From {i ? 'high' : 'low'}" drag={Math.max(Math.abs(source.default_input[1] - source.default_input[0]), 0.1)} lowest={-1e9} highest={1e9} reset={source.default_input[i]} frameRate={player.clip.frame_rate} ondrag={(v) => setEnd('input', i, v, true)} onset={(v) => setEnd('input', i, v, false)} />
          {/each}
        </span>
      </div>
      {#if response.kind === 'curve'}
        <div class="flex items-center justify-between">
          <span class="text-quiet">To</span>
          <span class="flex items-center gap-1.5">
            {#each [0, 1] as i}
              {#if i}<span class="text-quiet">to</span>{/if}
              <NumberField boxed value={response.output[i]} unit={outUnit} label="To {i ? 'high' : 'low'}" drag={outUnit === PLAIN ? 1 : spec.drag} lowest={-1e9} highest={1e9} reset={i} ondrag={(v) => setEnd('output', i, v, true)} onset={(v) => setEnd('output', i, v, false)} />
            {/each}
          </span>
        </div>
      {/if}
      <div class="flex items-center justify-between gap-2">
        <span class={outside > 0.005 ? 'text-amber' : 'text-quiet'}>Outside: <span class="mono">{(outside * 100).toFixed(outside && outside < 0.1 ? 1 : 0)} %</span>, held</span>
        <Action small kind="line" onclick={matchData} disabled={!distribution && !atFrame && !overClip} hint="Set the range to what the particles really have">Match data</Action>
      </div>
      {#if response.kind === 'curve' && key}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">Key</span>
          <span class="flex items-center gap-2">
            <NumberField value={key.x} unit={{ symbol: '%', scale: 100, digits: 1 }} label="Key across" lowest={selection.key ? response.curve.keys[selection.key - 1].x + 0.002 : 0} highest={response.curve.keys[selection.key + 1] ? response.curve.keys[selection.key + 1].x - 0.002 : 1} drag={0.5} onset={(x) => setKeys(response.curve.keys.map((k) => (k === key ? { ...k, x } : k)), 'Move a key')} />
            <NumberField value={key.y} unit={{ symbol: '%', scale: 100, digits: 1 }} label="Key up" lowest={0} highest={1} drag={0.5} onset={(y) => setKeys(response.curve.keys.map((k) => (k === key ? { ...k, y } : k)), 'Move a key')} />
            <Segments label="Shape after the key" value={key.shape ?? 'smooth'} options={[{ value: 'linear', label: 'linear' }, { value: 'smooth', label: 'smooth' }, { value: 'hold', label: 'hold' }]} onpick={(shape) => setKeys(response.curve.keys.map((k) => (k === key ? { ...k, shape } : k)), `Make a key ${shape}`)} />
          </span>
        </div>
        {#if spec.kind === 'vector'}
          <div class="flex items-center justify-between"><span class="text-quiet">Acts on</span><Segments label="Acts on" value={response.component ?? 'all'} options={[{ value: 'all', label: 'all' }, { value: 'x', label: 'x' }, { value: 'y', label: 'y' }, { value: 'z', label: 'z' }]} onpick={(c) => set('component', c, `Let ${title} act on ${c}`)} /></div>
        {/if}
        <div class="mt-auto flex items-center gap-1">
          {#each catalog.data.presets as preset}
            <button type="button" title="Preset: {preset.name}" aria-label="Preset {preset.name}" class="h-[26px] w-[26px] shrink-0 rounded border border-line bg-ink hover:border-quiet" onclick={() => { selection.key = 0; setKeys(preset.keys as Key[], `Preset ${preset.name}`) }}>
              <svg width="24" height="24" aria-hidden="true"><path d={curvePath(preset.keys as Key[], 24, 24, 0, 1, 5)} fill="none" stroke="#ece5d8" stroke-width="1.2" /></svg>
            </button>
          {/each}
          <span class="ml-auto flex gap-1">
            <Action small kind="line" label="Flip left and right" hint="Flip left and right" class="px-1.5!" onclick={() => setKeys(flipped(response.curve.keys, 'left-right'), 'Flip left and right')}>⇄</Action>
            <Action small kind="line" label="Flip upside down" hint="Flip upside down" class="px-1.5!" onclick={() => setKeys(flipped(response.curve.keys, 'upside-down'), 'Flip upside down')}>⇅</Action>
          </span>
        </div>
      {:else if response.kind === 'gradient' && stop}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">Colour at <NumberField value={stop.x} unit={{ symbol: '%', scale: 100, digits: 1 }} label="Colour across" lowest={selection.key ? response.gradient.stops[selection.key - 1].x + 0.002 : 0} highest={response.gradient.stops[selection.key + 1] ? response.gradient.stops[selection.key + 1].x - 0.002 : 1} drag={0.5} onset={(x) => setStops(response.gradient.stops.map((s) => (s === stop ? { ...s, x } : s)), 'Move a colour')} /></span>
          <Swatch value={stop.colour} label="Colour" ondrag={(colour) => draft.drag([...path, 'gradient', 'stops', response.gradient.stops.indexOf(stop), 'colour'], colour)} onset={(colour) => draft.edit(`Change a colour, ${title}`, [...path, 'gradient', 'stops', response.gradient.stops.indexOf(stop), 'colour'], colour)} />
        </div>
        <p class="text-xs text-quiet">Double-click the gradient to add a colour. Brightness above 1 glows. Colours mix in linear light.</p>
        <div class="mt-auto flex justify-end">
          <Action small kind="line" label="Flip left and right" hint="Flip left and right" onclick={() => setStops(response.gradient.stops.map((_, i) => { const s = response.gradient.stops[response.gradient.stops.length - 1 - i]; return { ...s, x: 1 - s.x } }), 'Flip left and right')}>⇄ flip</Action>
        </div>
      {/if}
    </div>
  {:else}
    <div class="col-span-3 flex flex-col items-center justify-center gap-1 text-quiet">
      <p class="text-paper">No response chosen.</p>
      <p>Click a chip in the sheet to shape it here, or press + beside a row to drive it from something a particle has.</p>
    </div>
  {/if}
</section>
