<!--
  Choosing a colour: a ring of hues, purity and value within it, the code screens use, numbers in sRGB or linear light, brightness
  above white, the colour under a press on the stage, and those used last.
-->
<script lang="ts">
  import Pipette from '@lucide/svelte/icons/pipette'
  import { onDestroy, untrack } from 'svelte'
  import { keep, kept } from './kept'
  import { css, decode, encode, hueOf, ofCode, ofHue, split, type Rgb } from './colour'
  import NumberField from './NumberField.svelte'
  import { picking } from './picking.svelte'
  import Segments from './Segments.svelte'

  let {
    value,
    label,
    brightness = true,
    ondrag,
    onset,
    onpick,
  }: {
    value: Rgb
    label: string
    /** Whether it may be brighter than white. */
    brightness?: boolean
    ondrag: (value: [number, number, number]) => void
    onset: (value: [number, number, number]) => void
    /** Told when a colour is about to be taken from the stage, which this panel would hide. */
    onpick: () => void
  } = $props()

  const RECENT = 'kagero.colours'
  const MOST = 14
  const SIZE = 168
  const RING = 17
  const INNER = SIZE / 2 - RING - 6
  const HALF = INNER * Math.SQRT1_2
  let recent = $state.raw<[number, number, number][]>(kept(RECENT, []))
  let coded = $state<'srgb' | 'linear'>(kept('kagero.colour-code', 'srgb'))
  let text = $state<string | null>(null)
  /** A grey has no hue, and black no purity: the ones chosen last stay. */
  let hue = $state(untrack(() => hueOf(value).hue))
  const now = $derived(hueOf(value, hue))
  const parts = $derived(split(value))
  let hand: 'ring' | 'field' | null = null
  const first = untrack(() => [...value])

  function turn(event: PointerEvent): [number, number, number] {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    const [x, y] = [event.clientX - box.left - SIZE / 2, event.clientY - box.top - SIZE / 2]
    if (hand === 'ring') {
      hue = (Math.atan2(x, -y) / (2 * Math.PI) + 1) % 1
      return ofHue({ ...now, hue, purity: now.purity, value: now.value }, parts.brightness)
    }
    const share = (v: number) => Math.min(Math.max((v + HALF) / (2 * HALF), 0), 1)
    return ofHue({ hue, purity: share(x), value: 1 - share(y) }, parts.brightness)
  }
  function down(event: PointerEvent) {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    hue = now.hue
    hand =
      Math.hypot(event.clientX - box.left - SIZE / 2, event.clientY - box.top - SIZE / 2) > INNER ? 'ring' : 'field'
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    ondrag(turn(event))
  }
  function up(event: PointerEvent) {
    if (!hand) return
    onset(turn(event))
    hand = null
  }
  function nudge(event: KeyboardEvent, change: (step: number, up: number) => Rgb) {
    const size = event.shiftKey ? 0.002 : 0.02
    const [across, upward] =
      { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key] ?? []
    if (across === undefined) return
    event.preventDefault()
    event.stopPropagation()
    hue = now.hue
    onset([...change(across * size, upward! * size)])
  }
  const within = (x: number) => Math.min(Math.max(x, 0), 1)
  function channel(i: number, v: number): [number, number, number] {
    const chosen = [...value] as [number, number, number]
    chosen[i] = Number((coded === 'srgb' ? decode(within(v / 255)) * parts.brightness : v).toFixed(5))
    return chosen
  }
  function take() {
    const chosen = text === null ? null : ofCode(text)
    text = null
    if (chosen) onset(chosen.map((c) => Number((c * parts.brightness).toFixed(5))) as [number, number, number])
  }
  function pick() {
    const give = onset
    picking.wish = (colour) => colour && give([...colour])
    onpick()
  }
  onDestroy(() => {
    if (String(first) === String(value)) return
    const chosen = [...value] as [number, number, number]
    keep(RECENT, [chosen, ...recent.filter((each) => String(each) !== String(chosen))].slice(0, MOST))
  })
</script>

