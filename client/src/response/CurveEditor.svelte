<!--
  The curve, large, over the histogram of its source. Drag keys and the handles of free pieces; double-click or Enter adds
  a key; arrows move the chosen one, Delete removes it, 1 2 3 4 choose its shape, Tab walks.
-->
<script lang="ts">
  import { curvePath } from '../controls/curve'
  import type { Distribution } from '../wire/packets'
  import type { Key } from '../wire/types'
  import { evaluate, handles, pieces } from '../controls/curve'

  let {
    keys,
    chosen,
    distribution,
    mark = null,
    result = null,
    onchoose,
    ondrag,
    onset,
  }: {
    /** Where the picked particle stands across, and its result up, in shares. */
    mark?: number | null
    result?: number | null
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
  let dragged: { index: number; moved: boolean; handle?: 'out' | 'into' } | null = null
  const INSET = 8
  const RESULT = 52
  const wide = $derived(Math.max(50, width - RESULT - 8))
  const X = $derived((x: number) => x * wide)
  const Y = $derived((y: number) => height - INSET - y * (height - 2 * INSET))
  const top = $derived(Math.max(1, ...(distribution?.bins ?? [])))
  const resultTop = $derived(Math.max(1, ...(distribution?.results ?? [])))

  const round = (v: number) => Number(v.toFixed(4))

  function place(event: PointerEvent | MouseEvent, beyond = false): { x: number; y: number } {
    const box = plot!.getBoundingClientRect()
    const x = (event.clientX - box.left) / wide
    const y = (height - INSET - (event.clientY - box.top)) / (height - 2 * INSET)
    return beyond
      ? { x, y: Math.min(Math.max(y, -1), 2) }
      : { x: round(Math.min(Math.max(x, 0), 1)), y: round(Math.min(Math.max(y, 0), 1)) }
  }
  function moved(index: number, to: { x: number; y: number }): Key[] {
    const low = index ? keys[index - 1].x + GAP : 0
    const high = index < keys.length - 1 ? keys[index + 1].x - GAP : 1
    return keys.map((key, i) =>
      i === index ? { ...key, x: round(Math.min(Math.max(to.x, low), high)), y: to.y } : key,
    )
  }
  /** The handles that can be dragged: of each free piece, at both its ends. */
  const grips = $derived(
    keys.flatMap((key, i) => {
      if (key.shape !== 'free' || !keys[i + 1]) return []
      const { out, into } = handles(keys, i)
      const next = keys[i + 1]
      return [
        { index: i, side: 'out' as const, fx: key.x, fy: key.y, x: key.x + out[0], y: key.y + out[1] },
        { index: i + 1, side: 'into' as const, fx: next.x, fy: next.y, x: next.x + into[0], y: next.y + into[1] },
      ]
    }),
  )
  function turned(index: number, side: 'out' | 'into', to: { x: number; y: number }): Key[] {
    const key = keys[index]
    const other = keys[side === 'out' ? index + 1 : index - 1]
    const [low, high] = side === 'out' ? [0, other.x - key.x] : [other.x - key.x, 0]
    const handle: [number, number] = [round(Math.min(Math.max(to.x - key.x, low), high)), round(to.y - key.y)]
    return keys.map((k, i) => (i === index ? { ...k, [side]: handle } : k))
  }
  function turn(event: KeyboardEvent, grip: (typeof grips)[number]) {
    const step = event.shiftKey ? 0.002 : 0.02
    const side = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key]
    if (!side) return
    onset(turned(grip.index, grip.side, { x: grip.x + side[0], y: grip.y + side[1] }), 'Turn a handle')
    event.preventDefault()
    event.stopPropagation()
  }
  function down(event: PointerEvent, index: number, handle?: 'out' | 'into') {
    if (event.button !== 0) return
    event.stopPropagation()
    onchoose(index)
    dragged = { index, moved: false, handle }
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    ;(event.currentTarget as HTMLElement).focus()
  }
  function move(event: PointerEvent) {
    if (!dragged) return
    dragged.moved = true
    ondrag(
      dragged.handle ? turned(dragged.index, dragged.handle, place(event, true)) : moved(dragged.index, place(event)),
    )
  }
  function up() {
    if (dragged?.moved) onset([...keys], dragged.handle ? 'Turn a handle' : 'Move a key')
    dragged = null
  }
  export function add(x: number, y?: number) {
    if (keys.some((k) => Math.abs(k.x - x) < GAP * 2)) return
    const after = keys.findIndex((k) => k.x > x)
    const index = after < 0 ? keys.length : after
    const key: Key = {
      x: round(x),
      y: round(y ?? evaluate(pieces(keys), x)),
      shape: keys[Math.max(0, index - 1)].shape,
    }
    onset([...keys.slice(0, index), key, ...keys.slice(index)], 'Add a key')
    onchoose(index)
  }
  function press(event: KeyboardEvent, index: number) {
    const step = event.shiftKey ? 0.002 : 0.02
    const key = keys[index]
    const side = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key]
    const shape = ({ '1': 'linear', '2': 'smooth', '3': 'hold', '4': 'free' } as const)[event.key]
    if (side)
      onset(moved(index, { x: key.x + side[0], y: round(Math.min(Math.max(key.y + side[1], 0), 1)) }), 'Move a key')
    else if ((event.key === 'Delete' || event.key === 'Backspace') && keys.length > 1) {
      onset(
        keys.filter((_, i) => i !== index),
        'Remove a key',
      )
      onchoose(Math.max(0, index - 1))
    } else if (shape)
      onset(
        keys.map((k, i) => (i === index ? { ...k, shape } : k)),
        `Make a key ${shape}`,
      )
    else if (event.key === 'Enter' || event.key === 'Insert') {
      const next = keys[index + 1]
      add(next ? (key.x + next.x) / 2 : (key.x + 1) / 2)
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div
  bind:this={plot}
  bind:clientWidth={width}
  bind:clientHeight={height}
  class="relative h-full w-full touch-none select-none"
>
  <svg
    {width}
    {height}
    class="absolute inset-0"
    ondblclick={(e) => {
      const p = place(e)
      add(p.x, p.y)
    }}
    aria-hidden="true"
  >
    <rect width={wide} {height} rx="4" fill="var(--color-ink)" />
    {#each [0.25, 0.5, 0.75] as t}
      <path d="M0 {Y(t)}H{wide}M{wide * t} 0V{height}" stroke="var(--color-raised)" />
    {/each}
    {#each distribution?.bins ?? [] as count, i}
      <rect
        x={(i * wide) / distribution!.bins.length}
        y={height - (count / top) * height * 0.8}
        width={Math.max(0.5, wide / distribution!.bins.length - 0.8)}
        height={(count / top) * height * 0.8}
        fill="var(--color-teal)"
        opacity="0.28"
      />
    {/each}
    <path d={curvePath(keys, wide, height, 0, 1, INSET)} fill="none" stroke="var(--color-paper)" stroke-width="2" />
    {#each grips as grip}<line
        x1={X(grip.fx)}
        y1={Y(grip.fy)}
        x2={X(grip.x)}
        y2={Y(grip.y)}
        stroke="var(--color-quiet)"
      />{/each}
    {#if mark !== null}<line
        x1={X(mark)}
        x2={X(mark)}
        y1="0"
        y2={height}
        stroke="var(--color-vermilion)"
        stroke-width="1.4"
      />{/if}
    {#if result !== null}<path d="M{wide + 2} {Y(result)}l6 -4v8z" fill="var(--color-vermilion)" />{/if}
    {#each distribution?.results ?? [] as count, i}
      {@const step = (height - 2 * INSET) / distribution!.results!.length}
      <rect
        x={wide + 8}
        y={height - INSET - (i + 1) * step}
        width={(count / resultTop) * (RESULT - 4)}
        height={Math.max(1, step - 1)}
        fill="var(--color-teal)"
        opacity="0.45"
      />
    {/each}
  </svg>
  {#each grips as grip}
    <button
      type="button"
      onpointerdown={(e) => down(e, grip.index, grip.side)}
      onpointermove={move}
      onpointerup={up}
      onlostpointercapture={up}
      onkeydown={(e) => turn(e, grip)}
      data-handle="{grip.index}-{grip.side}"
      aria-label="Handle {grip.side === 'out' ? 'out of' : 'into'} key {grip.index + 1}"
      class="absolute h-[11px] w-[11px] -translate-x-1/2 -translate-y-1/2 rotate-45 cursor-grab border border-paper bg-ink"
      style:left="{X(grip.x)}px"
      style:top="{Math.min(Math.max(Y(grip.y), 6), height - 6)}px"
    ></button>
  {/each}
  {#each keys as key, i}
    <button
      type="button"
      onpointerdown={(e) => down(e, i)}
      onpointermove={move}
      onpointerup={up}
      onlostpointercapture={up}
      onkeydown={(e) => press(e, i)}
      onfocus={() => onchoose(i)}
      data-key={i}
      aria-label="Key {i + 1} of {keys.length}: {Math.round(key.x * 100)} % across, {Math.round(
        key.y * 100,
      )} % up, {key.shape ?? 'smooth'}"
      aria-pressed={chosen === i}
      class="absolute h-[14px] w-[14px] -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-full border-2 border-paper {chosen ===
      i
        ? 'bg-vermilion'
        : 'bg-ink'}"
      style:left="{X(key.x)}px"
      style:top="{Y(key.y)}px"
    ></button>
  {/each}
</div>
