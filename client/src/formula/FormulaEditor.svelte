<!--
  A formula and what it gives: its text with completion and problems at their place; kind and unit of the result; its
  named steps and its result, at the picked particle and over all.
-->
<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { shown } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import type { Path } from '../effect/path'
  import { api } from '../wire/api'
  import type { Spread } from '../wire/packets'
  import type { FormulaName, FormulaSource } from '../wire/types'
  import { makeEditor, type Editor, type Offered } from './editor'
  import Examples from './Examples.svelte'
  import { makeable, makeNamed, numberAt, renamedIn } from './naming'
  import { Writing } from './writing.svelte'

  let {
    placed,
    path,
    source,
    read,
    title,
    response = false,
    multiplies = false,
  }: {
    placed: PlacedRow
    /** Where the formula stands in the document. */
    path: Path
    source: FormulaSource
    read: 'once' | 'live'
    title: string
    /** It drives the row through a response, instead of being its base. */
    response?: boolean
    multiplies?: boolean
  } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()

  let box: HTMLDivElement
  let editor: Editor
  let names = $state.raw<FormulaName[]>([])
  let examples = $state(false)
  const emitter = untrack(() => draft.owner.uid)
  const address = untrack(() => placed.address)
  const check = (text: string) =>
    api.checkFormula({ document: draft.plain(), emitter, address, text, read, response, multiplies })
  const writing = untrack(() => new Writing(draft, { path, title: `the formula of ${title}`, check }))

  const answer = $derived(writing.answer)
  const problem = $derived(answer?.problems[0])
  const live = $derived(player.measure(emitter)?.formulas[source.uid])
  const one = $derived(player.one(emitter)?.formulas[source.uid])
  const unitOf = (symbol: string) => ({ symbol, scale: 1, digits: 3 })
  const rows = $derived([
    ...(answer?.steps ?? []).map((s) => ({ ...s })),
    ...(answer && writing.runs ? [{ name: '', kind: answer.kind, unit: answer.unit }] : []),
  ])
  const KIND: Record<string, string> = {
    number: 'a number',
    truth: 'a condition, 1 or 0',
    vector: 'a vector',
    colour: 'a colour',
  }

  function over(spreads: Spread[] | undefined, symbol: string): string {
    if (!spreads) return ''
    const unit = unitOf(symbol)
    if (spreads.length === 3) return `mean ${spreads.map((s) => shown(s[1], unit, false)).join('  ')}`
    const [low, , high] = spreads[0]
    return low === high ? shown(low, unit, false) : `${shown(low, unit, false)} – ${shown(high, unit, false)}`
  }

  const offered = (): Offered[] => [
    ...(writing.answer?.steps ?? []).map((s): Offered => ({
      label: s.name,
      detail: s.kind,
      info: 'A step of this formula.',
      kind: 'step',
    })),
    ...names.map((n): Offered => ({
      label: n.name,
      kind: 'name',
      why: n.refused,
      info: n.help,
      detail: [n.now ? over([n.now], '') : '', n.detail].filter(Boolean).join(' '),
    })),
    ...catalog.data.functions.map((f): Offered => ({
      label: f.name,
      apply: f.call === f.name ? f.name : `${f.name}(`,
      detail: f.call.slice(f.name.length),
      info: f.help + (f.example ? ` ${f.example}` : ''),
      kind: 'function',
    })),
  ]
  function loadNames() {
    api.formulaNames({ document: draft.plain(), emitter, address, read, frame: player.frame }).then(
      (found) => {
        const late = !names.length
        names = found
        if (late && editor) editor.offer()
      },
      () => undefined,
    )
  }

  /** The number becomes a dial that has it as its value; its name stands ready to be changed. */
  function dialOf(number: { from: number; to: number; value: number }) {
    const name = makeNamed(
      draft,
      catalog,
      'dial',
      `${placed.label.replace(/[^\w ]/g, '').trim() || 'number'} dial`,
      number.value,
    )
    writing.type(writing.text.slice(0, number.from) + name + writing.text.slice(number.to))
    selection.showDials((draft.document.dials ?? []).at(-1)!.uid)
  }
  function make(kind: 'dial' | 'draw', name: string, unknown: string) {
    writing.type(renamedIn(writing.text, unknown, makeNamed(draft, catalog, kind, name)))
    if (kind === 'dial') selection.showDials((draft.document.dials ?? []).at(-1)!.uid)
  }

  onMount(() => {
    editor = makeEditor(
      box,
      writing.text,
      `Formula of ${title}`,
      offered,
      (text) => writing.type(text),
      () => void writing.settle(),
      (at, from) => {
        const number = draft.prop ? null : numberAt(writing.text, at)
        if (!number) return false
        overlay.openMenu(from, `${number.value}`, [
          { label: `Make a dial of ${number.value}`, act: () => dialOf(number) },
        ])
        return true
      },
    )
    editor.view.dom.addEventListener('focusin', loadNames)
    loadNames()
    if (source.text === '1' || (!response && !/[a-z]/.test(source.text.replace('vec3', '')))) editor.view.focus()
  })
  onDestroy(() => {
    writing.close()
    editor?.view.destroy()
  })
  $effect(() => {
    const now = answer
    if (editor) editor.show(now)
  })
  $effect(() => {
    void draft.document
    untrack(() => writing.follow())
  })
  $effect(() => {
    const { text } = writing
    if (editor) editor.set(text)
  })
