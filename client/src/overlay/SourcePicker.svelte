<!--
  The one list of sources for a row: searchable, grouped, each with its unit and what the particles have of it; what
  cannot drive the row says why. Enter drives the row with it, Shift Enter takes it as the row's base.
-->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import { onDestroy, onMount, tick } from 'svelte'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import { adds, baseFrom, drive, liveInput, responsePath, responseTitle, vary, wordsOf } from '../effect/edits'
  import { keep, kept } from '../controls/kept'
  import { Trial, type Editable } from '../effect/trial'
  import { newUid } from '../effect/path'
  import { api, Refused } from '../wire/api'
  import type { Source, SourceChoice, Variation } from '../wire/types'
  import Floating from '../controls/Floating.svelte'

  const { draft, player, catalog, selection, overlay } = useDesk()
  const open = $derived(overlay.picker!)
  const placed = $derived(catalog.rowAt(draft.owner, open.address))
  let choices = $state.raw<SourceChoice[] | null>(null)
  let variations = $state.raw<Variation[]>([])
  let problem = $state('')
  let text = $state('')
  let at = $state(0)
  let input = $state<HTMLInputElement>()
  const KEPT = 'kagero.sources'
  const MOST = 5
  let recents = $state.raw(kept<string[]>(KEPT, []))
  /** What was chosen last stands first the next time. */
  function remember(key: string): string[] {
    const next = [key, ...recents.filter((each) => each !== key)].slice(0, MOST)
    keep(KEPT, next)
    return next
  }
  const WORDS: Record<string, string> = {
    recent: 'recently used',
    formula: 'formula',
    dials: 'dials',
    props: 'props',
    time: 'time',
    place: 'place',
    motion: 'motion',
    look: 'look',
    birth: 'birth',
    draws: 'draws, random per particle',
    own: 'own attributes',
    rows: 'other rows',
  }

  type Item = {
    id: string
    label: string
    group: string
    unit: string
    help: string
    words?: string
    refusal: string
    live: string
    /** Of a source: which kind, for its card. */
    kind?: string
    choice?: SourceChoice
    bins?: number[]
    take: () => void
    base?: () => void
  }
  const items = $derived.by((): Item[] => {
    if (!placed || !choices) return []
    const list: Item[] = []
    const varyBy = (variation: Variation) => {
      const { response, draw } = vary(draft, placed, variation)
      selection.fresh = draw
      if (response) selection.select(response)
    }
    const noDraw =
      placed.spec.stage === 'emitter'
        ? `${placed.label} belongs to the whole emitter; a draw exists only on a particle.`
        : ''
    if (!open.replaces) {
      const fresh = { group: 'vary', unit: '', refusal: noDraw, live: '' }
      for (const [i, variation] of variations.entries()) {
        const [low, high] = variation.output
        list.push({
          ...fresh,
          id: i ? `vary-${variation.kind}` : 'vary',
          label: i ? `Vary: ${variation.label}` : 'Vary per particle',
          help: i ? variation.help : 'A new draw, and a response from it ready to adjust.',
          live: i ? '' : `± ${Math.round(50 * (high - low))} %`,
          take: () => varyBy(variation),
        })
      }
    }
    const formulaLabel =
      open.replaces || placed.host
        ? 'Write a formula'
        : adds(placed)
          ? 'Write a formula to add'
          : 'Write a formula as a factor'
    for (const choice of choices) {
      const live = choice.clip ?? choice.now
      const range = live
        ? `${shown(live[0], choice.unit, false)} – ${withUnit(live[2], choice.unit)}`
        : symbolOf(choice.unit)
      const whole = choice.whole ? 'only as the base' : ''
      list.push({
        id: choice.key,
        label: choice.key === 'formula' ? formulaLabel : choice.label,
        group: choice.group,
        unit: symbolOf(choice.unit),
        help: choice.help,
        words: choice.words,
        kind: String(choice.source.kind),
        choice: choice.whole || choice.key === 'formula' ? undefined : choice,
        bins: choice.bins,
        refusal: choice.refusal || (open.replaces && choice.whole ? 'A response reads one number.' : ''),
        live: choice.key === 'formula' ? 'anything' : whole || range,
        take: () => (choice.whole ? baseFrom(draft, catalog, placed, choice) : take(choice)),
        base: open.replaces ? undefined : () => takeBase(choice),
      })
      if (choice.key === 'formula' && !choice.whole && !choice.refusal && !open.replaces && !placed.host)
        list.push({
          ...list.at(-1)!,
          id: 'formula-base',
          label: 'Write a formula as the base',
          help: `${placed.label} is what the formula gives; responses act on that.`,
          live: 'anything',
          take: () => takeBase(choice),
          base: undefined,
        })
    }
    return list
  })
  const found = $derived.by(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean)
    const match = items.filter((i) =>
      words.every((w) => `${i.label} ${i.group} ${i.words ?? ''} ${i.help}`.toLowerCase().includes(w)),
    )
    // what it is called counts before everyday words for it, and these before what it says
    const query = text.toLowerCase().trim()
    const rank = (i: Item) =>
      i.label.toLowerCase().startsWith(query)
        ? 0
        : i.label.toLowerCase().includes(query)
          ? 1
          : i.words?.includes(query)
            ? 2
            : 3
    if (words.length) return match.sort((a, b) => rank(a) - rank(b) || Number(!!a.refusal) - Number(!!b.refusal))
    const recent = recents.flatMap((key) => items.filter((i) => i.id === key && !i.refusal))
    return [...recent.map((i) => ({ ...i, id: `recent-${i.id}`, group: 'recent' })), ...match]
  })
  const chosen = $derived(found[Math.min(at, found.length - 1)])

  /** What the stage would show with the chosen source, after a moment's rest on it. */
  const REST_MS = 280
  $effect(() => {
    const one = pointed ? chosen : undefined
    if (!one?.choice || one.refusal || !placed) return void (selection.preview = null)
    const waiting = setTimeout(() => {
      const trial = new Trial(draft)
      if (open.replaces) replaceIn(trial, one.choice!)
      else drive(trial, catalog, placed!, one.choice!)
      selection.preview = trial.document
    }, REST_MS)
    return () => clearTimeout(waiting)
  })
  onDestroy(() => (selection.preview = null))
  /** Whether somebody pointed at a source, or walked to one: the list alone previews nothing. */
  let pointed = $state(false)

  onMount(async () => {
    input?.focus()
    try {
      const [document, uid] = [draft.plain(), draft.owner.uid]
      const [listed, varied] = await Promise.all([
        api.sources(document, uid, player.frame, open.address),
        open.replaces ? [] : api.variations(document, uid, open.address),
      ])
      ;[variations, choices] = [varied, listed]
    } catch (error) {
      problem = error instanceof Refused ? error.message : 'The server does not answer. Try again in a moment.'
    }
  })

  function takeBase(choice: SourceChoice) {
    baseFrom(draft, catalog, placed!, choice)
    if (choice.key === 'formula') selection.selectBase(placed!.address)
  }
  function take(choice: SourceChoice) {
    selection.preview = null
    if (!open.replaces) return selection.select(drive(draft, catalog, placed!, choice))
    replaceIn(draft, choice)
  }
  function replaceIn(effect: Editable, choice: SourceChoice) {
    const index = placed!.row.responses!.findIndex((r) => r.uid === open.replaces)
    const response = placed!.row.responses![index]
    const fresh = choice.key === 'formula' ? { text: response.kind === 'ratio' ? '1' : 'life' } : {}
    const source = ('uid' in choice.source
      ? { ...choice.source, ...fresh, uid: newUid() }
      : choice.source) as unknown as Source
    const changed = {
      ...response,
      source,
      read: choice.read,
      ...(response.kind === 'ratio' ? { fitted: '' } : liveInput(choice, catalog.fittedTo(draft.owner))),
    }
    catalog.chose(response.uid, wordsOf(choice))
    effect.edit(
      `Read ${responseTitle(catalog, draft.owner, placed!, response)} from ${choice.label}`,
      effect.inEmitter(responsePath(placed!, index)),
      changed,
    )
  }
  function pick(item: Item | undefined, asBase = false) {
    const act = asBase ? item?.base : item?.take
    if (!item || item.refusal || !act) return
    recents = remember(item.id.replace(/^recent-/, ''))
    act()
    overlay.close()
  }
  function keys(event: KeyboardEvent) {
    if (/^(Arrow|Page)/.test(event.key)) pointed = true
    if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1)
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0)
    else if (event.key === 'PageDown') at = Math.min(at + 10, found.length - 1)
    else if (event.key === 'PageUp') at = Math.max(at - 10, 0)
    else if (event.key === 'Enter') pick(chosen, event.shiftKey)
    else return
    event.preventDefault()
    event.stopPropagation()
    void tick().then(() => document.getElementById(`source-${at}`)?.scrollIntoView({ block: 'nearest' }))
  }
