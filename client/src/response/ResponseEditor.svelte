<!-- The chosen response: what it reads, how, and what it does with it. -->
<script lang="ts">
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Trash from '@lucide/svelte/icons/trash-2'
  import Action from '../controls/Action.svelte'
  import Choice from '../controls/Choice.svelte'
  import { flipped } from '../controls/curve'
  import NumberField from '../controls/NumberField.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import Segments from '../controls/Segments.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import { isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import ArrowUpRight from '@lucide/svelte/icons/arrow-up-right'
  import CardButton from '../overlay/CardButton.svelte'
  import { fitted, outgrown } from '../effect/fitted'
  import { leadsOf } from '../effect/leads'
  import { formulaName, removeResponse, responsePath, responseTitle, toggleMute } from '../effect/edits'

  import type { CurveResponse, FormulaSource, GradientResponse, Key, RatioResponse, Stop } from '../wire/types'
  import BaseFormula from '../formula/BaseFormula.svelte'
  import CurveEditor from './CurveEditor.svelte'
  import GradientEditor from './GradientEditor.svelte'
  import PresetShelf from './PresetShelf.svelte'
  import RatioPlot from './RatioPlot.svelte'
  import SettingField from './SettingField.svelte'

  const { draft, player, catalog, selection, overlay } = useDesk()
  const found = $derived(selection.found)
  const placed = $derived(found?.placed)
  const response = $derived(found?.response)
  const path = $derived(found ? draft.inEmitter(responsePath(found.placed, found.index)) : [])
  const spec = $derived(placed?.spec)
  const unit = $derived(response ? catalog.wordsOf(draft.owner, response).unit : { symbol: '', scale: 1, digits: 2 })
  const sourceSpec = $derived(response ? catalog.source(response.source.kind) : undefined)
  const title = $derived(found ? responseTitle(catalog, draft.owner, found.placed, found.response) : '')
  const count = $derived(placed?.row.responses?.length ?? 0)
  const ORDER = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth']
  const COUNT = ['', 'the only one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight']
  const where = $derived(
    !found
      ? ''
      : count === 1
        ? 'alone in this row'
        : `${ORDER[found.index] ?? `number ${found.index + 1}`} of ${COUNT[count] ?? count} in this row`,
  )
  /** The response whose setting this one drives. */
  const hostUid = $derived(placed?.host ? /^responses\.([^.]+)\./.exec(placed.address)?.[1] : undefined)
  const settings = $derived(found ? catalog.settingsOf(draft.owner, found.placed) : [])
  const setting = (name: string) => settings.find((s) => s.address === `responses.${response!.uid}.${name}`)!
  const sharedNoises = $derived(
    [
      ...new Set(
        [...JSON.stringify(draft.document).matchAll(/"shared":"([a-z_0-9]+)"|noises\.([a-z_0-9]+)/g)].map(
          (m) => m[1] ?? m[2],
        ),
      ),
    ].sort(),
  )
  const ofSource = $derived(
    response && 'uid' in response.source
      ? settings.filter((s) => s.address.startsWith(`sources.${response.source.uid}.`))
      : [],
  )

  const uid = $derived(draft.owner.uid)
  const atFrame = $derived(response ? player.measure(uid)?.responses[response.uid] : undefined)
  const overClip = $derived(response ? player.profile(uid)?.responses[response.uid] : undefined)
  const distribution = $derived(selection.over === 'clip' ? overClip : atFrame)
  const outside = $derived(distribution ? distribution.below + distribution.above : 0)
  const quiet = $derived(player.clipComplete ? (overClip?.quiet ?? '') : '')
  const looked = $derived(
    selection.over === 'clip' ? 'over the whole clip' : `${player.measure(uid)?.count ?? 0} particles now`,
  )
  const range = $derived.by((): [number, number] => {
    if (!response) return [0, 1]
    if (response.kind !== 'ratio') return response.input
    const reference = typeof response.reference === 'number' ? response.reference : 1
    return [0, 2 * (reference || 1)]
  })
  const one = $derived(response ? player.one(uid) : undefined)
  const isOutgrown = $derived(!!response && outgrown(response, catalog.fittedTo(draft.owner)))
  const mark = $derived.by(() => {
    const value = response && one?.sources[response.uid]
    return value === undefined || range[1] === range[0]
      ? null
      : Math.min(Math.max((value - range[0]) / (range[1] - range[0]), 0), 1)
  })
  const resultMark = $derived.by(() => {
    const value = response && one?.results[response.uid]
    const reach = distribution?.reach
    return value === undefined || !reach || reach[0] === reach[1]
      ? null
      : Math.min(Math.max((value - reach[0]) / (reach[1] - reach[0]), 0), 1)
  })

  const PLAIN = { symbol: '', scale: 1, digits: 2 }
  const outUnit = $derived(
    response?.operation === 'multiply' || response?.operation === undefined || !spec ? PLAIN : spec.unit,
  )
  /** What the ends of the answer come to in the row's unit, where they are factors of a number. */
  const answers = $derived.by(() => {
    if (response?.kind !== 'curve' || (response.operation ?? 'multiply') !== 'multiply' || spec?.kind !== 'number')
      return null
    const base = placed?.row.base
    const [low, high] = response.output
    if (typeof base !== 'number' || typeof low !== 'number' || typeof high !== 'number') return null
    return { base, of: [base * low, base * high] }
  })
  const key = $derived(
    response?.kind === 'curve'
      ? response.curve.keys[Math.min(selection.key, response.curve.keys.length - 1)]
      : undefined,
  )
  const stop = $derived(
    response?.kind === 'gradient'
      ? response.gradient.stops[Math.min(selection.key, response.gradient.stops.length - 1)]
      : undefined,
  )
  const leads = $derived(response ? leadsOf(response.source, { draft, catalog, selection }) : [])
  const axis = $derived(
    response && 'axis' in response.source && response.source.part === 'along' ? response.source.axis! : null,
  )

  const set = (name: string, value: unknown, label: string) => draft.edit(label, [...path, name], value)
  const share = (name: string) =>
    set(
      'source',
      { ...response!.source, shared: name && formulaName(name).slice(0, 40) },
      name ? `Share the noise of ${title} as ${name}` : `Give ${title} noise of its own`,
    )
  const setKeys = (keys: Key[], label: string) => draft.edit(`${label}, ${title}`, [...path, 'curve', 'keys'], keys)
  const setStops = (stops: Stop[], label: string) =>
    draft.edit(`${label}, ${title}`, [...path, 'gradient', 'stops'], stops)

  function matchData() {
    const data = distribution ?? atFrame ?? overClip
    if (!data || !response) return
    const words = response.kind === 'ratio' ? `Make ${title} relative to the mean` : `Match ${title} to its data`
    draft.edit(words, path, fitted(response, data, catalog.fittedTo(draft.owner)))
  }
  function setEnd(i: number, value: number, dragging: boolean) {
    if (dragging) draft.drag([...path, 'input', i], value)
    else draft.edit(`Change from of ${title}`, [...path, 'input', i], value)
  }
  const KINDS = $derived(spec?.kind === 'colour' ? ['gradient', 'curve', 'ratio'] : ['curve', 'ratio'])
  const KIND_WORDS: Record<string, string> = { curve: 'curve', ratio: 'proportion', gradient: 'gradient' }
  /** Make it another kind of response; what both kinds have is kept. */
  function become(kind: string) {
    const r = response!
    const common = { uid: r.uid, source: r.source, read: r.read, amount: r.amount, muted: r.muted }
    const mean = (overClip ?? atFrame)?.mean ?? 1
    const input = r.kind === 'ratio' ? [(overClip ?? atFrame)?.low ?? 0, (overClip ?? atFrame)?.high ?? 1] : r.input
    const straight = [
      { x: 0, y: 0, shape: 'linear' },
      { x: 1, y: 1, shape: 'linear' },
    ]
    const created =
      kind === 'ratio'
        ? {
            ...common,
            kind,
            operation: 'multiply',
            reference: mean || 1,
            power: 1,
            component: 'component' in r ? r.component : 'all',
          }
        : kind === 'curve'
          ? {
              ...common,
              kind,
              operation: 'multiply',
              input,
              curve: { keys: straight },
              output: [0, 1],
              component: 'component' in r ? r.component : 'all',
            }
          : {
              ...common,
              kind,
              operation: 'set',
              input,
              gradient: {
                stops: [
                  { x: 0, colour: [0, 0, 0] },
                  { x: 1, colour: [1, 1, 1] },
                ],
              },
            }
    draft.edit(
      `Make ${title} a ${KIND_WORDS[kind]}`,
      path,
      created as unknown as CurveResponse | GradientResponse | RatioResponse,
    )
  }
  function focusKey(name: 'x' | 'y', value: number) {
    setKeys(
      (response as CurveResponse).curve.keys.map((k) => (k === key ? { ...k, [name]: value } : k)),
      'Move a key',
    )
  }
  /** A response through a curve shows its formula's text or what becomes of it; one that takes it as it is, only the text. */
  let plot = $state(false)
  const formula = $derived(response?.source.kind === 'formula' ? (response.source as FormulaSource) : null)
  const showsText = $derived(response?.kind === 'ratio' || !plot)
  const written = $derived(selection.written)
  const writtenSource = $derived(
    written && isSourced(written.row.base) && written.row.base.source.kind === 'formula'
      ? (written.row.base.source as FormulaSource)
      : null,
  )
  const writtenRead = $derived(written && isSourced(written.row.base) ? written.row.base.read! : 'live')
  const settingOf = (name: string): PlacedRow => setting(name)
</script>

<section
  class="will-change-transform grid h-full min-h-[196px] grid-cols-[212px_minmax(0,1fr)_352px] bg-raised max-[800px]:h-auto max-[800px]:grid-cols-[212px_minmax(0,1fr)] max-[800px]:grid-rows-[220px_auto]"
  aria-label="Response"
  data-part="response"
>
  {#if written && writtenSource}
    {#key writtenSource.uid}<BaseFormula placed={written} source={writtenSource} read={writtenRead} />{/key}
  {:else if response && spec && sourceSpec && placed && found}
    <div class="flex min-h-0 flex-col gap-[4px] py-2 pr-3 pl-4">
      <div>
        <h2 class="truncate text-[14px] leading-[17px] font-bold" {title}>{title}</h2>
        <div class="flex items-center justify-between text-xs text-quiet">
          {#if hostUid}<button
              type="button"
              class="underline decoration-dotted hover:text-paper"
              onclick={() => selection.select(hostUid)}>back to the response</button
            >{:else}<span class="truncate">{where}</span>{/if}
          <span class="flex">
            <button
              type="button"
              class="rounded p-0.5 hover:text-paper {response.muted ? 'text-amber' : 'text-quiet'}"
              aria-pressed={response.muted}
              aria-label="Mute {title}"
              title={response.muted ? 'Muted: click to let it work again (M)' : 'Mute (M)'}
              onclick={() => toggleMute(draft, catalog, placed, found.index)}><EyeOff size={15} /></button
            >
            <button
              type="button"
              class="rounded p-0.5 text-quiet hover:text-paper"
              aria-label="Remove {title}"
              title="Remove (Delete)"
              onclick={() => removeResponse(draft, catalog, placed, found.index)}><Trash size={15} /></button
            >
          </span>
        </div>
      </div>
      <div class="flex items-center justify-between gap-2">
        {#if formula && response.kind !== 'ratio'}
          <Segments
            label="What is shown"
            value={plot ? 'curve' : 'text'}
            onpick={(v) => (plot = v === 'curve')}
            options={[
              { value: 'text', label: 'text', title: 'The formula' },
              {
                value: 'curve',
                label: response.kind === 'gradient' ? 'colours' : 'curve',
                title: 'What becomes of it',
              },
            ]}
          />
        {:else}<span class="text-quiet">Source</span>{/if}
        <button
          type="button"
          aria-haspopup="dialog"
          aria-label="Source: {catalog.nameOf(draft.owner, response)}"
          class="h-[26px] max-w-[130px] truncate rounded-md border border-line bg-ink px-2 hover:border-quiet"
          onclick={(e) => overlay.openPicker(e.currentTarget, placed, response.uid)}
          >{catalog.nameOf(draft.owner, response)}</button
        >{#if leads.length}<button
            type="button"
            class="-ml-1 rounded p-0.5 text-quiet hover:text-paper"
            aria-label="Go to {leads[0].label}"
            title="Go to {leads.map((each) => each.label).join(', ')}"
            onclick={(e) =>
              leads.length === 1
                ? leads[0].go()
                : overlay.openMenu(
                    e.currentTarget,
                    'Go to',
                    leads.map((each) => ({ label: each.label, act: each.go })),
                  )}><ArrowUpRight size={14} /></button
          >{/if}
      </div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Read</span>
        <Segments
          label="Read"
          value={response.read}
          onpick={(read) => set('read', read, `Read ${title} ${read}`)}
          options={[
            { value: 'once', label: 'once', title: 'At birth, and kept', disabled: spec.stage === 'emitter' },
            { value: 'live', label: 'live', title: 'At every step', disabled: spec.stage === 'birth' },
          ]}
        />
      </div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Through</span><Choice
          label="Kind of response"
          options={KINDS.map((k) => ({ value: k, name: KIND_WORDS[k] }))}
          value={response.kind!}
          onpick={become}
          class="max-w-[112px]"
        />
      </div>
      <div class="flex items-center justify-between">
        <span class="flex items-center gap-1"
          ><span class="text-quiet">Operation</span><CardButton
            of="operation:{response.operation ?? 'multiply'}"
            name="this operation"
          /></span
        >
        <Choice
          label="Operation"
          options={catalog.data.operations.map((o) => ({
            value: o.kind,
            name: `${o.sign} ${o.kind.replace('_', ' ')}`,
          }))}
          value={response.operation ?? 'multiply'}
          onpick={(o) => set('operation', o, `Make ${title} ${o.replace('_', ' ')}`)}
          class="max-w-[112px]"
        />
      </div>
      <div class="flex items-center justify-between">
        <span class="text-quiet">Amount</span><SettingField placed={settingOf('amount')} {title} />
      </div>
    </div>

    <div class="flex min-h-0 min-w-0 flex-col pt-2.5 pb-1.5">
      <div class="flex min-h-0 flex-1 gap-2">
        {#if formula && showsText}
          {#key formula.uid}<div class="min-w-0 flex-1 pl-2">
              {#await import('../formula/FormulaEditor.svelte') then { default: FormulaEditor }}<FormulaEditor
                  {placed}
                  path={[...path, 'source']}
                  source={formula}
                  read={response.read}
                  {title}
                  response
                  multiplies={(response.operation ?? 'multiply') === 'multiply'}
                />{/await}
            </div>{/key}
        {:else if response.kind === 'curve'}
          <div
            class="mono flex min-w-11 shrink-0 flex-col justify-between py-1 text-right text-[11px] whitespace-nowrap text-quiet"
          >
            {#each [1, 0] as end}<span class={end ? '' : 'mt-auto'}
                >{typeof response.output[end] === 'number'
                  ? shown(response.output[end] as number, outUnit)
                  : 'driven'}{#if answers}<span
                    class="block text-[10px] leading-[11px] text-paper"
                    title="What comes of it, where the base is {withUnit(answers.base, spec.unit)}"
                    >{withUnit(answers.of[end], spec.unit)}</span
                  >{/if}</span
              >{/each}
          </div>
          <div class="min-w-0 flex-1">
            <CurveEditor
              keys={response.curve.keys}
              chosen={Math.min(selection.key, response.curve.keys.length - 1)}
              {distribution}
              {mark}
              result={resultMark}
              onchoose={(i) => (selection.key = i)}
              ondrag={(keys) => draft.drag([...path, 'curve', 'keys'], keys)}
              onset={setKeys}
            />
          </div>
        {:else if response.kind === 'gradient'}
          <div class="min-w-0 flex-1 pl-2">
            <GradientEditor
              stops={response.gradient.stops}
              chosen={Math.min(selection.key, response.gradient.stops.length - 1)}
              {distribution}
              {mark}
              onchoose={(i) => (selection.key = i)}
              ondrag={(stops) => draft.drag([...path, 'gradient', 'stops'], stops)}
              onset={setStops}
            />
          </div>
        {:else}
          <div class="mono flex w-11 shrink-0 flex-col justify-between py-1 text-right text-[11px] text-quiet">
            <span>×2</span><span>×1</span><span>×0</span>
          </div>
          <div class="min-w-0 flex-1">
            <RatioPlot power={typeof response.power === 'number' ? response.power : 1} {distribution} {mark} />
          </div>
        {/if}
      </div>
      {#if !(formula && showsText)}<div
          class="mono flex items-center justify-between pt-1.5 text-[11px] text-quiet {response.kind === 'gradient'
            ? 'pl-2'
            : 'pr-[60px] pl-[52px]'}"
        >
          <span class="whitespace-nowrap">{withUnit(range[0], unit)}</span>
          <span class="flex min-w-0 items-center gap-2"
            ><span class="truncate max-[1000px]:hidden">{catalog.nameOf(draft.owner, response)}, {looked}</span>
            <Segments
              label="Look at"
              value={selection.over}
              onpick={(v) => (selection.over = v)}
              options={[
                { value: 'frame', label: 'now' },
                { value: 'clip', label: 'clip', disabled: !overClip },
              ]}
            />
          </span>
          <span class="whitespace-nowrap">{withUnit(range[1], unit)}</span>
        </div>{/if}
    </div>

    <div class="flex min-h-0 flex-col gap-[5px] overflow-y-auto py-2 pr-4 pl-3 max-[800px]:col-span-2">
      {#if response.kind !== 'ratio'}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">From</span>
          <span class="flex items-center gap-1.5">
            {#each [0, 1] as i}
              {#if i}<span class="text-quiet">to</span>{/if}
              <NumberField
                boxed
                value={response.input[i]}
                {unit}
                label="From {i ? 'high' : 'low'}"
                drag={Math.max(Math.abs(response.input[1] - response.input[0]), 1e-3)}
                lowest={-1e9}
                highest={1e9}
                reset={sourceSpec.default_input[i]}
                ondrag={(v) => setEnd(i, v, true)}
                onset={(v) => setEnd(i, v, false)}
              />
            {/each}
            <Action
              small
              kind="line"
              class={isOutgrown ? 'border-amber! text-amber!' : ''}
              onclick={matchData}
              disabled={!distribution && !atFrame && !overClip}
              hint={isOutgrown
                ? 'What the range was fitted to has changed since: set it to what the particles have now'
                : 'Set the range to what the particles really have'}
              >{isOutgrown ? 'Fit again' : 'Fit the range'}</Action
            >
          </span>
        </div>
        <div class="flex items-center justify-between gap-2">
          <span class={outside > 0.005 ? 'text-amber' : 'text-quiet'}
            >Outside: <span class="mono">{(outside * 100).toFixed(outside && outside < 0.1 ? 1 : 0)} %</span></span
          >
          <Segments
            label="Outside the range"
            value={response.beyond ?? 'hold'}
            options={catalog.data.beyond.map((b) => ({
              value: b.kind as 'hold' | 'repeat' | 'mirror',
              label: b.kind,
              title: b.help,
            }))}
            onpick={(b) => set('beyond', b, `Let ${title} ${b} outside its range`)}
          />
        </div>
      {:else}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">Relative to</span>
          <span class="flex items-center gap-1.5"
            ><SettingField boxed placed={settingOf('reference')} {title} /><Action
              small
              kind="line"
              class={isOutgrown ? 'border-amber! text-amber!' : ''}
              onclick={matchData}
              disabled={!distribution && !atFrame && !overClip}
              hint={isOutgrown
                ? 'What it was relative to has changed since: take the mean that the particles have now'
                : "The particles' mean: a typical one stays as it is"}>{isOutgrown ? 'Fit again' : 'Typical'}</Action
            ></span
          >
        </div>
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">To the power</span><SettingField boxed placed={settingOf('power')} {title} />
        </div>
        <div class="flex flex-wrap items-center gap-1">
          {#each [[1, 'in proportion'], [-1, 'inverse'], [2, 'square'], [-2, 'inverse square'], [0.5, 'root']] as [power, words]}
            <Action
              small
              kind="line"
              pressed={response.power === power}
              onclick={() => set('power', power, `Make ${title} go ${words}`)}>{words}</Action
            >
          {/each}
        </div>
      {/if}
      {#if response.kind === 'curve'}
        <div class="flex items-center justify-between">
          <span class="text-quiet">To</span>
          <span class="flex items-center gap-1.5"
            ><SettingField boxed placed={settingOf('low')} name="To low" {title} /><span class="text-quiet">to</span
            ><SettingField boxed placed={settingOf('high')} name="To high" {title} /></span
          >
        </div>
      {/if}
      {#if response.kind !== 'ratio'}
        <div class="flex items-center justify-between gap-3">
          <span class="flex items-center gap-1.5"
            ><span class="text-quiet" title={settingOf('shift').spec.help}>Shift</span><SettingField
              placed={settingOf('shift')}
              {title}
            /></span
          >
          {#if response.kind === 'curve'}<span class="flex items-center gap-1.5"
              ><span class="text-quiet" title={settingOf('exponent').spec.help}>Exponent</span><SettingField
                placed={settingOf('exponent')}
                {title}
              /></span
            >{/if}
        </div>
      {/if}
      {#if response.source.kind === 'noise'}
        <div class="flex items-center justify-between gap-2">
          <span
            class="text-quiet"
            title="Noise under the same name is the same wherever it is read; without a name, each response has its own. In formulas: noises.{response
              .source.shared || 'name'}">Shared as</span
          >
          <input
            value={response.source.shared ?? ''}
            placeholder="its own"
            aria-label="Name under which this noise is shared"
            maxlength="40"
            list="shared-noises"
            class="h-6 w-28 rounded-md border border-line bg-ink px-2 py-0 text-xs text-paper placeholder:text-quiet focus:border-teal focus:ring-0"
            onchange={(e) => share(e.currentTarget.value.trim())}
          />
          <datalist id="shared-noises"
            >{#each sharedNoises as name}<option value={name}></option>{/each}</datalist
          >
        </div>
      {/if}
      {#each ofSource as row (row.address)}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">{row.label}</span><SettingField placed={row} {title} />
        </div>
      {/each}
      {#if axis}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">Along</span><span class="flex gap-2"
            >{#each [0, 1, 2] as i}<NumberField
                value={axis[i]}
                unit={PLAIN}
                label="Axis {'xyz'[i]}"
                drag={2}
                onset={(v) =>
                  draft.edit(
                    `Change the axis of ${title}`,
                    [...path, 'source', 'axis'],
                    axis.map((a: number, j: number) => (j === i ? v : a)),
                  )}
              />{/each}</span
          >
        </div>
      {/if}
      {#if spec.kind === 'vector' && response.kind !== 'gradient'}
        <div class="flex items-center justify-between">
          <span class="text-quiet">Acts on</span><Segments
            label="Acts on"
            value={response.component ?? 'all'}
            options={[
              { value: 'all', label: 'all' },
              { value: 'x', label: 'x' },
              { value: 'y', label: 'y' },
              { value: 'z', label: 'z' },
            ]}
            onpick={(c) => set('component', c, `Let ${title} act on ${c}`)}
          />
        </div>
      {/if}
      {#if response.kind === 'curve' && key}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">Key</span>
          <span class="flex items-center gap-2">
            <NumberField
              value={key.x}
              unit={{ symbol: '%', scale: 100, digits: 1 }}
              label="Key across"
              lowest={selection.key ? response.curve.keys[selection.key - 1].x + 0.002 : 0}
              highest={response.curve.keys[selection.key + 1] ? response.curve.keys[selection.key + 1].x - 0.002 : 1}
              drag={0.5}
              onset={(x) => focusKey('x', x)}
            />
            <NumberField
              value={key.y}
              unit={{ symbol: '%', scale: 100, digits: 1 }}
              label="Key up"
              lowest={-1}
              highest={2}
              drag={0.5}
              onset={(y) => focusKey('y', y)}
            />
            <Segments
              label="Shape after the key"
              value={key.shape ?? 'smooth'}
              options={[
                { value: 'linear', label: 'linear' },
                { value: 'smooth', label: 'smooth' },
                { value: 'hold', label: 'hold' },
                { value: 'free', label: 'free' },
              ]}
              onpick={(shape) =>
                setKeys(
                  (response as CurveResponse).curve.keys.map((k) => (k === key ? { ...k, shape } : k)),
                  `Make a key ${shape}`,
                )}
            />
          </span>
        </div>
      {:else if response.kind === 'gradient' && stop}
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet"
            >Colour at <NumberField
              value={stop.x}
              unit={{ symbol: '%', scale: 100, digits: 1 }}
              label="Colour across"
              lowest={selection.key ? response.gradient.stops[selection.key - 1].x + 0.002 : 0}
              highest={response.gradient.stops[selection.key + 1]
                ? response.gradient.stops[selection.key + 1].x - 0.002
                : 1}
              drag={0.5}
              onset={(x) =>
                setStops(
                  (response as GradientResponse).gradient.stops.map((s) => (s === stop ? { ...s, x } : s)),
                  'Move a colour',
                )}
            /></span
          >
          <Swatch
            value={stop.colour}
            label="Colour"
            ondrag={(colour) =>
              draft.drag(
                [...path, 'gradient', 'stops', (response as GradientResponse).gradient.stops.indexOf(stop), 'colour'],
                colour,
              )}
            onset={(colour) =>
              draft.edit(
                `Change a colour, ${title}`,
                [...path, 'gradient', 'stops', (response as GradientResponse).gradient.stops.indexOf(stop), 'colour'],
                colour,
              )}
          />
        </div>
        <div class="flex items-center justify-between gap-2">
          <span class="text-quiet">On to the next</span>
          <Segments
            label="Shape after the colour"
            value={stop.shape ?? 'linear'}
            options={[
              { value: 'linear', label: 'linear' },
              { value: 'smooth', label: 'smooth' },
              { value: 'hold', label: 'sharp', title: 'Holds this colour up to the next' },
            ]}
            onpick={(shape) =>
              setStops(
                (response as GradientResponse).gradient.stops.map((s) => (s === stop ? { ...s, shape } : s)),
                'Change how colours mix',
              )}
          />
        </div>
      {/if}
      {#if quiet}<p class="text-xs text-amber" data-part="quiet">It does nothing. {quiet}</p>{/if}
      {#if response.kind === 'curve'}
        <div class="mt-auto flex items-start gap-1">
          <PresetShelf
            kind="curve"
            data={{ keys: response.curve.keys }}
            onpick={(data, name) => {
              selection.key = 0
              setKeys(data.keys as Key[], `Preset ${name}`)
            }}
          />
          <span class="ml-auto flex gap-1">
            <Action
              small
              kind="line"
              label="Flip left and right"
              hint="Flip left and right"
              class="px-1.5!"
              onclick={() =>
                setKeys(flipped((response as CurveResponse).curve.keys, 'left-right'), 'Flip left and right')}>⇄</Action
            >
            <Action
              small
              kind="line"
              label="Flip upside down"
              hint="Flip upside down"
              class="px-1.5!"
              onclick={() =>
                setKeys(flipped((response as CurveResponse).curve.keys, 'upside-down'), 'Flip upside down')}>⇅</Action
            >
          </span>
        </div>
      {:else if response.kind === 'gradient'}
        <div class="mt-auto flex items-start gap-1">
          <PresetShelf
            kind="gradient"
            data={{ stops: response.gradient.stops }}
            onpick={(data, name) => {
              selection.key = 0
              setStops(data.stops as Stop[], `Preset ${name}`)
            }}
          />
          <span class="ml-auto"
            ><Action
              small
              kind="line"
              label="Flip left and right"
              hint="Flip left and right"
              onclick={() =>
                setStops(
                  (response as GradientResponse).gradient.stops.map((_, i, all) => {
                    const s = all[all.length - 1 - i]
                    return { ...s, x: 1 - s.x, shape: (all[all.length - 2 - i] ?? s).shape }
                  }),
                  'Flip left and right',
                )}>⇄ flip</Action
            ></span
          >
        </div>
      {/if}
    </div>
  {:else}
    <div class="col-span-3 flex flex-col items-center justify-center gap-1 text-quiet">
      <p class="text-paper">No response chosen.</p>
      <p>
        Click a chip in the sheet to shape it here, or press + beside a row to drive it from something a particle has.
      </p>
    </div>
  {/if}
</section>
