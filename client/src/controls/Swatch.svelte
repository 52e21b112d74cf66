<!-- A linear-light colour: press it to choose another. -->
<script lang="ts">
  import type { Anchor } from './anchor'
  import { css, split, type Rgb } from './colour'
  import ColourChooser from './ColourChooser.svelte'
  import Floating from './Floating.svelte'

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
    /** Whether it may be brighter than white. */
    brightness?: boolean
  } = $props()

  let open = $state.raw<Anchor | null>(null)
  let button = $state<HTMLButtonElement>()
  const parts = $derived(split(value))
</script>

<span class="inline-flex items-center gap-2">
  <button
    bind:this={button}
    type="button"
    aria-haspopup="dialog"
    aria-label="{label}: {parts.hex}{parts.brightness > 1 ? `, ${parts.brightness.toFixed(2)} times as bright` : ''}"
    title="Choose another colour"
    class="h-[18px] w-[34px] rounded border border-line hover:border-paper"
    style:background={css(value)}
    onclick={(e) => (open = open ? null : e.currentTarget.getBoundingClientRect())}
  ></button>
  {#if parts.brightness > 1}<span class="mono text-xs text-quiet">{Number(parts.brightness.toFixed(2))} ×</span>{/if}
</span>
{#if open}
  <Floating
    anchor={open}
    width={392}
    {label}
    onclose={() => {
      open = null
      button?.focus()
    }}
  >
    <ColourChooser {value} {label} {brightness} {ondrag} {onset} onpick={() => (open = null)} />
  </Floating>
{/if}
