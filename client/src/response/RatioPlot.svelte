<!-- A proportion over the histogram of its source: from nought to twice its reference. -->
<script lang="ts">
  import { ratioPath } from '../controls/curve'
  import type { Distribution } from '../wire/packets'

  let {
    power,
    distribution,
    mark = null,
  }: { power: number; distribution: Distribution | undefined; mark?: number | null } = $props()
  let width = $state(600)
  let height = $state(140)
  const RESULT = 52
  const wide = $derived(Math.max(50, width - RESULT - 8))
  const top = $derived(Math.max(1, ...(distribution?.bins ?? [])))
  const resultTop = $derived(Math.max(1, ...(distribution?.results ?? [])))
</script>

<div bind:clientWidth={width} bind:clientHeight={height} class="relative h-full w-full">
  <svg {width} {height} class="absolute inset-0" role="img" aria-label="In proportion to the power {power}">
    <rect width={wide} {height} rx="4" fill="var(--color-ink)" />
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
    <line x1={wide / 2} x2={wide / 2} y1="0" y2={height} stroke="var(--color-line)" />
    <line x1="0" x2={wide} y1={height / 2} y2={height / 2} stroke="var(--color-line)" />
    <path d={ratioPath(power, wide, height, 4)} fill="none" stroke="var(--color-paper)" stroke-width="2" />
    {#if mark !== null}<line
        x1={mark * wide}
        x2={mark * wide}
        y1="0"
        y2={height}
        stroke="var(--color-vermilion)"
        stroke-width="1.4"
      />{/if}
    {#each distribution?.results ?? [] as count, i}
      {@const step = (height - 16) / distribution!.results!.length}
      <rect
        x={wide + 8}
        y={height - 8 - (i + 1) * step}
        width={(count / resultTop) * (RESULT - 4)}
        height={Math.max(1, step - 1)}
        fill="var(--color-teal)"
        opacity="0.45"
      />
    {/each}
  </svg>
</div>
