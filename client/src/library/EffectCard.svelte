<!-- An effect in the library: a moving preview, its population over time, count, length, when saved, tags. -->
<script lang="ts">
  import NameInput from '../controls/NameInput.svelte'
  import { tick } from 'svelte'
  import { rateText } from '../effect/rate'
  import { api } from '../wire/api'
  import { inTurn } from '../wire/turns'
  import type { Card, CardFacts } from '../wire/types'
  import MovingPicture from '../controls/MovingPicture.svelte'
  import { secondsOf } from './shelves'

  let {
    card,
    fresh,
    inside,
    onopen,
    onrename,
    onduplicate,
    onarrange,
    onremove,
    ontag,
  }: {
    card: Card
    /** Whether it was made just now: it is pointed out. */
    fresh: boolean
    /** The folder that is looked at: of a card only what lies below is said. */
    inside: string
    onopen: () => void
    onrename: (name: string) => void
    onduplicate: () => void
    onarrange: () => void
    onremove: () => void
    ontag: (tag: string) => void
  } = $props()
  let facts = $state.raw<CardFacts | null>(null)
  let seen = $state(false)
  let moving = $state(false)
  let renaming = $state(false)
  let article = $state<HTMLElement>()
  const most = $derived(Math.max(1, ...(facts?.counts ?? [1])))
  const line = $derived(
    (facts?.counts ?? [])
      .map(
        (c, i, all) => `${((i / Math.max(1, all.length - 1)) * 288).toFixed(1)},${(22 - (c / most) * 20).toFixed(1)}`,
      )
      .join(' '),
  )
  const folder = $derived(
    (card.folder.startsWith(`${inside}/`)
      ? card.folder.slice(inside.length + 1)
      : inside
        ? ''
        : card.folder
    ).replaceAll('/', ' / '),
  )
  const saved = $derived(
    new Date(card.saved).toLocaleString([], { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' }),
  )

  $effect(() => {
    const watcher = new IntersectionObserver(([entry]) => (seen ||= entry.isIntersecting), { rootMargin: '200px' })
    if (article) watcher.observe(article)
    return () => watcher.disconnect()
  })
  $effect(() => {
    const { id, revision } = card
    if (!seen) return
    void revision
    return inTurn(async (signal) => void (facts = await api.card(id, signal)))
  })
  $effect(() => {
    if (fresh) void tick().then(() => article?.scrollIntoView({ block: 'nearest' }))
  })
  const rename = () => (renaming = true)
</script>

<article
  bind:this={article}
  class="overflow-hidden rounded-lg border bg-panel [contain-intrinsic-size:auto_290px] [content-visibility:auto] focus-within:border-quiet hover:border-quiet {fresh
    ? 'border-dashed border-paper'
    : 'border-line'}"
  draggable="true"
  data-card={card.id}
  ondragstart={(e) => e.dataTransfer?.setData('application/x-kagero-effect', String(card.id))}
  onpointerenter={() => (moving = true)}
  onpointerleave={() => (moving = false)}
  onfocusin={() => (moving = true)}
  onfocusout={() => (moving = false)}
>
  <button
    type="button"
    onclick={onopen}
    onkeydown={(e) => {
      if (e.key === 'F2') rename()
      else if (e.key === 'Delete') onremove()
    }}
    class="block w-full text-left focus-visible:-outline-offset-2"
    aria-label="Open {card.name}"
  >
    <MovingPicture
      src={facts ? `/api/effects/${card.id}/card.png?revision=${card.revision}` : null}
      {moving}
      pictures={facts?.pictures}
      seconds={secondsOf(card)}
    />
    <svg
      viewBox="0 0 288 24"
      preserveAspectRatio="none"
      class="block h-6 w-full border-b border-line bg-ink"
      role="img"
      aria-label="Up to {most} particles alive"
    >
      {#if line}<polygon points="0,24 {line} 288,24" fill="var(--color-teal)" opacity="0.3" /><polyline
          points={line}
          fill="none"
          stroke="var(--color-teal)"
          vector-effect="non-scaling-stroke"
        />{/if}
    </svg>
  </button>
  <div class="px-3.5 pt-2.5 pb-1">
    {#if renaming}
      <NameInput
        value={card.name}
        label="Name of the effect"
        onset={onrename}
        onclose={() => (renaming = false)}
        class="h-[23px] w-full text-[15px]"
      />
    {:else}
      <h2 class="truncate text-[15px] font-bold" ondblclick={rename} title="{card.name}. Double-click (or F2) renames.">
        {card.name}
      </h2>
    {/if}
    <p class="mono mt-1 truncate text-quiet">
      {#if card.playable}{facts ? `${most} alive at most` : '…'}{:else}<span
          class="text-amber"
          title="Open it to see why. The picture is of the last state that could be played.">cannot be played yet</span
        >{/if}, {secondsOf(card).toFixed(1)} s at {rateText(card)}
    </p>
  </div>
  <div class="flex items-center gap-1 px-3.5 text-xs text-quiet">
    <span class="mr-auto truncate" title="Saved {new Date(card.saved).toLocaleString()}">{saved}</span>
    <button
      type="button"
      class="rounded px-1 hover:text-paper hover:underline"
      onclick={onduplicate}
      aria-label="Duplicate {card.name}">Duplicate</button
    >
    <button
      type="button"
      class="rounded px-1 hover:text-paper hover:underline"
      onclick={onarrange}
      aria-label="Arrange {card.name}"
      title="Its name, folder and tags">Arrange</button
    >
    <button
      type="button"
      class="rounded px-1 hover:text-paper hover:underline"
      onclick={onremove}
      aria-label="Delete {card.name}"
      title="It can be taken back for 30 days">Delete</button
    >
  </div>
  <div class="flex min-h-[26px] flex-wrap items-center gap-1 px-3.5 pt-1 pb-2 text-xs text-quiet">
    {#if folder}<span class="max-w-full truncate" title="Folder">{folder}</span>{/if}
    {#each card.tags as tag (tag)}<button
        type="button"
        class="rounded-full border border-line px-2 leading-4 hover:border-quiet hover:text-paper"
        title="Only those tagged {tag}"
        onclick={() => ontag(tag)}>{tag}</button
      >{/each}
  </div>
</article>
