<!--
  A life: the mean particle at eleven shares of it and real ones along it, as the core renders them; under them the rows
  that life drives, on the same axis, their keys edited in place, several at once. Drag the pictures to read any share.
-->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import ChevronsUpDown from '@lucide/svelte/icons/chevrons-up-down'
  import { curvePath } from '../controls/curve'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { Course } from '../wire/packets'
  import type { Emitter } from '../wire/types'
  import { lanesOf, lifeOf, moveKeys, type Lane } from './lanes'

  let { tall = $bindable() }: { tall: boolean } = $props()
  const { draft, player, catalog, selection } = useDesk()
  let share = $state(0.25)
  let width = $state(600)
  let held = false
  const PAD = 76 // room for names on the left and values on the right, so that curves run free
  const MARGIN = 22
  const INSET = 4.5
  const SECONDS = { symbol: 's', scale: 1, digits: 1 }
  const profile = $derived(player.profile(draft.emitter.uid))
  const portrait = $derived(player.portrait(draft.emitter.uid))
  const inner = $derived(Math.max(100, width - 2 * PAD))
  /** How much longer the axis is now than it was drawn. */
  const drawn = $derived(portrait ? inner / (portrait.width - 2 * MARGIN) : 1)
  $effect(() => {
    const long = Math.min(Math.max(inner, 64), 4000)
    const timer = setTimeout(() => player.drawAcross(long), 250)
    return () => clearTimeout(timer)
  })
  const laneHeight = $derived(tall ? 40 : 20)
  const lanes = $derived(lanesOf(catalog, draft.emitter).filter((lane) => profile?.lives[lane.placed.address]?.[0]))
  let chosen = $state.raw<ReadonlySet<string>>(new Set())
  let drag: { x: number; y: number; from: Emitter; lanes: Lane[]; names: ReadonlySet<string>; moved: boolean } | null =
    null
  let frame = $state.raw<{ x: number; y: number; to: { x: number; y: number } } | null>(null)
  let canvas = $state<HTMLCanvasElement>()
  let board = $state<SVGSVGElement>()

  $effect(() => {
    if (!canvas || !portrait) return
    canvas.width = portrait.width
    canvas.height = portrait.height
    canvas.getContext('2d')!.putImageData(new ImageData(portrait.pixels, portrait.width, portrait.height), 0, 0)
  })

  function value(course: Course | undefined, at: number, which: keyof Course): number {
    if (!course) return 0
    const list = course[which]
    const place = Math.min(Math.max(at * list.length - 0.5, 0), list.length - 1)
    const low = Math.floor(place)
    const high = Math.min(low + 1, list.length - 1)
    return list[low] + (list[high] - list[low]) * (place - low)
  }
  function line(course: Course, which: keyof Course): string[] {
    const top = Math.max(1e-9, ...course.high.map(Math.abs))
    const H = laneHeight - 5
    return course[which].map(
      (v, i) =>
        `${(((i + 0.5) / course[which].length) * inner).toFixed(1)},${(H + 1 - (Math.max(0, v) / top) * (H - 1)).toFixed(1)}`,
    )
  }
  const short = (label: string) => (label.length > 12 ? `${label.slice(0, 11)}…` : label)
  const band = (course: Course) => [...line(course, 'high'), ...line(course, 'low').reverse()].join(' ')
  /** A key's place in its lane, in pixels. */
  const KX = (lane: Lane, i: number) => lifeOf(lane.response!, lane.response!.curve.keys[i]) * inner
  const KY = (lane: Lane, i: number) =>
    laneHeight - 2 - INSET - lane.response!.curve.keys[i].y * (laneHeight - 2 - 2 * INSET)

  function scrub(event: PointerEvent) {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    share = Math.min(Math.max((event.clientX - box.left - PAD) / inner, 0), 1)
  }
  function scrubKeys(event: KeyboardEvent) {
    const step = event.key === 'ArrowRight' ? 0.01 : event.key === 'ArrowLeft' ? -0.01 : 0
    if (!step) return
    event.preventDefault()
    event.stopPropagation()
    share = Math.min(Math.max(share + step, 0), 1)
  }

  function downKey(event: PointerEvent, lane: Lane, i: number) {
    if (event.button !== 0) return
    event.stopPropagation()
    const name = `${lane.response!.uid}:${i}`
    if (event.shiftKey) {
      const next = new Set(chosen)
      if (!next.delete(name)) next.add(name)
      chosen = next
    } else if (!chosen.has(name)) chosen = new Set([name])
    selection.select(lane.response!.uid)
    selection.key = i
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    ;(event.currentTarget as unknown as HTMLElement).focus()
    drag = { x: event.clientX, y: event.clientY, from: draft.emitter, lanes, names: chosen, moved: false }
  }
  function moveKey(event: PointerEvent) {
    if (!drag || (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 2)) return
    drag.moved = true
    const up = drag.names.size > 1 && event.shiftKey ? 0 : (drag.y - event.clientY) / (laneHeight - 2 - 2 * INSET)
    draft.drag(draft.inEmitter([]), moveKeys(drag.from, drag.lanes, drag.names, (event.clientX - drag.x) / inner, up))
  }
  function upKey() {
    if (drag?.moved) draft.commit(drag.names.size > 1 ? `Move ${drag.names.size} keys` : 'Move a key')
    drag = null
  }
  function pressKey(event: KeyboardEvent, lane: Lane, i: number) {
    const step = event.shiftKey ? 0.002 : 0.02
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key]
    const name = `${lane.response!.uid}:${i}`
    if (event.key === ' ') {
      const next = new Set(chosen)
      if (!next.delete(name)) next.add(name)
      chosen = next
    } else if (by) {
      const names = chosen.has(name) ? chosen : new Set([name])
      chosen = names
      draft.edit(
        names.size > 1 ? `Move ${names.size} keys` : 'Move a key',
        draft.inEmitter([]),
        moveKeys(draft.emitter, lanes, names, by[0], by[1]),
      )
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
  // a frame drawn over the lanes chooses the keys in it
  const inBoard = (event: PointerEvent) => {
    const box = board!.getBoundingClientRect()
    return { x: event.clientX - box.left, y: event.clientY - box.top }
  }
  function downBoard(event: PointerEvent) {
    if (event.button !== 0) return
    const at = inBoard(event)
    frame = { ...at, to: at }
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  }
  function moveBoard(event: PointerEvent) {
    if (frame) frame = { ...frame, to: inBoard(event) }
  }
  function upBoard() {
    if (!frame) return
    const [left, right] = [Math.min(frame.x, frame.to.x), Math.max(frame.x, frame.to.x)]
    const [top, bottom] = [Math.min(frame.y, frame.to.y), Math.max(frame.y, frame.to.y)]
    frame = null
    const names = new Set<string>()
    lanes.forEach((lane, l) => {
      lane.response?.curve.keys.forEach((_, i) => {
        const [x, y] = [PAD + KX(lane, i), l * laneHeight + KY(lane, i)]
        if (x >= left - 3 && x <= right + 3 && y >= top - 3 && y <= bottom + 3) names.add(`${lane.response!.uid}:${i}`)
      })
    })
    chosen = names
  }
</script>

<section
  class="will-change-transform flex h-full min-h-0 flex-col bg-panel px-4 pt-1.5"
  aria-label="A life"
  data-part="life"
>
  <div class="flex shrink-0 items-center justify-between leading-[16px]">
    <h2 class="flex items-center gap-1 text-quiet">
      A life
      <button
        type="button"
        class="rounded p-0.5 hover:text-paper"
        aria-pressed={tall}
        aria-label="{tall ? 'Lower' : 'Taller'} lanes"
        title="{tall ? 'Lower' : 'Taller'} lanes"
        onclick={() => (tall = !tall)}><ChevronsUpDown size={12} /></button
      >
      {#if chosen.size > 1}<span class="text-paper">{chosen.size} keys chosen: drag one, all go along</span>{/if}
    </h2>
    {#if profile?.lifespan}
      <span class="text-quiet"
        >lasts <span class="mono text-paper">{withUnit(profile.lifespan[1], SECONDS)}</span>, from
        <span class="mono">{withUnit(profile.lifespan[0], SECONDS)}</span>
        to <span class="mono">{withUnit(profile.lifespan[2], SECONDS)}</span></span
      >
    {/if}
  </div>
  <div bind:clientWidth={width} class="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
    {#if profile && portrait}
      <div
        role="slider"
        tabindex="0"
        aria-label="Share of life"
        aria-valuemin="0"
        aria-valuemax="100"
        aria-valuenow={Math.round(share * 100)}
        aria-valuetext="{Math.round(share * 100)} % of life"
        class="relative h-[58px] cursor-col-resize touch-none overflow-hidden focus-visible:-outline-offset-2"
        onkeydown={scrubKeys}
        onpointerdown={(e) => {
          held = true
          e.currentTarget.setPointerCapture(e.pointerId)
          scrub(e)
        }}
        onpointermove={(e) => held && scrub(e)}
        onpointerup={() => (held = false)}
        onlostpointercapture={() => (held = false)}
      >
        <canvas
          bind:this={canvas}
          class="absolute top-0"
          style:left="{PAD - MARGIN * drawn}px"
          style:width="{portrait.width * drawn}px"
          style:height="58px"
          aria-hidden="true"
        ></canvas>
        <span class="absolute top-0 bottom-0 w-px bg-vermilion" style:left="{PAD + share * inner}px"></span>
      </div>
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <svg
        bind:this={board}
        {width}
        height={lanes.length * laneHeight + 2}
        class="block touch-none select-none"
        onpointerdown={downBoard}
        onpointermove={moveBoard}
        onpointerup={upBoard}
        onlostpointercapture={() => (frame = null)}
      >
        {#each lanes as lane, l (lane.placed.address)}
          {@const course = profile.lives[lane.placed.address][0]}
          <g transform="translate({PAD} {l * laneHeight})">
            <rect width={inner} height={laneHeight - 2} rx="3" fill="var(--color-ink)" />
            <polygon points={band(course)} fill="var(--color-teal)" opacity="0.22" />
            <polyline
              points={line(course, 'mean').join(' ')}
              fill="none"
              stroke="var(--color-teal)"
              stroke-width="1.2"
            />
            {#if lane.response}
              {@const [low, high] = lane.response.input}
              <g transform="translate({low * inner} 0)"
                ><path
                  d={curvePath(lane.response.curve.keys, (high - low) * inner, laneHeight - 2, 0, 1, INSET)}
                  fill="none"
                  stroke="var(--color-paper)"
                  stroke-width="1.2"
                /></g
              >
            {/if}
            <text
              x="-10"
              y={laneHeight / 2 + 2.5}
              text-anchor="end"
              fill="var(--color-quiet)"
              font-size="10.5"
              pointer-events="none"><title>{lane.placed.label}</title>{short(lane.placed.label.toLowerCase())}</text
            >
            <text
              x={inner + 10}
              y={laneHeight / 2 + 2.5}
              fill="var(--color-paper)"
              class="mono"
              style="font-size: 10.5px"
              pointer-events="none"
              >{shown(value(course, share, 'mean'), lane.placed.spec.unit, false)}
              {symbolOf(lane.placed.spec.unit)}</text
            >
            <line
              x1={share * inner}
              x2={share * inner}
              y1="0"
              y2={laneHeight - 2}
              stroke="var(--color-vermilion)"
              opacity="0.7"
              pointer-events="none"
            />
            {#each lane.response?.curve.keys ?? [] as key, i}
              {@const name = `${lane.response!.uid}:${i}`}
              <circle
                cx={KX(lane, i)}
                cy={KY(lane, i)}
                r={tall ? 5 : 4}
                role="button"
                tabindex="0"
                data-lane-key={name}
                aria-pressed={chosen.has(name)}
                aria-label="{lane.placed.label}, key {i + 1}: {Math.round(key.x * 100)} % across, {Math.round(
                  key.y * 100,
                )} % up"
                class="cursor-grab outline-offset-1"
                fill={chosen.has(name) ? 'var(--color-vermilion)' : 'var(--color-ink)'}
                stroke="var(--color-paper)"
                stroke-width="1.4"
                onpointerdown={(e) => downKey(e, lane, i)}
                onpointermove={moveKey}
                onpointerup={upKey}
                onlostpointercapture={upKey}
                onkeydown={(e) => pressKey(e, lane, i)}
                ><title>Drag to move. Shift-click, or a frame around them, chooses several.</title></circle
              >
            {/each}
          </g>
        {/each}
        {#if frame}<rect
            x={Math.min(frame.x, frame.to.x)}
            y={Math.min(frame.y, frame.to.y)}
            width={Math.abs(frame.to.x - frame.x)}
            height={Math.abs(frame.to.y - frame.y)}
            fill="var(--color-teal)"
            fill-opacity="0.12"
            stroke="var(--color-teal)"
            stroke-dasharray="3 3"
          />{/if}
      </svg>
    {:else}
      <p class="pt-6 text-center text-quiet">
        {player.findings.length ? 'Nothing to show until the effect can be played.' : 'Following the first lives…'}
      </p>
    {/if}
  </div>
  <div class="relative h-[15px] shrink-0 text-[10.5px] leading-[14px] text-quiet">
    <span class="absolute -translate-x-1/2" style:left="{PAD}px">birth</span>
    {#if share > 0.08 && share < 0.92}<span
        class="mono absolute -translate-x-1/2 text-[10.5px] text-paper"
        style:left="{PAD + share * inner}px">{Math.round(share * 100)} %</span
      >{/if}
    <span class="absolute -translate-x-1/2" style:left="{PAD + inner}px">end</span>
  </div>
</section>
