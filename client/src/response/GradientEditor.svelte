<!-- A gradient over the histogram of its source. Drag stops; double-click adds one; arrows move, Delete removes. -->
<script lang="ts">
  import { css, type Rgb } from '../controls/colour'
  import type { Distribution } from '../wire/packets'
  import type { Stop } from '../wire/types'

  let {
    stops,
    chosen,
    distribution,
    mark = null,
    onchoose,
    ondrag,
    onset,
  }: {
    /** Where the picked particle stands, in shares. */
    mark?: number | null
    stops: readonly Stop[]
    chosen: number
    distribution: Distribution | undefined
    onchoose: (index: number) => void
    ondrag: (stops: Stop[]) => void
    onset: (stops: Stop[], label: string) => void
  } = $props()

  const GAP = 2e-3
  let bar = $state<HTMLDivElement>()
  let width = $state(600)
  let dragged: { index: number; moved: boolean } | null = null
  const top = $derived(Math.max(1, ...(distribution?.bins ?? [])))
  // the screen mixes in sRGB, the effect in linear light: enough steps in between show the same colours
  const steps = $derived(
    [...Array.from({ length: 65 }, (_, i) => i / 64), ...stops.flatMap((s) => [Math.max(0, s.x - 1e-4), s.x])]
      .sort((a, b) => a - b)
      .map((x) => ({ x, colour: mixAt(x) })),
  )

  function mixAt(x: number): Rgb {
    const next = stops.findIndex((s) => s.x > x)
    if (next === 0) return stops[0].colour
    if (next < 0) return stops[stops.length - 1].colour
    const [a, b] = [stops[next - 1], stops[next]]
    const share = (x - a.x) / (b.x - a.x)
    const t = a.shape === 'hold' ? 0 : a.shape === 'smooth' ? share * share * (3 - 2 * share) : share
    return [0, 1, 2].map((c) => a.colour[c] + (b.colour[c] - a.colour[c]) * t) as unknown as Rgb
  }
  const across = (event: MouseEvent) =>
    Math.min(Math.max((event.clientX - bar!.getBoundingClientRect().left) / width, 0), 1)
  function moved(index: number, x: number): Stop[] {
    const low = index ? stops[index - 1].x + GAP : 0
    const high = index < stops.length - 1 ? stops[index + 1].x - GAP : 1
    return stops.map((s, i) => (i === index ? { ...s, x: Number(Math.min(Math.max(x, low), high).toFixed(4)) } : s))
  }
  function down(event: PointerEvent, index: number) {
    if (event.button !== 0) return
    onchoose(index)
    dragged = { index, moved: false }
    ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
    ;(event.currentTarget as HTMLElement).focus()
  }
  function move(event: PointerEvent) {
    if (!dragged) return
    dragged.moved = true
    ondrag(moved(dragged.index, across(event)))
  }
  function up() {
    if (dragged?.moved) onset([...stops], 'Move a colour')
    dragged = null
  }
  function add(x: number) {
    if (stops.some((s) => Math.abs(s.x - x) < GAP * 2)) return
    const after = stops.findIndex((s) => s.x > x)
    const index = after < 0 ? stops.length : after
    const colour = mixAt(x).map((c) => Number(c.toFixed(5))) as [number, number, number]
    onset(
      [
        ...stops.slice(0, index),
        { x: Number(x.toFixed(4)), colour, shape: stops[Math.max(0, index - 1)].shape },
        ...stops.slice(index),
      ],
      'Add a colour',
    )
    onchoose(index)
  }
  function press(event: KeyboardEvent, index: number) {
    const step = (event.shiftKey ? 0.002 : 0.02) * (event.key === 'ArrowLeft' ? -1 : 1)
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight')
      onset(moved(index, stops[index].x + step), 'Move a colour')
    else if ((event.key === 'Delete' || event.key === 'Backspace') && stops.length > 1) {
      onset(
        stops.filter((_, i) => i !== index),
        'Remove a colour',
      )
      onchoose(Math.max(0, index - 1))
    } else if (event.key === 'Enter' || event.key === 'Insert') add((stops[index].x + (stops[index + 1]?.x ?? 1)) / 2)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div bind:this={bar} bind:clientWidth={width} class="relative h-full w-full touch-none select-none">
  <svg {width} height="100%" class="absolute inset-0" ondblclick={(e) => add(across(e))} aria-hidden="true">
    <defs>
      <linearGradient id="gradient-editor">
        {#each steps as step}<stop offset={step.x} stop-color={css(step.colour)} />{/each}
      </linearGradient>
    </defs>
    <rect {width} height="52%" rx="4" fill="url(#gradient-editor)" />
    <rect {width} y="54%" height="46%" rx="4" fill="var(--color-ink)" />
    {#each distribution?.bins ?? [] as count, i}
      {@const tall = (count / top) * 42}
      <rect
        x={(i * width) / distribution!.bins.length}
        y="{100 - tall}%"
        width={Math.max(0.5, width / distribution!.bins.length - 0.8)}
        height="{tall}%"
        fill="var(--color-teal)"
        opacity="0.4"
      />
    {/each}
    {#if mark !== null}<line
        x1={mark * width}
        x2={mark * width}
        y1="0"
        y2="100%"
        stroke="var(--color-vermilion)"
        stroke-width="1.4"
      />{/if}
  </svg>
  {#each stops as stop, i}
    <button
      type="button"
      onpointerdown={(e) => down(e, i)}
      onpointermove={move}
      onpointerup={up}
      onlostpointercapture={up}
      onkeydown={(e) => press(e, i)}
      onfocus={() => onchoose(i)}
      data-stop={i}
      aria-label="Colour {i + 1} of {stops.length} at {Math.round(stop.x * 100)} %"
      aria-pressed={chosen === i}
      class="absolute top-[52%] h-5 w-[13px] -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-[3px] border-2 {chosen ===
      i
        ? 'border-vermilion'
        : 'border-paper'}"
      style:left="{stop.x * width}px"
      style:background={css(stop.colour)}
    ></button>
  {/each}
</div>
