<!-- What a row gives right now: smallest, mean and largest value; swatches for colour; a length for vectors. -->
<script lang="ts">
  import { css } from '../controls/colour'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog'

  let { placed }: { placed: PlacedRow } = $props()
  const { draft, player } = useDesk()
  const unit = $derived(placed.spec.unit)
  const live = $derived(player.measure(draft.emitter.uid)?.rows[placed.address])
  const words = $derived.by(() => {
    const spread = live?.spread
    if (!spread) return null
    if (placed.spec.kind === 'vector') {
      const mean = spread.map((s) => s[1])
      return { short: mean.map((m) => shown(m, { ...unit, digits: 1 }, false)).join(' '), long: `mean ${mean.map((m) => withUnit(m, unit)).join(', ')}` }
    }
    const [low, mean, high] = spread[0]
    const same = shown(low, unit, false) === shown(high, unit, false)
    return {
      short: `${same ? shown(mean, unit, false) : `${shown(low, unit, false)} – ${shown(high, unit, false)}`}${unit.symbol === '%' ? ' %' : ''}`,
      long: `smallest ${withUnit(low, unit)}, mean ${withUnit(mean, unit)}, largest ${withUnit(high, unit)}`,
    }
  })
  const meanAt = $derived.by(() => {
    const spread = live?.spread?.[0]
    if (!spread || placed.spec.kind !== 'number' || spread[2] - spread[0] < 1e-9) return null
    return (spread[1] - spread[0]) / (spread[2] - spread[0])
  })
</script>

<span class="flex justify-end" data-out={placed.address}>
  {#if placed.spec.kind === 'colour' && live?.swatches}
    <svg width="88" height="12" role="img" aria-label="colours from the youngest to the oldest">
      {#each live.swatches as swatch, i}
        <rect x={(i * 88) / live.swatches.length} width={88 / live.swatches.length + 0.5} height="12" fill={css(swatch)} />
      {/each}
    </svg>
  {:else if words}
    <span class="mono relative pb-[3px] text-right whitespace-nowrap text-paper" title={words.long}>
      {words.short}
      {#if meanAt !== null}
        <span class="absolute right-0 bottom-0 left-0 h-px bg-line"></span>
        <span class="absolute -bottom-px h-[3px] w-[3px] rounded-full bg-teal" style:left="calc({meanAt * 100}% - 1px)"></span>
      {/if}
    </span>
  {:else}
    <span class="mono text-quiet" title="No particle lives at this frame">–</span>
  {/if}
</span>