</script>

<Floating
  anchor={open.anchor}
  width={400}
  tall={430}
  label="What drives {placed?.label ?? ''}"
  onclose={() => overlay.close()}
>
  <div class="border-b border-line p-2">
    <input
      bind:this={input}
      bind:value={text}
      oninput={() => (at = 0)}
      onkeydown={keys}
      type="text"
      role="combobox"
      aria-expanded="true"
      aria-controls="source-options"
      aria-activedescendant="source-{at}"
      aria-label="Search sources for {placed?.label ?? ''}"
      placeholder="{open.replaces ? 'Read' : 'Drive'} {placed?.label.toLowerCase() ?? ''} from…"
      spellcheck="false"
      autocomplete="off"
      class="h-7 w-full rounded border border-line bg-ink px-2 py-0 text-[13px] text-paper focus:border-teal focus:ring-0"
    />
  </div>
  <div
    id="source-options"
    role="listbox"
    aria-label="Sources"
    tabindex="-1"
    class="min-h-0 flex-1 overflow-y-auto pb-1"
  >
    {#if problem}
      <p role="alert" class="px-3 py-2 text-amber">{problem}</p>
    {:else if !choices}
      <p class="px-3 py-2 text-quiet">Looking what the particles have…</p>
    {/if}
    {#each found as item, i (item.id)}
      {#if i === 0 || found[i - 1].group !== item.group}<div class="px-3 pt-1.5 pb-0.5 text-[11px] text-quiet">
          {WORDS[item.group] ?? item.group}
        </div>{/if}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        id="source-{i}"
        role="option"
        aria-selected={item === chosen}
        aria-disabled={!!item.refusal}
        tabindex="-1"
        onclick={() => pick(item)}
        onpointermove={() => {
          at = i
          pointed = true
        }}
        data-source={item.id}
        title={item.refusal || item.help}
        class="flex items-baseline justify-between gap-3 px-3 py-[3px] text-[13px] {item.refusal
          ? 'text-quiet'
          : 'cursor-pointer'} {item === chosen ? 'bg-raised' : ''}"
      >
        <span class={item.refusal ? 'opacity-60' : ''}>{item.label}</span>
        <span class="flex items-baseline gap-2">
          {#if item.bins?.length && !item.refusal}
            {@const most = Math.max(...item.bins)}
            <svg width="46" height="13" class="self-center" aria-hidden="true">
              {#each item.bins as n, b}<rect
                  x={(b * 46) / item.bins.length}
                  y={13 - (n / most) * 13}
                  width={46 / item.bins.length - 0.5}
                  height={(n / most) * 13}
                  fill="var(--color-teal)"
                  opacity="0.7"
                />{/each}
            </svg>
          {/if}
          <span class="mono min-w-[86px] text-right text-[11px] whitespace-nowrap text-quiet"
            >{item.refusal ? 'not here' : item.live}</span
          >
        </span>
      </div>
    {/each}
    {#if choices && !found.length}<p class="px-3 py-2 text-quiet">Nothing by that name.</p>{/if}
  </div>
  <div class="min-h-[50px] shrink-0 border-t border-line px-3 py-1.5 text-xs text-quiet" aria-live="polite">
    {#if chosen}
      {#if chosen.refusal}<span class="text-amber">{chosen.refusal}</span>{:else}{chosen.help}{/if}
      {#if chosen.kind}
        <button
          type="button"
          class="ml-1 underline decoration-dotted hover:text-paper"
          title="A moving picture of it, and examples to try"
          onclick={() => overlay.openCardAt(open.anchor, `source:${chosen!.kind}`)}>Show me</button
        >
      {/if}
      {#if chosen.base && !chosen.refusal}
        <button
          type="button"
          class="ml-1 underline decoration-dotted hover:text-paper"
          title="Shift Enter"
          onclick={() => pick(chosen, true)}>Take it as the base</button
        >
      {/if}
    {/if}
  </div>
</Floating>
