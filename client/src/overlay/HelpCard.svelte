<!-- A card on one thing of the sheet: what it is, what it does in a small moving picture, its usual range, two examples to try and take back. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import Floating from '../controls/Floating.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import MovingPicture from '../controls/MovingPicture.svelte'
  import { api } from '../wire/api'
  import type { HelpCard } from '../wire/types'

  const { draft, overlay } = useDesk()
  const open = $derived(overlay.card!)
  let card = $state.raw<HelpCard | null>(null)
  let problem = $state('')
  /** What was tried, as an edit that can be taken back. */
  let tried = $state('')
  let busy = $state(false)
  $effect(() => {
    const { key } = open
    overlay.cards().then(
      (cards) => (card = cards.get(key) ?? null),
      () => (problem = 'The server does not answer. Try again in a moment.'),
    )
  })
  async function attempt(number: number) {
    busy = true
    problem = ''
    try {
      if (tried) await back()
      const emitter = draft.emitter.uid
      const { key, address } = open
      let label = ''
      await draft.ask(async (document) => {
        const tried = await api.tryCard({ document, emitter, key, number, address: address ?? '' })
        label = tried.label
        return tried
      }, `Try ${card!.label.toLowerCase()}`)
      tried = label
    } catch (error) {
      problem = (error as Error).message || 'The server does not answer. Try again in a moment.'
    }
    busy = false
  }
  async function back() {
    await draft.undo()
    tried = ''
  }
</script>

<Floating anchor={open.anchor} width={320} tall={420} label="Help: {card?.label ?? ''}" onclose={() => overlay.close()}>
  {#if card}
    <MovingPicture src="/api/help/cards/{encodeURIComponent(card.key)}/card.png" moving seconds={2.6} />
    <div class="flex min-h-0 flex-col gap-1.5 overflow-y-auto px-3.5 py-2.5" data-part="card">
      <h2 class="font-bold {card.kind === 'function' ? 'mono text-[13px]' : 'text-[15px]'}">{card.label}</h2>
      <p>{card.help}</p>
      <p class="text-xs text-quiet">
        {card.shows}
        {#if card.low !== null && card.high !== null}
          Usually <span class="mono">{shown(card.low, card.unit)} – {withUnit(card.high, card.unit)}</span>.
        {/if}
      </p>
      <div class="mt-1 flex flex-wrap gap-1.5">
        {#each card.tries as words, number}
          <Action small kind="line" disabled={busy} onclick={() => attempt(number)} hint="On {draft.emitter.name}"
            >Try: {words}</Action
          >
        {/each}
      </div>
      {#if tried}
        <p class="text-xs" role="status">
          Tried. <button type="button" class="underline decoration-dotted" disabled={busy} onclick={back}
            >Take it back</button
          >, or keep it.
        </p>
      {/if}
      {#if problem}<p class="text-xs text-amber" role="alert">{problem}</p>{/if}
    </div>
  {:else}
    <p class="px-3.5 py-3 text-quiet">{problem || 'One moment…'}</p>
  {/if}
</Floating>
