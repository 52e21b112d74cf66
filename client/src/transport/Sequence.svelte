<!-- When each emitter runs, one bar an emitter along the clip: drag a bar to move it, its ends to begin earlier or run longer, a mark to move a burst. -->
<script lang="ts">
  import { display } from '../controls/display.svelte'
  import { withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import { framesASecond } from '../effect/rate'
  import { momentTimes, runsFrom, type When } from '../effect/moments'
  import type { Emitter } from '../wire/types'
  import Moments from './Moments.svelte'

  const { draft, player, catalog } = useDesk()
  let width = $state(600)
  const clip = $derived(player.clip)
  const rate = $derived(framesASecond(clip))
  const span = $derived(Math.max(1, clip.last_frame - clip.first_frame))
  const seconds = $derived(span / rate)
  /** Pixels from the clip's first frame; what lies behind its last stands at its end, where it can be taken. */
  const X = $derived((s: number) => Math.min(Math.max(s / seconds, 0), 1) * width)
  type Part = 'whole' | 'start' | 'end'
  let hand: {
    index: number
    part: Part
    burst?: number
    from: number
    start: number
    duration: number | null
    earliest: number
    frame: number
  } | null = null

  /** A bar's parts: one each time it runs. */
  function bars(emitter: Emitter): { from: number; to: number }[] {
    const { every, duration } = emitter.births as When
    const { from: start, to } = runsFrom(emitter, times)
    const end = to ?? seconds
    if (every == null) return [{ from: start, to: Math.min(end, seconds) }]
    const result = []
    for (let k = 0; start + k * every < seconds && k < 400; k++)
      result.push({
        from: start + k * every,
        to: Math.min(start + k * every + Math.min(duration ?? every, every), seconds),
      })
    return result
  }
  const times = $derived(momentTimes(draft.document))
  const named = (uid: string | null | undefined) =>
    (draft.document.moments ?? []).find((moment) => moment.uid === uid)?.name
  const burstAt = (burst: { frame: number; after?: string | null }) =>
    burst.after ? Math.round((times.get(burst.after) ?? 0) * rate) + burst.frame : burst.frame - clip.first_frame
  const snapped = (s: number) => Math.round(s * rate) / rate
  const SECONDS = { symbol: 's', scale: 1, digits: 2 }
  const words = (s: number) =>
    display.times === 'seconds' ? withUnit(s, SECONDS) : `frame ${Number((clip.first_frame + s * rate).toFixed(1))}`
  function tell(emitter: Emitter): string {
    const { start = 0, duration, every, after, until } = emitter.births as When
    const from = named(after)
    const late = start ? ` and ${withUnit(start, SECONDS)}` : ''
    const end = named(until)
    return `${emitter.name} from ${from ? `${from}${late}` : words(start)} ${
      end ? `until ${end}` : duration == null ? 'to the end' : `for ${withUnit(duration, SECONDS)}`
    }${every == null ? '' : ', again and again'}`
  }

  function take(event: PointerEvent, index: number, part: Part, burst?: number) {
    event.stopPropagation()
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    const { births } = draft.document.emitters[index]
    draft.emitterIndex = index
    hand = {
      index,
      part,
      burst,
      from: event.clientX,
      ...whenOf(draft.document.emitters[index]),
      frame: burst === undefined ? 0 : births.bursts![burst].frame,
    }
  }
  /** When it begins, from its moment or the clip's beginning, and for how long it runs. */
  function whenOf(emitter: Emitter): { start: number; duration: number | null; earliest: number } {
    const { from, to } = runsFrom(emitter, times)
    const start = (emitter.births as When).start ?? 0
    return { start, duration: to === null ? null : to - from, earliest: Math.min(0, start - from) }
  }
  function changed(by: number): Record<string, unknown> | null {
    if (!hand) return null
    const { births } = draft.document.emitters[hand.index]
    const step = 1 / rate
    if (hand.burst !== undefined) {
      const wanted = Math.round(hand.frame + by * rate)
      const frame = births.bursts![hand.burst].after
        ? wanted
        : Math.min(Math.max(wanted, clip.first_frame), clip.last_frame)
      return { ...births, bursts: births.bursts!.map((b, i) => (i === hand!.burst ? { ...b, frame } : b)) }
    }
    if (hand.part === 'whole') return { ...births, start: Math.max(hand.earliest, snapped(hand.start + by)) }
    if (hand.part === 'end')
      return { ...births, until: null, duration: Math.max(step, snapped((hand.duration ?? seconds - hand.start) + by)) }
    const start = Math.max(hand.earliest, snapped(hand.start + by))
    return {
      ...births,
      start,
      until: null,
      duration: hand.duration === null ? null : Math.max(step, snapped(hand.start + hand.duration - start)),
    }
  }
  function move(event: PointerEvent) {
    const births = changed(((event.clientX - (hand?.from ?? 0)) / width) * seconds)
    if (hand && births) draft.drag(['emitters', hand.index, 'births'], births)
  }
  function drop(event: PointerEvent) {
    const births = changed(((event.clientX - (hand?.from ?? 0)) / width) * seconds)
    const was = hand
    hand = null
    if (!was || !births) return
    const { name } = draft.document.emitters[was.index]
    draft.edit(
      was.burst !== undefined
        ? 'Move a burst'
        : was.part === 'whole'
          ? `Move ${name} in time`
          : `Change how long ${name} runs`,
      ['emitters', was.index, 'births'],
      births,
    )
  }
  function keys(event: KeyboardEvent, index: number) {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    const { name } = draft.document.emitters[index]
    hand = {
      index,
      part: event.shiftKey ? 'end' : 'whole',
      from: 0,
      ...whenOf(draft.document.emitters[index]),
      frame: 0,
    }
    const result = changed(by / rate)
    hand = null
    draft.edit(
      event.shiftKey ? `Change how long ${name} runs` : `Move ${name} in time`,
      ['emitters', index, 'births'],
      result,
    )
  }
</script>

<div class="max-h-[124px] overflow-y-auto border-t border-line bg-panel py-1" data-part="sequence">
  <Moments />
  {#each draft.document.emitters as emitter, index (emitter.uid)}
    {@const descended = catalog.is(emitter, 'parted', 'births.place')}
    <div class="grid h-[22px] grid-cols-[302px_minmax(0,1fr)_416px] items-center gap-4 px-4">
      <button
        type="button"
        class="flex min-w-0 items-baseline gap-2 truncate text-left {index === draft.emitterIndex
          ? 'text-paper'
          : 'text-quiet'} hover:text-paper"
        onclick={() => (draft.emitterIndex = index)}
      >
        {#if emitter.colour}<span class="h-2 w-2 shrink-0 self-center rounded-full" style:background={emitter.colour}
          ></span>{/if}<span class="truncate">{emitter.name}</span><span class="mono truncate text-[11px] text-quiet"
          >{tell(emitter).slice(emitter.name.length + 1)}{descended
            ? `, from ${draft.document.emitters.find((e) => e.uid === emitter.births.place.emitter)?.name}`
            : ''}</span
        >
      </button>
      <div class="relative h-[22px] touch-none" bind:clientWidth={width}>
        <span class="absolute inset-x-0 top-[10px] h-px bg-line"></span>
        {#each bars(emitter) as bar, k}
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <div
            class="absolute top-[4px] h-[14px] cursor-grab rounded-[3px] border {index === draft.emitterIndex
              ? 'border-paper bg-edge'
              : 'border-edge bg-line'} {k ? 'opacity-50' : ''}"
            style:left="{X(bar.from)}px"
            style:width="{Math.max(6, X(bar.to) - X(bar.from))}px"
            style:background={emitter.colour ? `${emitter.colour}99` : undefined}
            style:border-color={emitter.colour || undefined}
            title="{tell(emitter)}. Drag to move it, its ends to begin earlier or run longer"
            role="slider"
            tabindex={k ? -1 : 0}
            aria-hidden={k > 0}
            aria-label="When {emitter.name} runs"
            aria-valuenow={emitter.births.start ?? 0}
            aria-valuetext={tell(emitter)}
            onkeydown={(e) => keys(e, index)}
            onpointerdown={(e) => !k && take(e, index, 'whole')}
            onpointermove={move}
            onpointerup={drop}
            data-bar={k ? undefined : emitter.uid}
          >
            {#if !k}
              <div
                class="absolute inset-y-0 -left-1 w-2.5 cursor-ew-resize"
                data-end="start"
                onpointerdown={(e) => take(e, index, 'start')}
                onpointermove={move}
                onpointerup={drop}
              ></div>
              <div
                class="absolute inset-y-0 -right-1 w-2.5 cursor-ew-resize"
                data-end="end"
                onpointerdown={(e) => take(e, index, 'end')}
                onpointermove={move}
                onpointerup={drop}
              ></div>
            {/if}
          </div>
        {/each}
        {#each emitter.births.bursts ?? [] as burst, b (burst.uid)}
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <div
            class="absolute top-[5px] h-3 w-3 -translate-x-1.5 rotate-45 cursor-ew-resize border border-ink bg-paper"
            style:left="{X(burstAt(burst) / rate)}px"
            title="{burst.count} {burst.after
              ? `${burst.frame} frames after ${named(burst.after)}`
              : `at frame ${burst.frame}`}"
            data-burst={burst.uid}
            onpointerdown={(e) => take(e, index, 'whole', b)}
            onpointermove={move}
            onpointerup={drop}
          ></div>
        {/each}
        <span
          class="pointer-events-none absolute inset-y-0 w-px bg-paper/60"
          style:left="{((player.frame - clip.first_frame) / span) * width}px"
        ></span>
      </div>
      <span></span>
    </div>
  {/each}
</div>
