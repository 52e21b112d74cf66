<!--
  The loom: the sheet zoomed out, rows by sources, each crossing a small curve. A column's head filters the sheet to what
  that source drives; whole columns and rows are muted and soloed here. An empty crossing can be filled.
-->
<script lang="ts">
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Ear from '@lucide/svelte/icons/ear'
  import { css } from '../controls/colour'
  import { curvePath, ratioPath } from '../controls/curve'
  import { inUse, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { drive, toggleMuteRow, toggleMuteSource } from '../effect/edits'
  import { api } from '../wire/api'
  import type { Response, Source } from '../wire/types'

  const { draft, player, catalog, selection, overlay } = useDesk()
  let across = $state(600)
  const NAMES = 150
  const H = 22
  const emitter = $derived(draft.emitter)
  const driven = (r: PlacedRow) => (r.row.responses?.length ?? 0) > 0
  const rows = $derived(
    catalog
      .allRows(emitter)
      .filter(
        (r) =>
          !r.unused &&
          ((r.row.responses?.length ?? 0) > 0 ||
            (!r.host && r.spec.band !== 'draws' && (r.spec.always || r.address.startsWith('forces.') || inUse(r)))),
      )
      // what is driven stands first, each in working order
      .toSorted((a, b) => Number(!driven(a)) - Number(!driven(b))),
  )
  const columns = $derived.by(() => {
    const found = new Map<string, { key: string; label: string; source: Source; count: number }>()
    for (const row of rows) {
      for (const response of row.row.responses ?? []) {
        const key = catalog.columnOf(emitter, response)
        const known = found.get(key)
        if (known) known.count++
        else found.set(key, { key, label: catalog.nameOf(emitter, response), source: response.source, count: 1 })
      }
    }
    return [...found.values()].sort((a, b) => b.count - a.count)
  })
  /** A crossing takes its share of the width there is. */
  const W = $derived(Math.round(Math.min(Math.max((across - NAMES - 14) / Math.max(columns.length, 1) - 6, 46), 132)))
  const muted = (key: string) => (emitter.muted_sources ?? []).includes(key)
  const at = (row: PlacedRow, key: string) =>
    (row.row.responses ?? []).filter((r) => catalog.columnOf(emitter, r) === key)
  const label = (row: PlacedRow) => (row.host ? `${row.host.label}: ${row.label.toLowerCase()}` : row.label)
  const soloRow = (row: PlacedRow) =>
    selection.solo && !('source' in selection.solo) && !selection.solo.response && selection.solo.row === row.address
  const soloColumn = (key: string) => selection.solo && 'source' in selection.solo && selection.solo.source === key

  function filter(key: string) {
    selection.filter = key
    selection.view = 'sheet'
  }
  function open(response: Response) {
    selection.select(response.uid)
  }
  function fill(row: PlacedRow, column: { key: string; label: string; source: Source }) {
    void overlay.attempt(async () => {
      const choices = await api.sources(draft.plain(), emitter.uid, player.frame, row.address)
      const { source } = column
      const choice = choices.find((c) => c.column === column.key)
      if (!choice || choice.refusal)
        throw new Error(choice?.refusal || `${column.label} is set for one response alone; copy that response instead.`)
      selection.select(
        drive(draft, catalog, row, {
          ...choice,
          source: 'uid' in source ? choice.source : (source as unknown as Record<string, unknown>),
        }),
      )
    })
  }
  function walk(event: KeyboardEvent) {
    const move = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key]
    const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]')
    if (!move || !cell) return
    const [r, c] = cell.dataset.cell!.split(',').map(Number)
    const next = (event.currentTarget as HTMLElement).querySelector<HTMLElement>(
      `[data-cell="${r + move[0]},${c + move[1]}"]`,
    )
    if (!next) return
    next.focus()
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="min-h-0 flex-1 overflow-auto"
  bind:clientWidth={across}
  data-part="loom"
  role="group"
  aria-label="Loom"
  onkeydown={walk}
  tabindex="-1"
