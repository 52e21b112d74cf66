<!-- Worked examples, functions and names, beside the formula that is written: one click puts an example in. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import CardButton from '../overlay/CardButton.svelte'
  import type { FormulaName } from '../wire/types'

  let {
    needs,
    stage,
    names,
    onpick,
    onclose,
  }: { needs: string; stage: string; names: FormulaName[]; onpick: (text: string) => void; onclose: () => void } =
    $props()
  const { catalog } = useDesk()
  let part = $state<'examples' | 'functions' | 'names'>('examples')
  let text = $state('')
  /** Over everything: the parts of the Desk are layers of their own. */
  function onBody(node: HTMLElement) {
    document.body.append(node)
    return () => node.remove()
  }
  const has = (...words: string[]) => words.join(' ').toLowerCase().includes(text.toLowerCase().trim())
  const fits = (e: { gives: string; stages: string[] }) =>
    (e.gives === 'number') === (needs === 'number') && e.stages.includes(stage)
  const examples = $derived(
    [...catalog.data.examples]
      .sort((a, b) => Number(fits(b)) - Number(fits(a)))
      .filter((e) => has(e.title, e.help, e.text)),
  )
  const functions = $derived(catalog.data.functions.filter((f) => has(f.name, f.help)))
  const found = $derived(names.filter((n) => has(n.name, n.help)))
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.key === 'Escape') onclose()
  }}
/>
<aside
  {@attach onBody}
  class="fixed top-[52px] bottom-[262px] left-3 z-30 flex w-[560px] max-w-[calc(100vw-24px)] flex-col rounded-lg border border-line bg-panel shadow-2xl"
  aria-label="Worked examples"
  data-part="examples"
>
  <header class="flex items-center gap-3 border-b border-line px-4 py-2">
    <Segments
      label="What is shown"
      value={part}
      onpick={(p) => (part = p)}
      options={[
        { value: 'examples', label: 'Examples' },
        { value: 'functions', label: 'Functions' },
        { value: 'names', label: 'Names' },
      ]}
    />
    <input
      bind:value={text}
      aria-label="Search"
      placeholder="Search"
      class="h-7 min-w-0 flex-1 rounded border border-line bg-ink px-2 py-0 text-[13px] text-paper focus:border-teal focus:ring-0"
    />
    <button
      type="button"
      class="rounded p-1 text-quiet hover:text-paper"
      aria-label="Close the examples"
      onclick={onclose}><X size={16} /></button
    >
  </header>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="min-h-0 flex-1 overflow-y-auto px-4 py-2" tabindex="0" role="group" aria-label={part}>
    {#if part === 'examples'}
      {#each examples as example (example.title)}
        <article class="border-b border-line py-2 last:border-0 {fits(example) ? '' : 'opacity-60'}">
          <div class="flex items-baseline justify-between gap-3">
            <h3 class="font-bold">{example.title}</h3>
            <button
              type="button"
              class="shrink-0 text-xs text-teal underline decoration-dotted hover:text-paper"
              onclick={() => onpick(example.text)}>Put it in</button
            >
          </div>
          <pre class="mono my-1 rounded bg-ink px-2 py-1.5 whitespace-pre-wrap">{example.text}</pre>
          <p class="text-quiet">
            {example.help}{fits(example) ? '' : ` For ${example.row.toLowerCase() || 'another row'}.`}
          </p>
        </article>
      {/each}
    {:else if part === 'functions'}
      {#each functions as f (f.name)}
        <div class="grid grid-cols-[210px_minmax(0,1fr)] gap-3 py-1">
          <span class="mono flex items-start justify-between gap-1"
            >{f.call}<CardButton of="function:{f.name}" name={f.name} /></span
          ><span class="text-quiet"
            >{f.help}{#if f.example}<span class="mono block pt-0.5">{f.example}</span>{/if}</span
          >
        </div>
      {/each}
      <p class="border-t border-line pt-2 text-quiet">
        Also: + - * / // % **, &lt; &lt;= &gt; &gt;= == !=, and, or, not, a if condition else b; name = value on a line
        of its own.
      </p>
    {:else}
      {#each found as n (n.name)}
        <div class="grid grid-cols-[210px_minmax(0,1fr)] gap-3 py-1 {n.refused ? 'opacity-60' : ''}">
          <span class="mono">{n.name} <span class="text-quiet">{n.detail}</span></span><span class="text-quiet"
            >{n.refused || n.help}</span
          >
        </div>
      {/each}
    {/if}
  </div>
</aside>
