<!-- Where the milliseconds of a frame go, row by row, in the artist's words. -->
<script lang="ts">
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'
  import { api } from '../wire/api'
  import type { Cost } from '../wire/types'

  let { open = $bindable() }: { open: boolean } = $props()
  const { draft, player, catalog, selection } = useDesk()
  let cost = $state.raw<Cost | null>(null)
  let problem = $state('')
  const engine = $derived(catalog.data.engine)

  async function measure() {
    problem = ''
    try {
      cost = await api.cost(selection.heard(draft.document) as unknown as Record<string, unknown>, player.frame)
    } catch (error) {
      problem = (error as Error).message || 'The server does not answer. Try again in a moment.'
    }
  }
  $effect(() => {
    if (open) void measure()
    else cost = null
  })
  /** Rows of one label together, the dearest first; what is too small to matter as one. */
  function rows(emitter: Cost['emitters'][number]) {
    const by = new Map<string, number>()
    for (const row of emitter.rows) by.set(row.label, (by.get(row.label) ?? 0) + row.step + row.look)
    const all = [...by].sort((a, b) => b[1] - a[1])
    const small = all.filter(([, v]) => v < 0.0015)
    return small.length > 1
      ? [
          ...all.filter(([, v]) => v >= 0.0015),
          [`${small.length} rows more`, small.reduce((sum, [, v]) => sum + v, 0)] as [string, number],
        ]
      : all
  }
  const ms = (value: number) => (value < 0.1 ? value.toFixed(3) : value.toFixed(2))
</script>

<Panel bind:open title="Where the time goes" size="sm">
  <p class="mb-3 text-quiet">
    One frame of the clip, on {engine.name === 'native'
      ? `machine code, ${engine.lanes} particles at a time, ${engine.threads} threads`
      : 'NumPy'}. {engine.reason} Rows run woven into each other; their parts are estimated one operation at a time.
  </p>
  {#if problem}<p role="alert" class="text-amber">{problem}</p>{/if}
  {#if !cost && !problem}<p class="text-quiet">Measuring…</p>{/if}
  <div class="max-h-[420px] overflow-y-auto" data-part="cost">
    {#each cost?.emitters ?? [] as emitter (emitter.uid)}
      {@const list = rows(emitter)}
      {@const most = Math.max(1e-9, ...list.map(([, v]) => v))}
      <section class="mb-4">
        <h3 class="mb-1 flex justify-between">
          <b>{emitter.name}</b><span class="mono text-quiet"
            >{emitter.count} particles: {ms(emitter.step)} ms to step, {ms(emitter.look)} ms for the look</span
          >
        </h3>
        {#each list as [label, value] (label)}
          <div class="grid grid-cols-[150px_minmax(0,1fr)_70px] items-center gap-2 py-0.5">
            <span class="truncate" title={label}>{label}</span>
            <span class="h-2 rounded bg-teal/70" style:width="{(value / most) * 100}%"></span>
            <span class="mono text-right">{ms(value)} ms</span>
          </div>
        {:else}<p class="text-quiet">No particle lives at this frame.</p>{/each}
      </section>
    {/each}
  </div>
</Panel>