>
  <table class="border-separate border-spacing-0 text-[12px]">
    <thead>
      <tr>
        <th
          class="sticky top-0 left-0 z-20 w-[150px] min-w-[150px] border-b border-line bg-panel px-3.5 py-1.5 text-left align-bottom font-medium text-quiet"
          >drives ↓ &nbsp; from →</th
        >
        {#each columns as column (column.key)}
          <th
            class="sticky top-0 z-10 border-b border-l border-line bg-panel px-1 py-1 align-bottom font-medium"
            scope="col"
          >
            <button
              type="button"
              class="block truncate rounded px-0.5 text-left hover:underline hover:decoration-dotted {muted(column.key)
                ? 'text-quiet line-through'
                : ''}"
              style:max-width="{W + 8}px"
              title="{column.label}: drives {column.count}. Click to see only these rows in the sheet."
              onclick={() => filter(column.key)}>{column.label}</button
            >
            <span class="flex">
              <button
                type="button"
                class="rounded p-0.5 hover:text-paper {muted(column.key) ? 'text-amber' : 'text-quiet'}"
                aria-pressed={muted(column.key)}
                aria-label="Mute all from {column.label}"
                title="Mute all from {column.label}"
                onclick={() => toggleMuteSource(draft, column.key, column.label)}><EyeOff size={12} /></button
              >
              <button
                type="button"
                class="rounded p-0.5 hover:text-paper {soloColumn(column.key) ? 'text-vermilion' : 'text-quiet'}"
                aria-pressed={!!soloColumn(column.key)}
                aria-label="Solo {column.label}"
                title="Solo: only what {column.label} drives acts"
                onclick={() =>
                  (selection.solo = soloColumn(column.key)
                    ? null
                    : { emitter: emitter.uid, label: `all from ${column.label}`, source: column.key })}
                ><Ear size={12} /></button
              >
            </span>
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as row, r (row.address)}
        <tr class="group">
          <th
            class="sticky left-0 z-10 border-b border-line/50 bg-panel px-3.5 text-left font-medium whitespace-nowrap"
            scope="row"
          >
            <span class="flex items-center gap-1">
              <span
                class="max-w-[100px] flex-1 truncate {row.host ? 'text-quiet' : ''} {row.row.muted
                  ? 'line-through decoration-quiet'
                  : ''}"
                title={label(row)}>{label(row)}</span
              >
              {#if (row.row.responses?.length ?? 0) > 0}
                <button
                  type="button"
                  class="rounded p-0.5 hover:text-paper {row.row.muted ? 'text-amber' : 'text-quiet'}"
                  aria-pressed={!!row.row.muted}
                  aria-label="Mute {label(row)}"
                  title="Mute its responses"
                  onclick={() => toggleMuteRow(draft, row)}><EyeOff size={12} /></button
                >
                {#if !row.host}<button
                    type="button"
                    class="rounded p-0.5 hover:text-paper {soloRow(row) ? 'text-vermilion' : 'text-quiet'}"
                    aria-pressed={!!soloRow(row)}
                    aria-label="Solo {label(row)}"
                    title="Solo: only this row's responses act"
                    onclick={() =>
                      (selection.solo = soloRow(row)
                        ? null
                        : { emitter: emitter.uid, label: row.label, row: row.address })}><Ear size={12} /></button
                  >{/if}
              {/if}
            </span>
          </th>
          {#each columns as column, c (column.key)}
            <td class="border-b border-l border-line/50 p-0.5 text-center">
              {#each at(row, column.key) as response, i (response.uid)}
                {@const silent = !selection.hears(emitter, row, response)}
                <button
                  type="button"
                  data-cell={i === 0 ? `${r},${c}` : undefined}
                  data-crossing={response.uid}
                  onclick={() => open(response)}
                  aria-pressed={selection.uid === response.uid}
                  title="{label(row)} {response.operation} from {column.label}, {response.read}{silent
                    ? ', silent'
                    : ''}"
                  aria-label="{label(row)} from {column.label}"
                  class="mx-auto block overflow-hidden rounded border bg-ink {selection.uid === response.uid
                    ? 'border-vermilion'
                    : 'border-line hover:border-quiet'} {silent ? 'opacity-40' : ''}"
                >
                  <svg width={W} height={H} class="block">
                    {#if response.kind === 'gradient'}
                      <defs
                        ><linearGradient id="loom-{response.uid}"
                          >{#each response.gradient.stops as stop}<stop
                              offset={stop.x}
                              stop-color={css(stop.colour)}
                            />{/each}</linearGradient
                        ></defs
                      >
                      <rect width={W} height={H} fill="url(#loom-{response.uid})" />
                    {:else}
                      <path
                        d={response.kind === 'curve'
                          ? curvePath(response.curve.keys, W, H, 0, 1, 3)
                          : ratioPath(typeof response.power === 'number' ? response.power : 1, W, H, 3)}
                        fill="none"
                        stroke="var(--color-paper)"
                        stroke-width="1.3"
                      />
                    {/if}
                    <text x="3" y="9" font-size="9" fill="var(--color-quiet)" class="mono"
                      >{catalog.signs.get(response.operation ?? 'multiply')}</text
                    >
                    {#if response.read === 'once' && row.spec.stage === 'live'}<text
                        x={W - 3}
                        y={H - 3}
                        font-size="8"
                        text-anchor="end"
                        fill="var(--color-quiet)">once</text
                      >{/if}
                  </svg>
                </button>
              {:else}
                <button
                  type="button"
                  data-cell="{r},{c}"
                  class="h-[22px] rounded text-quiet opacity-0 hover:bg-raised hover:opacity-100 focus-visible:opacity-100"
                  style:width="{W}px"
                  aria-label="Drive {label(row)} from {column.label}"
                  title="Drive {label(row)} from {column.label}"
                  onclick={() => fill(row, column)}>+</button
                >
              {/each}
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !columns.length}<p class="px-3.5 py-3 text-quiet">
      Nothing drives anything here yet. In the sheet, press + beside a row.
    </p>{/if}
</div>
