<!-- An effect in the library: a moving preview, its population over time, count, length, when saved. -->
<script module lang="ts">
  /** Cards are asked for one after the other: opening an effect never waits behind them. */
  let turn: Promise<void> = Promise.resolve()
</script>

<script lang="ts">
  import { api } from '../wire/api'
  import type { Card, CardFacts } from '../wire/types'
  import { framesASecond, rateText } from '../effect/rate'

  let {
    card,
    onopen,
    onduplicate,
    onremove,
  }: { card: Card; onopen: () => void; onduplicate: () => void; onremove: () => void } = $props()
  let facts = $state.raw<CardFacts | null>(null)
  let picture = $state(9)
  let timer: ReturnType<typeof setInterval> | undefined
  const seconds = $derived((card.last_frame - card.first_frame) / framesASecond(card))
  const most = $derived(Math.max(1, ...(facts?.counts ?? [1])))
  const line = $derived(
    (facts?.counts ?? [])
      .map(
        (c, i, all) => `${((i / Math.max(1, all.length - 1)) * 288).toFixed(1)},${(22 - (c / most) * 20).toFixed(1)}`,
      )
      .join(' '),
  )
  const saved = $derived(new Date(card.saved).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' }))
  const still = matchMedia('(prefers-reduced-motion: reduce)').matches

  $effect(() => {
    const { id } = card
    let left = false
    turn = turn.then(async () => {
      if (!left)
        await api.card(id).then(
          (f) => void (facts = f),
          () => undefined,
        )
    })
    return () => {
      left = true
      clearInterval(timer)
    }
  })
  function move(on: boolean) {
    clearInterval(timer)
    if (on && !still)
      timer = setInterval(
        () => (picture = (picture + 1) % (facts?.pictures ?? 16)),
        Math.max(60, (seconds * 1000) / 16),
      )
  }
</script>

<article
  class="overflow-hidden rounded-lg border border-line bg-panel focus-within:border-quiet hover:border-quiet"
  onpointerenter={() => move(true)}
  onpointerleave={() => move(false)}
  onfocusin={() => move(true)}
  onfocusout={() => move(false)}
>
  <button
    type="button"
    onclick={onopen}
    class="block w-full text-left focus-visible:-outline-offset-2"
    aria-label="Open {card.name}"
  >
    <div
      class="h-[162px] w-[288px] bg-[#0f1418]"
      style:background-image={facts ? `url('/api/effects/${card.id}/card.png?revision=${card.revision}')` : undefined}
      style:background-position="-{picture * 288}px 0"
    ></div>
    <svg
      width="288"
      height="24"
      class="block border-b border-line bg-ink"
      role="img"
      aria-label="Up to {most} particles alive"
    >
      {#if line}<polygon points="0,24 {line} 288,24" fill="#58a6a6" opacity="0.3" /><polyline
          points={line}
          fill="none"
          stroke="#58a6a6"
        />{/if}
    </svg>
    <div class="px-3.5 pt-2.5 pb-1">
      <h2 class="truncate text-[15px] font-bold">{card.name}</h2>
      <p class="mono mt-1 text-quiet">
        {#if card.playable}{facts ? `${most} alive at most` : '…'}{:else}<span
            class="text-amber"
            title="Open it to see why. The picture is of the last state that could be played."
            >cannot be played yet</span
          >{/if}, {seconds.toFixed(1)} s at {rateText(card)}
      </p>
    </div>
  </button>
  <div class="flex items-center gap-1 px-3.5 pb-2.5 text-xs text-quiet">
    <span class="mr-auto">saved {saved}</span>
    <button
      type="button"
      class="rounded px-1 hover:text-paper hover:underline"
      onclick={onduplicate}
      aria-label="Duplicate {card.name}">Duplicate</button
    >
    <button
      type="button"
      class="rounded px-1 hover:text-paper hover:underline"
      onclick={onremove}
      aria-label="Delete {card.name}">Delete</button
    >
  </div>
</article>
