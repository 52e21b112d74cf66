<!--
  The curve, large, over the histogram of its source. Drag keys; double-click or Enter on the plot adds one; arrows move
  the chosen key, Delete removes it, 1 2 3 choose its shape, Tab walks.
-->
<script lang="ts">
  import { curvePath } from '../controls/curve'
  import type { Distribution } from '../wire/packets'
  import type { Key } from '../wire/types'
  import { evaluate, pieces } from '../controls/curve'

  let { keys, chosen, distribution, onchoose, ondrag, onset }: {
    keys: readonly Key[]
    chosen: number
    distribution: Distribution | undefined
    onchoose: (index: number) => void
    /** New keys while a hand moves them; `onset` follows with a name for the edit. */
    ondrag: (keys: Key[]) => void
    onset: (keys: Key[], label: string) => void
  } = $props()

  const GAP = 2e-3
  let plot = $state<HTMLDivElement>()
  let width = $state(600)
  let height = $state(140)
  let dragged: { index: number; moved: boolean } | null = null
  const INSET = 8
  const RESULT = 52
  const wide = $derived(Math.max(50, width - RESULT - 8))
  const X = $derived((x: number) => x * wide)
  const Y = $derived((y: number) => height - INSET - y * (height - 2 * INSET))
  const top = $derived(Math.max(1, ...(distribution?.bins ?? [])))
  const resultTop = $derived(Math.max(1, ...(distribution?.results ?? [])))

  const round = (v: number) => Number(v.toFixed(4))

  function place(event: PointerEvent | MouseEvent): { x: number; y: number } {
    const box = plot!.getBoundingClientRect()
    const x = (event.clientX - box.left) / wide
    const y = (height - INSET - (event.clientY - box.top)) / (height - 2 * INSET)
    return { x: round(Math.min(Math.max(x, 0), 1)), y: round(Math.min(Math.max(y, 0), 1)) }
  }
  function moved(index: number, to: { x: number; y: number }): Key[] {
    const low = index ? keys[index - 1].x + GAP : 0
    const high = index < keys.length - 1 ? keys[index + 1].x - GAP : 1
    return keys.map((key, i) => (i === index ? { ...key, x: round(Math.min(Math.max(to.x, low), high)), y: to.y } : key))
  }
  function down(event: PointerEvent, index: number) {
    if (event.button !== 0) return
    event.stopPropagation()
    onchoose(index)
    dragged = { index, moved: false }
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    ;(event.currentTarget as HTMLElement).focus()
  }
  function move(event: PointerEvent) {
    if (!dragged) return
    dragged.moved = true
    ondrag(moved(dragged.index, place(event)))
  }
  function up() {
    if (dragged?.moved) onset([...keys], 'Move a key')
    dragged = null
  }
  export function add(x: number, y?: number) {
    if (keys.some((k) => Math.abs(k.x - x) < GAP * 2)) return
    const after = keys.findIndex((k) => k.x > x)
    const index = after < 0 ? keys.length : after
    const key: Key = { x: round(x), y: round(y ?? evaluate(pieces(keys), x)), shape: keys[Math.max(0, index - 1)].shape }
    onset([...keys.slice(0, index), key, ...keys.slice(index)], 'Add a key')
    onchoose(index)
  }
  function press(event: KeyboardEvent, index: number) {
    const step = event.shiftKey ? 0.002 : 0.02
    const key = keys[index]
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key]
    const shape = ({ '1': 'linear', '2': 'smooth', '3': 'hold' } as const)[event.key]
    if (way) onset(moved(index, { x: key.x + way[0], y: round(Math.min(Math.max(key.y + way[1], 0), 1)) }), 'Move a key')
    else if ((event.key === 'Delete' || event.key === 'Backspace') && keys.length > 1) {
      onset(keys.filter((_, i) => i !== index), 'Remove a key')
      onchoose(Math.max(0, index - 1))
    } else if (shape) onset(keys.map((k, i) => (i === index ? { ...k, shape } : k)), `Make a key ${shape}`)
    else if (event.key === 'Enter' || event.key === 'Insert') {
      const next = keys[index + 1]
      add(next ? (key.x + next.x) / 2 : (key.x + 1) / 2)
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div bind:this={plot} bind:clientWidth={width} bind:clientHeight={height} class="relative h-full w-full touch-none select-none">
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <svg {width} {height} class="absolute inset-0" ondblclick={(e) => { const p = place(e); add(p.x, p.y) }} aria-hidden="true">
    <rect width={wide} {height} rx="4" fill="#12171b" />
    {#each [0.25, 0.5, 0.75] as t}
      <path d="M0 {Y(t)}H{wide}M{wide * t} 0V{height}" stroke="#232c34" />
    {/each}
    {#each distribution?.bins ?? [] as count, i}
      <rect x={(i * wide) / distribution!.bins.length} y={height - (count / top) * height * 0.8} width={Math.max(0.5, wide / distribution!.bins.length - 0.8)} height={(count / top) * height * 0.8} fill="#58a6a6" opacity="0.28" />
    {/each}
    <path d={curvePath(keys, wide, height, 0, 1, INSET)} fill="none" stroke="#ece5d8" stroke-width="2" />
    {#each distribution?.results ?? [] as count, i}
      {@const step = (height - 2 * INSET) / distribution!.results!.length}
      <rect x={wide + 8} y={height - INSET - (i + 1) * step} width={(count / resultTop) * (RESULT - 4)} height={Math.max(1, step - 1)} fill="#58a6a6" opacity="0.45" />
    {/each}
  </svg>
  {#each keys as key, i}
    <button
      type="button" onpointerdown={(e) => down(e, i)} onpointermove={move} onpointerup={up} onlostpointercapture={up} onkeydown={(e) => press(e, i)} onfocus={() => onchoose(i)}
      data-key={i} aria-label="Key {i + 1} of {keys.length}: {Math.round(key.x * 100)} % across, {Math.round(key.y * 100)} % up, {key.shape ?? 'smooth'}" aria-pressed={chosen === i}
      class="absolute h-[14px] w-[14px] -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-full border-2 border-paper {chosen === i ? 'bg-vermilion' : 'bg-ink'}"
      style:left="{X(key.x)}px" style:top="{Y(key.y)}px"
    ></button>
  {/each}
</div>
