<!-- A number over a range, turned by hand or keyboard. A mark shows another value to compare with. -->
<script lang="ts">
  let {
    value,
    low,
    high,
    step,
    label,
    words,
    mark = null,
    large = false,
    ondrag,
    onset,
  }: {
    value: number
    low: number
    high: number
    step: number
    label: string
    /** The value as it is read out. */
    words: string
    mark?: number | null
    /** For fingers. */
    large?: boolean
    ondrag: (value: number) => void
    onset: (value: number) => void
  } = $props()

  const share = (v: number) => Math.min(Math.max((v - low) / (high - low), 0), 1)
  const tidy = (v: number) => Math.min(Math.max(Number(v.toPrecision(8)), low), high)
</script>

<span class="relative flex w-full items-center {large ? 'h-11' : 'h-6'}">
  <span class="pointer-events-none absolute inset-x-0 rounded-full bg-line {large ? 'h-2' : 'h-1'}"
    ><span class="block h-full rounded-full bg-quiet" style:width="{share(value) * 100}%"></span></span
  >
  {#if mark !== null}<span
      class="pointer-events-none absolute h-4 w-[2px] bg-teal"
      style:left="calc({share(mark)} * (100% - {large ? 28 : 14}px) + {large ? 13 : 6}px)"
    ></span>{/if}
  <input
    type="range"
    min={low}
    max={high}
    {step}
    {value}
    aria-label={label}
    aria-valuetext={words}
    oninput={(e) => ondrag(tidy(e.currentTarget.valueAsNumber))}
    onchange={(e) => onset(tidy(e.currentTarget.valueAsNumber))}
    class="slider relative w-full cursor-ew-resize appearance-none bg-transparent {large ? 'large h-11' : 'h-6'}"
  />
</span>

<style>
  .slider::-webkit-slider-thumb {
    appearance: none;
    width: 14px;
    height: 14px;
    border-radius: 50%;
    background: var(--color-paper);
    border: 3px solid var(--color-ink);
    box-shadow: 0 0 0 1px var(--color-paper);
  }
  .slider::-moz-range-thumb {
    width: 10px;
    height: 10px;
    border-radius: 50%;
    background: var(--color-paper);
    border: 2px solid var(--color-ink);
    box-shadow: 0 0 0 1px var(--color-paper);
  }
  .slider.large::-webkit-slider-thumb {
    width: 28px;
    height: 28px;
    border-width: 5px;
  }
  .slider.large::-moz-range-thumb {
    width: 22px;
    height: 22px;
    border-width: 4px;
  }
  .slider:active::-webkit-slider-thumb {
    background: var(--color-vermilion);
    box-shadow: 0 0 0 1px var(--color-vermilion);
  }
  .slider:focus-visible {
    outline: none;
  }
  .slider:focus-visible::-webkit-slider-thumb {
    box-shadow: 0 0 0 3px var(--color-teal);
  }
  .slider:focus-visible::-moz-range-thumb {
    box-shadow: 0 0 0 3px var(--color-teal);
  }
</style>