</script>

<div class="grid h-full min-h-0 min-w-0 grid-cols-[minmax(0,1fr)_250px] gap-3" data-part="formula">
  <div class="flex min-h-0 min-w-0 flex-col gap-1">
    <div
      bind:this={box}
      class="min-h-0 flex-1 overflow-hidden rounded-md border {problem
        ? 'border-amber'
        : 'border-line focus-within:border-teal'}"
    ></div>
    <div class="flex min-h-[18px] items-baseline gap-2 text-xs" aria-live="polite" data-part="formula-words">
      {#if writing.unreachable}<span class="text-amber">The server does not answer; what you write is kept here.</span>
      {:else if problem}<span class="line-clamp-2 min-w-0 text-amber" title="{problem.message} {problem.remedy}"
          >Line {problem.line}, column {problem.column}: {problem.message} {problem.remedy}</span
        >{#if problem.unknown}
          {#each makeable(problem.unknown) as each (each.kind)}
            {#if each.kind === 'dial' || !draft.prop}<button
                type="button"
                class="shrink-0 rounded border border-line px-1.5 hover:border-quiet"
                title={each.kind === 'dial'
                  ? 'A master control of the whole effect, 1 at first'
                  : 'A random number of each particle, evenly from 0 to 1 at first'}
                onclick={() => make(each.kind, each.name, problem.unknown!)}>make a {each.kind} of it</button
              >{/if}
          {/each}
        {/if}
      {:else if answer}<span class="text-quiet"
          >Gives {KIND[answer.kind]}{answer.unit ? `, ${answer.unit}` : ''}{#if answer.note}<span class="text-amber"
              >. {answer.note}</span
            >{/if}{#if answer.remarks.length}<span class="text-amber"
              >. {answer.remarks[0].message} {answer.remarks[0].remedy}</span
            >{/if}</span
        >{/if}
    </div>
  </div>
  <div class="flex min-h-0 flex-col gap-1 overflow-hidden">
    <div class="flex items-center justify-between">
      <span class="text-quiet">{one ? 'the picked one' : 'of all'}</span>
      <Action small kind="line" onclick={() => (examples = !examples)} hint="Worked examples, all functions and names"
        >Examples</Action
      >
    </div>
    <div class="min-h-0 flex-1 overflow-y-auto" data-part="formula-values">
      {#each rows as row (row.name)}
        <div class="flex items-baseline justify-between gap-2 py-px {row.name ? '' : 'border-t border-line pt-1'}">
          <span class="truncate {row.name ? 'mono' : 'font-bold'}">{row.name || 'result'}</span>
          <span class="mono text-right text-[11px] whitespace-nowrap">
            {#if one?.[row.name]}<span class="text-vermilion"
                >{one[row.name].map((v) => shown(v, unitOf(''), false)).join('  ')}</span
              >{/if}
            <span class="text-teal">{over(live?.[row.name], '')}</span> <span class="text-quiet">{row.unit}</span>
          </span>
        </div>
      {/each}
      {#if problem}<p class="border-t border-line pt-1 text-xs text-amber">The last good one runs.</p>{/if}
      {#if answer && writing.runs && !live}<p class="text-xs text-quiet">Nobody lives at this frame.</p>{/if}
    </div>
  </div>
</div>
{#if examples}<Examples
    needs={response ? 'number' : placed.spec.kind}
    stage={placed.spec.stage}
    {names}
    onclose={() => (examples = false)}
    onpick={(text) => {
      examples = false
      editor.insert(text)
    }}
  />{/if}
