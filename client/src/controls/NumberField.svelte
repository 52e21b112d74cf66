<!--
  A number with its unit: drag it sideways, or click (or Enter) and type. Arrow keys step, Shift makes finer, Delete
  resets, Escape gives up. Typed text may be arithmetic. A value outside the range is said, and not taken.
-->
<script module lang="ts">
  /** Closes the field that stands open: there is one at a time, also where what was typed in it cannot be taken. */
  let close: (() => void) | null = null
</script>

<script lang="ts">
  import { tick } from 'svelte'
  import type { Unit } from '../wire/types'
  import { displayed } from './display.svelte'
  import { parseNumber, shown, withUnit, type Change } from './numbers'

  let {
    value,
    unit,
    label,
    lowest = -Infinity,
    highest = Infinity,
    drag = 1,
    reset,
    whole = false,
    boxed = false,
    widen,
    ondrag,
    onset,
    class: extra = '',
  }: {
    value: number
    unit: Unit
    label: string
    lowest?: number
    highest?: number
    /** What a drag over 200 pixels changes, in stored units. */
    drag?: number
    reset?: number
    whole?: boolean
    boxed?: boolean
    /** What lets the range grow to a value that was typed past an end; offered there. */
    widen?: (value: number) => void
    /** Told while dragging; `onset` follows at the end. */
    ondrag?: (value: number) => void
    /** change: what was typed or dragged does to a number, for several at once. */
    onset: (value: number, change: Change) => void
    class?: string
  } = $props()

  let typing = $state(false)
  let text = $state('')
  let problem = $state('')
  let beyond = $state<number | null>(null)
  let start: { x: number; value: number; moved: boolean } | null = null
  let latest = 0
  let dragging = $state(false)
  let input = $state<HTMLInputElement>()
  let button = $state<HTMLButtonElement>()

  const scale = $derived(displayed(unit).scale)
  const held = (v: number) => Math.min(Math.max(whole ? Math.round(v) : v, lowest), highest)
  const tidy = (v: number) => (whole ? Math.round(v) : Number((v * scale).toPrecision(5)) / scale)

  const becomes = (v: number): Change => ({ apply: () => v, anyUnit: false })
  const movesBy = (by: number): Change => ({ apply: (was) => was + by, anyUnit: false })
  function down(event: PointerEvent) {
    if (event.button !== 0) return
    start = { x: event.clientX, value, moved: false }
    ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  }
  function move(event: PointerEvent) {
    if (!start) return
    const by = event.clientX - start.x
    if (!start.moved && Math.abs(by) < 3) return
    start.moved = dragging = true
    const pace = event.shiftKey ? 0.1 : event.ctrlKey || event.metaKey ? 10 : 1
    latest = held(tidy(start.value + (by / 200) * drag * pace))
    ;(ondrag ?? (() => {}))(latest)
  }
  /** Escape gives up a drag: the number is what it was. */
  function giveUp(event: KeyboardEvent) {
    if (event.key !== 'Escape' || !start?.moved) return
    event.preventDefault()
    event.stopPropagation()
    const was = start.value
    start = null
    dragging = false
    ;(ondrag ?? (() => {}))(was)
    onset(was, movesBy(0))
  }
  function up() {
    const was = start
    start = null
    dragging = false
    if (!was) return
    if (was.moved) onset(latest, movesBy(latest - was.value))
    else type()
  }
  function lost() {
    if (start?.moved) onset(latest, movesBy(latest - start.value))
    start = null
    dragging = false
  }
  const shut = () => {
    typing = false
    problem = ''
  }
  function type() {
    close?.()
    close = shut
    text = shown(value, unit)
    problem = ''
    beyond = null
    typing = true
    void tick().then(() => input?.select())
  }
  function take(): boolean {
    const result = parseNumber(text, unit, value)
    if ('error' in result) problem = result.error
    else if (result.value < lowest || result.value > highest) {
      beyond = widen ? result.value : null
      problem = `From ${withUnit(lowest, unit)} to ${withUnit(highest, unit)}.`
    } else if (whole && !Number.isInteger(result.value)) problem = 'A whole number, please.'
    else {
      typing = false
      problem = ''
      if (shown(result.value, unit) !== shown(value, unit) || result.value !== value) {
        if (text.trim() !== shown(value, unit)) onset(result.value, result.change)
      }
      return true
    }
    return false
  }
  function keys(event: KeyboardEvent) {
    if (event.key === 'Enter') {
      event.preventDefault()
      if (take()) void tick().then(() => button?.focus())
    } else if (event.key === 'Escape') {
      event.stopPropagation()
      typing = false
      problem = ''
      void tick().then(() => button?.focus())
    }
  }
  function step(event: KeyboardEvent) {
    const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key]
    if (by) {
      event.preventDefault()
      const size = whole ? 1 : (drag / 100) * (event.shiftKey ? 0.1 : 1)
      onset(held(tidy(value + by * size)), movesBy(by * size))
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && reset !== undefined) {
      event.preventDefault()
      event.stopPropagation()
      onset(reset, becomes(reset))
    } else if (/^[\d.(+*-]$/.test(event.key) && !event.ctrlKey && !event.metaKey) {
      event.preventDefault()
      type()
      text = event.key
      void tick().then(() => input?.setSelectionRange(1, 1))
    }
  }
</script>

<svelte:window onkeydowncapture={dragging ? giveUp : undefined} />
<span class="relative inline-flex {extra}">
  {#if dragging}<span
      class="pointer-events-none absolute top-full left-0 z-40 mt-1 rounded border border-line bg-ink px-1.5 py-0.5 text-[11px] whitespace-nowrap text-quiet shadow-lg"
      >Shift finer, Ctrl coarser, Esc gives up</span
    >{/if}
  {#if typing}
    <!-- svelte-ignore a11y_autofocus -->
    <input
      bind:this={input}
      bind:value={text}
      onkeydown={keys}
      onblur={() => typing && take()}
      autofocus
      aria-label={label}
      aria-invalid={problem !== ''}
      spellcheck="false"
      autocomplete="off"
      class="mono h-[24px] w-20 rounded border bg-ink px-1.5 py-0 text-paper focus:ring-0 focus:outline-none {problem
        ? 'border-amber'
        : 'border-teal'}"
    />
    {#if problem}
      <span
        role="alert"
        class="absolute top-full left-0 z-40 mt-1 w-max max-w-60 rounded border border-amber bg-ink px-2 py-1 text-xs text-amber shadow-lg"
        >{problem}{#if beyond !== null}
          <button
            type="button"
            class="ml-1 rounded border border-line px-1.5 text-paper hover:border-quiet"
            onpointerdown={(e) => e.preventDefault()}
            onclick={() => {
              typing = false
              problem = ''
              widen?.(beyond!)
            }}>Widen to {withUnit(beyond, unit)}</button
          >{/if}</span
      >
    {/if}
  {:else}
    <button
      bind:this={button}
      type="button"
      onpointerdown={down}
      onpointermove={move}
      onpointerup={up}
      onlostpointercapture={lost}
      onkeydown={step}
      onclick={(event) => {
        if (event.detail === 0) type()
      }}
      aria-label="{label}: {withUnit(value, unit)}"
      title="Drag sideways, or click and type. Arrows step, Shift is finer{reset !== undefined
        ? ', Delete resets'
        : ''}."
      class="mono cursor-ew-resize touch-none whitespace-nowrap {boxed
        ? 'rounded-md border border-line bg-ink px-2 py-[5px] hover:border-quiet'
        : 'border-b border-dotted border-edge pb-0.5 hover:border-paper'}">{withUnit(value, unit)}</button
    >
  {/if}
</span>
