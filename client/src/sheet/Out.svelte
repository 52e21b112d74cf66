<!-- What a row gives right now: smallest, mean and largest value; swatches for colour; a length and arrow for vectors. The picked particle stands out. -->
<script lang="ts">
  import { symbolOf } from '../controls/display.svelte'
  import { css } from '../controls/colour'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog.svelte'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft, player } = useDesk()
  const unit = $derived(placed.spec.unit)
  const live = $derived(player.measure(draft.owner.uid)?.rows[placed.address])
  const one = $derived(player.one(draft.owner.uid)?.rows[placed.address])
  /** A scale has no direction: what it is along each axis, once where that is the same. */
  const scale = $derived.by(() => {
    if (placed.spec.kind !== 'vector' || !placed.spec.key.endsWith('.scale') || !live?.spread) return null
    const along = live.spread.map((s) => shown(s[1], unit, false))
    return along.every((each) => each === along[0]) ? along[0] : along.join(' × ')
  })
  const vector = $derived.by(() => {
    if (placed.spec.kind !== 'vector' || !live?.spread) return null
    const mean = live.spread.map((s) => s[1])
    const length = Math.hypot(...mean)
    // seen from in front, y up
    const reach = Math.hypot(mean[0], mean[1]) || 1
    return {
      mean,
      length,
      x: (mean[0] / reach) * 6,
      y: (-mean[1] / reach) * 6,
      depth: Math.abs(mean[2]) > 1e-9 && Math.hypot(mean[0], mean[1]) < 1e-9,
    }
  })
  const words = $derived.by(() => {
    const spread = live?.spread
    if (!spread || placed.spec.kind !== 'number') return null
    const [low, mean, high] = spread[0]
    const same = shown(low, unit, false) === shown(high, unit, false)
    return {
      short: `${same ? shown(mean, unit, false) : `${shown(low, unit, false)} – ${shown(high, unit, false)}`}${unit.symbol === '%' || unit.symbol === '°' ? ` ${unit.symbol}` : ''}`,
      long: `smallest ${withUnit(low, unit)}, mean ${withUnit(mean, unit)}, largest ${withUnit(high, unit)}`,
    }
  })
  const place = (value: number | undefined) => {
    const spread = live?.spread?.[0]
    if (value === undefined || !spread || placed.spec.kind !== 'number' || spread[2] - spread[0] < 1e-9) return null
    return Math.min(Math.max((value - spread[0]) / (spread[2] - spread[0]), 0), 1)
  }
  const meanAt = $derived(place(live?.spread?.[0][1]))
  const oneAt = $derived(place(one?.[0]))
</script>

<span class="flex items-center justify-end gap-1.5" data-out={placed.address}>
  {#if placed.spec.kind === 'colour' && live?.swatches}
    {#if one}<span
        class="h-3 w-3 rounded-full border border-vermilion"
        style:background={css(one as unknown as [number, number, number])}
        title="the picked particle"
      ></span>{/if}
    <svg width="88" height="12" role="img" aria-label="colours from the youngest to the oldest">
      {#each live.swatches as swatch, i}
        <rect
          x={(i * 88) / live.swatches.length}
          width={88 / live.swatches.length + 0.5}
          height="12"
          fill={css(swatch)}
        />
      {/each}
    </svg>
  {:else if scale}
    <span class="mono whitespace-nowrap" title="along its own axes">{scale}</span>
  {:else if vector}
    <svg width="15" height="15" viewBox="-7.5 -7.5 15 15" aria-hidden="true"
      ><line
        x1={-vector.x * 0.6}
        y1={-vector.y * 0.6}
        x2={vector.x}
        y2={vector.y}
        stroke="var(--color-teal)"
        stroke-width="1.4"
      /><circle cx={vector.x} cy={vector.y} r="1.8" fill="var(--color-teal)" /></svg
    >
    <span class="mono whitespace-nowrap" title="mean {vector.mean.map((m) => withUnit(m, unit)).join(', ')}"
      >{shown(vector.length, unit, false)}{unit.symbol ? ` ${symbolOf(unit)}` : ''}</span
    >
  {:else if words}
    <span
      class="mono relative pb-[3px] text-right whitespace-nowrap text-paper"
      title={one ? `${words.long}; the picked particle ${withUnit(one[0], unit)}` : words.long}
    >
      {words.short}
      {#if meanAt !== null}
        <span class="absolute right-0 bottom-0 left-0 h-px bg-line"></span>
        <span class="absolute -bottom-px h-[3px] w-[3px] rounded-full bg-teal" style:left="calc({meanAt * 100}% - 1px)"
        ></span>
        {#if oneAt !== null}<span
            class="absolute -bottom-[3px] h-[7px] w-[2px] bg-vermilion"
            style:left="calc({oneAt * 100}% - 1px)"
            data-one={placed.address}
          ></span>{/if}
      {/if}
    </span>
  {:else}
    <span class="mono text-quiet" title="No particle lives at this frame">–</span>
  {/if}
</span>
