<!-- A linear-light colour: the system's picker for its hue, and a number for brightness above 1. -->
<script lang="ts">
  import { css, join, split, type Rgb } from './colour'
  import NumberField from './NumberField.svelte'

  let {
    value,
    label,
    ondrag,
    onset,
    brightness = true,
  }: {
    value: Rgb
    label: string
    ondrag: (value: [number, number, number]) => void
    onset: (value: [number, number, number]) => void
    /** Whether to show the brightness number beside it. */
    brightness?: boolean
  } = $props()

  const parts = $derived(split(value))
</script>

<span class="inline-flex items-center gap-2">
  <label
    class="relative inline-block h-[18px] w-[34px] cursor-pointer overflow-hidden rounded border border-line focus-within:outline-2 focus-within:outline-teal"
    style:background={css(value)}
  >
    <input
      type="color"
      aria-label={label}
      value={parts.hex}
      class="absolute inset-0 h-full w-full cursor-pointer opacity-0"
      oninput={(e) => ondrag(join(e.currentTarget.value, parts.brightness))}
      onchange={(e) => onset(join(e.currentTarget.value, parts.brightness))}
    />
  </label>
  {#if brightness}
    <NumberField
      value={parts.brightness}
      unit={{ symbol: '×', scale: 1, digits: 2 }}
      label="{label} brightness"
      lowest={1}
      highest={64}
      drag={2}
      reset={1}
      ondrag={(b) => ondrag(join(parts.hex, b))}
      onset={(b) => onset(join(parts.hex, b))}
    />
  {/if}
</span>
