<!-- One particle from birth to end: all it has, against its life. Its path stands on the stage. -->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { OneLife } from '../wire/types'

  const { player, picked, draft } = useDesk()
  const W = 250
  const H = 30
  const SECONDS = { symbol: 's', scale: 1, digits: 2 }
  let text = $state('')
  let changing = $state(true)
  const life = $derived(picked.life)
  const here = $derived(life ? life.frames.indexOf(player.frame) : -1)
  /** The last that happened up to the frame on screen, else the first that will. */
  const lately = $derived.by(() => {
    const event = life?.events.findLast((each) => each.frame <= player.frame) ?? life?.events[0]
    return event ? `${event.name}, frame ${event.frame}` : ''
  })
  const columns = $derived.by(() => {
    if (!life) return []
    const words = text.toLowerCase().split(/\s+/).filter(Boolean)
    return life.columns.filter(
      (c) =>
        words.every((w) => `${c.label} ${c.group}`.toLowerCase().includes(w)) &&
        (!changing || Math.max(...c.values) - Math.min(...c.values) > 1e-9),
    )
  })
  const emitterName = $derived(draft.document.emitters.find((e) => e.uid === player.picked?.emitter)?.name ?? '')

  function line(column: OneLife['columns'][number]): string {
    const low = Math.min(...column.values)
    const span = Math.max(...column.values) - low
    return column.values
      .map(
        (v, i) =>
          `${(life!.life[i] * W).toFixed(1)},${(span > 1e-12 ? H - 3 - ((v - low) / span) * (H - 6) : H / 2).toFixed(1)}`,
      )
      .join(' ')
  }
  function scrub(event: MouseEvent) {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const share = (event.clientX - box.left) / box.width
    const nearest = life!.life.reduce(
      (best, l, i) => (Math.abs(l - share) < Math.abs(life!.life[best] - share) ? i : best),
      0,
    )
    player.go(life!.frames[nearest])
  }
</script>

<div class="flex min-h-0 flex-1 flex-col" data-part="one">
  {#if !life}
    <div class="flex flex-1 flex-col items-center justify-center gap-1 text-quiet">
      <p class="text-paper">No particle picked.</p>
      <p>Click one on the stage, or a line of the table, to follow it from birth to end.</p>
      {#if picked.problem}<p role="alert" class="text-amber">{picked.problem}</p>{/if}
    </div>
  {:else}
    <div class="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-1.5">
      <span
        ><b>{emitterName}</b>, born at frame <span class="mono">{life.frames[0]}</span>, {life.ends
          ? 'ends after'
          : 'outlives the clip; lasts'} <span class="mono">{withUnit(life.lifespan, SECONDS)}</span></span
      >
      <span class="ml-auto flex items-center gap-2">
        <label class="flex items-center gap-1 text-quiet"
          ><input
            type="checkbox"
            bind:checked={changing}
            class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
          />only what changes</label
        >
        <input
          bind:value={text}
          type="text"
          aria-label="Search values"
          placeholder="Search"
          class="h-6 w-28 rounded border border-line bg-ink px-2 py-0 text-[12px] text-paper focus:border-teal focus:ring-0"
        />
        <button
          type="button"
          class="text-quiet underline decoration-dotted hover:text-paper"
          onclick={() => player.pick(null)}>let go</button
        >
      </span>
    </div>
    {#if life.events.length}
      <div
        class="grid shrink-0 grid-cols-[150px_minmax(0,1fr)_150px] items-center gap-2 px-3.5 py-1"
        data-part="events"
      >
        <span class="text-quiet">What happened</span>
        <span class="relative block h-[26px] rounded bg-ink">
          {#each life.events as event, i (i)}
            <button
              type="button"
              class="absolute top-0 h-full w-[9px] -translate-x-1/2 text-amber hover:text-vermilion"
              style="left: {event.life * 100}%"
              title="{event.name}, frame {event.frame}"
              aria-label="To {event.name} at frame {event.frame}"
              onclick={() => player.go(event.frame)}><span class="mx-auto block h-full w-px bg-current"></span></button
            >
          {/each}
        </span>
        <span class="mono truncate text-right text-xs" title={lately}>{lately}</span>
      </div>
    {/if}
    {#if picked.problem}<p role="alert" class="shrink-0 px-3.5 py-1 text-amber">{picked.problem}</p>{/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="min-h-0 flex-1 overflow-y-auto py-1" role="region" aria-label="Values over its life" tabindex="0">
      {#each columns as column, i (column.key)}
        {#if i === 0 || columns[i - 1].group !== column.group}<h2
            class="px-3.5 pt-1.5 text-[11px] tracking-[0.08em] text-quiet uppercase"
          >
            {column.group}
          </h2>{/if}
        <div class="grid grid-cols-[150px_minmax(0,1fr)_150px] items-center gap-2 px-3.5 py-px hover:bg-raised/50">
          <span class="truncate" title={column.label}>{column.label}</span>
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <svg
            viewBox="0 0 {W} {H}"
            preserveAspectRatio="none"
            class="h-[26px] w-full cursor-col-resize rounded bg-ink"
            onclick={scrub}
          >
            <polyline
              points={line(column)}
              fill="none"
              stroke="var(--color-paper)"
              stroke-width="1.3"
              vector-effect="non-scaling-stroke"
            />
            {#each life.events as event, i (i)}<line
                x1={event.life * W}
                x2={event.life * W}
                y1="0"
                y2={H}
                stroke="var(--color-amber)"
                stroke-opacity="0.45"
                vector-effect="non-scaling-stroke"
              />{/each}
            {#if here >= 0}<line
                x1={life.life[here] * W}
                x2={life.life[here] * W}
                y1="0"
                y2={H}
                stroke="var(--color-vermilion)"
                vector-effect="non-scaling-stroke"
              />{/if}
          </svg>
          <span
            class="mono text-right whitespace-nowrap"
            title="from {withUnit(Math.min(...column.values), column.unit)} to {withUnit(
              Math.max(...column.values),
              column.unit,
            )}"
          >
            {#if here >= 0}<span class="text-vermilion">{shown(column.values[here], column.unit, false)}</span
              >{:else}<span class="text-quiet"
                >{shown(Math.min(...column.values), column.unit, false)} – {shown(
                  Math.max(...column.values),
                  column.unit,
                  false,
                )}</span
              >{/if}
            <span class="text-quiet">{symbolOf(column.unit)}</span>
          </span>
        </div>
      {/each}
    </div>
    <div class="shrink-0 border-t border-line px-3.5 py-1 text-xs text-quiet">
      {here >= 0
        ? `At frame ${player.frame}: ${Math.round(life.life[here] * 100)} % of its life.`
        : `Not alive at frame ${player.frame}; it lives from ${life.frames[0]} to ${life.frames[life.frames.length - 1]}.`}
      Click a line to go there.
    </div>
  {/if}
</div>
