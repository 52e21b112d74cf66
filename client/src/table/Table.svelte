<!-- All particles of the emitter at the frame on screen, in numbers: sorted, filtered, only the lines in sight fetched. -->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import { untrack } from 'svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { shown } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import { api, Refused } from '../wire/api'
  import type { Table } from '../wire/types'

  const { draft, player, selection, overlay } = useDesk()
  const LINE = 22
  const PAGE = 120
  type Filter = { column: string; low: number | null; high: number | null }
  let sort = $state('')
  let descending = $state(false)
  let filters = $state<Filter[]>([])
  let table = $state.raw<Table | null>(null)
  /** The order of the lines that are here: what is asked for is not here yet. */
  let order = $state.raw({ by: '', descending: false })
  let problem = $state('')
  let top = $state(0)
  let height = $state(400)
  let first = $state(0)
  let body = $state<HTMLDivElement>()
  let requested = 0
  let busy = false
  let outdated = false

  const uid = $derived(draft.emitter.uid)
  const wanted = $derived(Math.max(0, Math.floor(top / LINE) - 40))
  const label = (key: string) => table?.columns.find((c) => c.key === key)?.label ?? key
  const unit = (key: string) => table?.columns.find((c) => c.key === key)?.unit ?? { symbol: '', scale: 1, digits: 2 }

  async function load() {
    if (busy) {
      outdated = true
      return
    }
    busy = true
    const mine = ++requested
    try {
      do {
        outdated = false
        const start = wanted
        const wish = { by: sort, descending }
        const result = await api.table(draft.plain(), {
          emitter: uid,
          frame: player.frame,
          sort,
          descending,
          filters: $state.snapshot(filters),
          first: start,
          count: PAGE,
        })
        if (mine !== requested) return
        table = result
        order = wish
        first = start
        problem = ''
      } while (outdated)
    } catch (error) {
      problem = error instanceof Refused ? error.message : 'The server does not answer. Try again in a moment.'
    } finally {
      busy = false
    }
  }
  $effect(() => {
    // whatever these are, the lines in sight are fetched anew
    void [draft.document, player.frame, uid, sort, descending, JSON.stringify(filters)]
    if (player.playing) return
    untrack(() => void load())
  })
  $effect(() => {
    if (wanted < first || Math.floor((top + height) / LINE) + 1 > first + (table?.rows.length ?? 0))
      untrack(() => table && void load())
  })

  function head(event: Event, key: string) {
    const anchor = event.currentTarget
    overlay.openMenu(anchor, label(key), [
      { label: 'Smallest first', act: () => ([sort, descending] = [key, false]) },
      { label: 'Largest first', act: () => ([sort, descending] = [key, true]) },
      { label: 'In order of birth', disabled: sort === '', act: () => ([sort, descending] = ['', false]) },
      null,
      { label: 'Only some values…', disabled: filters.some((f) => f.column === key), act: () => addFilter(key) },
      {
        label: player.shade === key ? 'Show the look on the stage' : 'Show it as colour on the stage',
        act: () => player.shadeBy(player.shade === key ? '' : key),
      },
    ])
  }
  function addFilter(key: string) {
    const at = table!.columns.findIndex((c) => c.key === key) + 2
    const values = table!.rows.map((r) => r[at] as number)
    filters = [...filters, { column: key, low: values.length ? Math.min(...values) : 0, high: null }]
  }
  function pick(row: (string | number)[]) {
    player.pick({ emitter: uid, key: row[0] as string })
  }
  const text = (value: string | number, i: number) => shown(value as number, table!.columns[i].unit, false)
</script>

