<!-- The steps of a first effect, over the stage: what to do, what it is for; each is seen to be done by itself. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { useDesk } from '../effect/context'
  import { FirstEffect, STEPS } from './first.svelte'

  const { draft, player } = useDesk()
  const at = $derived(FirstEffect.stepOf(draft.id))
  const step = $derived(at === null ? null : STEPS[at])
  let before = $state.raw(untrack(() => draft.document))
  const done = $derived(step !== null && step !== undefined && step.done(draft.document, before, player.playing))
  $effect(() => {
    void at
    before = untrack(() => draft.document)
  })
  // what it is about is outlined; rows come and go, so it is looked for again and again
  $effect(() => {
    const wanted = step?.at
    let pointed: Element | null = null
    const point = () => {
      const found = wanted ? document.querySelector(wanted) : null
      if (found === pointed) return
      pointed?.removeAttribute('data-pointed')
      found?.setAttribute('data-pointed', '')
      if (found && wanted?.startsWith('[data-row')) found.scrollIntoView({ block: 'nearest' })
      pointed = found
    }
    point()
    const timer = setInterval(point, 250)
    return () => {
      clearInterval(timer)
      pointed?.removeAttribute('data-pointed')
    }
  })
  const go = (to: number) => FirstEffect.put({ effect: draft.id, step: to })
</script>

{#if at !== null}
  <section
    class="absolute bottom-3 left-3.5 z-20 w-[310px] rounded-lg border border-line bg-ink/95 px-4 py-3 shadow-2xl"
    aria-label="First effect"
    aria-live="polite"
    data-part="first"
  >
    {#if step}
      <p class="flex items-center text-xs text-quiet">
        <span class="mono">{at + 1} of {STEPS.length}</span>
        <button
          type="button"
          class="ml-auto hover:text-paper hover:underline"
          title="Help has it, to take it up again"
          onclick={() => FirstEffect.put('off')}>leave it</button
        >
      </p>
      <h2 class="mt-0.5 text-[15px] font-bold">{step.title}</h2>
      <p class="mt-1">{step.words}</p>
      <p class="mt-1 text-xs text-quiet">{step.why}</p>
      <p class="mt-2 flex items-center justify-end gap-1.5">
        {#if done}<span class="mr-auto text-moss">Done.</span>{/if}
        {#if at > 0}<Action small onclick={() => go(at! - 1)}>Back</Action>{/if}
        <Action small kind={done ? 'chosen' : 'line'} onclick={() => go(at! + 1)}>{done ? 'On' : 'Skip'}</Action>
      </p>
    {:else}
      <h2 class="text-[15px] font-bold">That is how it goes</h2>
      <p class="mt-1">
        Something a particle has, a range, a curve, something it does. All there is in Kagero is made of that.
      </p>
      <p class="mt-1 text-xs text-quiet">
        Help lists the keys; New effect has beginnings with remarks that say why they are as they are.
      </p>
      <p class="mt-2 text-right"><Action small kind="chosen" onclick={() => FirstEffect.put('done')}>Close</Action></p>
    {/if}
  </section>
{/if}