<div class="flex gap-3 p-3" data-part="colour">
  <div
    class="relative shrink-0 touch-none"
    style:width="{SIZE}px"
    style:height="{SIZE}px"
    onpointerdown={down}
    onpointermove={(e) => hand && ondrag(turn(e))}
    onpointerup={up}
    role="presentation"
  >
    <div
      class="absolute inset-0 rounded-full"
      style:background="conic-gradient({Array.from({ length: 25 }, (_, i) =>
        css(ofHue({ hue: (i / 24) % 1, purity: 1, value: 1 })),
      ).join(',')})"
      style:mask="radial-gradient(circle, transparent {INNER + 5}px, black {INNER + 6}px)"
    ></div>
    <div
      class="absolute rounded-[3px]"
      style:left="{SIZE / 2 - HALF}px"
      style:top="{SIZE / 2 - HALF}px"
      style:width="{2 * HALF}px"
      style:height="{2 * HALF}px"
      style:background="linear-gradient(to top, black, transparent), linear-gradient(to right, white, {css(
        ofHue({ hue: now.hue, purity: 1, value: 1 }),
      )})"
    ></div>
    <button
      type="button"
      class="absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-white shadow-[0_0_0_1px_black]"
      style:left="{SIZE / 2 + Math.sin(now.hue * 2 * Math.PI) * (SIZE / 2 - RING / 2)}px"
      style:top="{SIZE / 2 - Math.cos(now.hue * 2 * Math.PI) * (SIZE / 2 - RING / 2)}px"
      aria-label="{label}, hue {Math.round(now.hue * 360)}°: arrows turn it"
      onkeydown={(e) =>
        nudge(e, (step, upward) => {
          hue = (now.hue + step + upward + 1) % 1
          return ofHue({ ...now, hue }, parts.brightness)
        })}
    ></button>
    <button
      type="button"
      class="absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-white shadow-[0_0_0_1px_black]"
      style:left="{SIZE / 2 + (now.purity * 2 - 1) * HALF}px"
      style:top="{SIZE / 2 + (1 - now.value * 2) * HALF}px"
      style:background={css(value)}
      aria-label="{label}, purity {Math.round(now.purity * 100)} %, value {Math.round(
        now.value * 100,
      )} %: arrows move it"
      onkeydown={(e) =>
        nudge(e, (step, upward) =>
          ofHue(
            { hue: now.hue, purity: within(now.purity + step), value: within(now.value + upward) },
            parts.brightness,
          ),
        )}
    ></button>
  </div>
  <div class="flex min-w-0 flex-1 flex-col gap-2">
    <div class="flex items-center gap-2">
      <span class="h-6 w-10 rounded border border-line" style:background={css(value)}></span>
      <input
        value={text ?? parts.hex}
        oninput={(e) => (text = e.currentTarget.value)}
        onblur={take}
        onkeydown={(e) => {
          if (e.key !== 'Enter') return
          e.preventDefault()
          take()
        }}
        aria-label="{label}, code"
        aria-invalid={text !== null && !ofCode(text)}
        spellcheck="false"
        autocomplete="off"
        class="mono h-6 w-[86px] rounded border bg-ink px-1.5 py-0 text-[13px] focus:border-teal focus:ring-0 {text !==
          null && !ofCode(text)
          ? 'border-amber'
          : 'border-line'}"
      />
      <button
        type="button"
        class="ml-auto rounded p-1 text-quiet hover:text-paper"
        aria-label="Take a colour from the stage"
        title="Take a colour from the stage: press on a particle, a prop or a picture there"
        onclick={pick}><Pipette size={15} /></button
      >
    </div>
    <Segments
      label="Numbers in"
      value={coded}
      options={[
        { value: 'srgb', label: 'sRGB', title: 'As screens code it, 0 to 255 (IEC 61966-2-1)' },
        { value: 'linear', label: 'linear', title: 'As light adds up, in which Kagero computes' },
      ]}
      onpick={(v) => keep('kagero.colour-code', (coded = v))}
    />
    <div class="flex gap-2.5">
      {#each ['red', 'green', 'blue'] as name, i (name)}
        <span class="flex items-baseline gap-1"
          ><span class="text-[11px] text-quiet">{name[0]}</span><NumberField
            value={coded === 'srgb' ? Math.round(encode(value[i] / parts.brightness) * 255) : value[i]}
            unit={{ symbol: '', scale: 1, digits: coded === 'srgb' ? 0 : 3 }}
            label="{label} {name}"
            lowest={0}
            highest={coded === 'srgb' ? 255 : brightness ? 64 : 1}
            whole={coded === 'srgb'}
            drag={coded === 'srgb' ? 200 : 1}
            ondrag={(v) => ondrag(channel(i, v))}
            onset={(v) => onset(channel(i, v))}
          /></span
        >
      {/each}
    </div>
    {#if brightness}
      <span class="flex items-baseline gap-2"
        ><span class="text-quiet">brightness</span><NumberField
          value={parts.brightness}
          unit={{ symbol: '×', scale: 1, digits: 2 }}
          label="{label} brightness"
          lowest={1}
          highest={64}
          drag={2}
          reset={1}
          ondrag={(b) => ondrag(ofHue(now, b))}
          onset={(b) => onset(ofHue(now, b))}
        /></span
      >
    {/if}
    {#if recent.length}
      <div class="flex flex-wrap gap-1" aria-label="Used last" role="group">
        {#each recent as each (String(each))}
          <button
            type="button"
            class="h-[18px] w-[18px] rounded-[3px] border border-line hover:border-paper"
            style:background={css(each)}
            aria-label="{split(each).hex}{split(each).brightness > 1
              ? `, ${split(each).brightness.toFixed(1)} times`
              : ''}"
            title={split(each).hex}
            onclick={() => onset(each)}
          ></button>
        {/each}
      </div>
    {/if}
  </div>
</div>