<div class="flex min-h-0 flex-1 flex-col" data-part="table">
  <div class="flex min-h-8 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-1">
    <span class="text-quiet"
      ><span class="mono text-paper">{table?.matching ?? 0}</span> of <span class="mono">{table?.total ?? 0}</span> at
      frame <span class="mono">{player.frame}</span>{order.by
        ? `, by ${label(order.by)}, ${order.descending ? 'largest' : 'smallest'} first`
        : ', in order of birth'}</span
    >
    {#each filters as filter, i}
      <span class="flex items-center gap-1 rounded border border-line bg-ink px-1.5 py-0.5">
        {label(filter.column)}
        {#if filter.low !== null}<span class="text-quiet">from</span><NumberField
            value={filter.low}
            unit={unit(filter.column)}
            label="{label(filter.column)} from"
            onset={(v) => (filters[i] = { ...filter, low: v })}
          />{/if}
        {#if filter.high !== null}<span class="text-quiet">to</span><NumberField
            value={filter.high}
            unit={unit(filter.column)}
            label="{label(filter.column)} to"
            onset={(v) => (filters[i] = { ...filter, high: v })}
          />
        {:else}<button
            type="button"
            class="text-xs text-quiet underline decoration-dotted"
            onclick={() => (filters[i] = { ...filter, high: filter.low })}>to…</button
          >{/if}
        <button
          type="button"
          class="text-quiet hover:text-paper"
          aria-label="Drop the filter on {label(filter.column)}"
          onclick={() => (filters = filters.filter((f) => f !== filter))}>✕</button
        >
      </span>
    {/each}
  </div>
  {#if problem}<p role="alert" class="px-3.5 py-2 text-amber">{problem}</p>{/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    bind:this={body}
    bind:clientHeight={height}
    onscroll={() => (top = body!.scrollTop)}
    class="min-h-0 flex-1 overflow-auto"
    tabindex="0"
    role="region"
    aria-label="Table of particles"
  >
    {#if table}
      <table class="mono border-separate border-spacing-0 text-[11.5px]" aria-rowcount={table.matching}>
        <thead>
          <tr>
            <th
              class="sticky top-0 left-0 z-20 border-b border-line bg-panel px-2 py-1 text-left font-medium text-quiet"
              >#</th
            >
            {#each table.columns as column (column.key)}
              <th
                class="sticky top-0 z-10 border-b border-line bg-panel p-0 text-right font-medium"
                scope="col"
                aria-sort={order.by === column.key ? (order.descending ? 'descending' : 'ascending') : 'none'}
              >
                <button
                  type="button"
                  aria-haspopup="menu"
                  class="block w-full px-2 py-1 text-right whitespace-nowrap hover:text-paper {sort === column.key
                    ? 'text-paper'
                    : 'text-quiet'}"
                  onclick={(e) => head(e, column.key)}
                  title="{column.label}{symbolOf(column.unit)
                    ? `, ${symbolOf(column.unit)}`
                    : ''}: sort, filter, show as colour"
                >
                  {column.label}{#if order.by === column.key}{order.descending ? ' ↓' : ' ↑'}{/if}<br /><span
                    class="text-[10px] text-quiet">{symbolOf(column.unit) || '–'}</span
                  >
                </button>
              </th>
            {/each}
          </tr>
        </thead>
        <tbody>
          {#if first}<tr style:height="{first * LINE}px" aria-hidden="true"><td></td></tr>{/if}
          {#each table.rows as row, i (row[0])}
            {@const picked = player.picked?.key === row[0] && player.picked.emitter === uid}
            <tr
              class="cursor-pointer {picked ? 'bg-raised' : 'hover:bg-raised/60'}"
              style:height="{LINE}px"
              aria-rowindex={first + i + 1}
              aria-selected={picked}
              onclick={() => pick(row)}
              ondblclick={() => (selection.view = 'one')}
            >
              <th
                class="sticky left-0 px-2 text-left font-medium {picked
                  ? 'bg-raised text-vermilion'
                  : 'bg-panel text-quiet'}"
                scope="row"
                ><button
                  type="button"
                  onclick={() => pick(row)}
                  title="Pick this particle; a double click shows its life">{row[1]}</button
                ></th
              >
              {#each row.slice(2) as value, c}<td class="px-2 text-right whitespace-nowrap">{text(value, c)}</td>{/each}
            </tr>
          {/each}
          {#if table.matching > first + table.rows.length}<tr
              style:height="{(table.matching - first - table.rows.length) * LINE}px"
              aria-hidden="true"><td></td></tr
            >{/if}
        </tbody>
      </table>
      {#if !table.matching}<p class="px-3.5 py-3 text-quiet">
          {table.total ? 'No particle passes the filters.' : 'No particle lives at this frame. Move the playhead.'}
        </p>{/if}
    {:else if !problem}
      <p class="px-3.5 py-3 text-quiet">Counting…</p>
    {/if}
  </div>
</div>
