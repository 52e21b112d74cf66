<!-- Frames that an emitter, or the whole effect, shows again and again; and its seam, beside itself and measured. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import type { Loop, Seam } from '../wire/types'
  import { api } from '../wire/api'
  import OnceTools from './OnceTools.svelte'
  import PlainRow from './PlainRow.svelte'
  import { asFarAs, comesAndGoes } from './seam'

  let { whole = false }: { /** Of the whole effect, not of the emitter. */ whole?: boolean } = $props()
  const { draft, player, catalog, overlay } = useDesk()
  const FRAME = { symbol: '', scale: 1, digits: 0 }
  const SECONDS = { symbol: 's', scale: 1, digits: 2 }
  const laid = $derived(whole ? undefined : catalog.part(draft.emitter, 'loop'))
  const loop = $derived(whole ? draft.document.loop : draft.emitter.loop)
  const name = $derived(whole ? 'the loop of all' : 'the loop')
  const clip = $derived(draft.document.clip)
  const rate = $derived(clip.frame_rate[0] / clip.frame_rate[1])
  const path = (...steps: (string | number)[]) => (whole ? ['loop', ...steps] : draft.inEmitter(['loop', ...steps]))
  const goes = $derived(
    whole ? player.shown?.emitters : player.shown?.emitters.filter((e) => e.uid === draft.emitter.uid),
  )
  const cannot = $derived((goes ?? []).reduce((sum, each) => sum + (each.lacks?.[0] ?? 0), 0))
  const further = $derived(Math.max(0, ...(goes ?? []).map((each) => each.lacks?.[1] ?? 0)))
  const fills = $derived(further > 0 && clip.run_up + further <= 2000)
  const WAYS = [
    { value: 'matched' as const, label: 'each life carried on' },
    { value: 'blended' as const, label: 'the end blended in' },
  ]
  const PICTURES = (s: Seam) => [`frame ${s.last}`, `frame ${s.first}, after it`, 'what differs, 4 times as bright']
  const set = (label: string, steps: string, value: unknown) => draft.edit(label, path(steps), value)

  let seam = $state.raw<Seam | null>(null)
  let open = $state(false)
  let looking = $state(false)
  const dependencies = $derived(JSON.stringify([loop, clip.run_up, clip.last_frame]))
  async function look(): Promise<void> {
    looking = true
    await overlay.attempt(async () => {
      seam = await api.seam(draft.plain(), whole ? '' : draft.emitter.uid)
      player.alsoSimulated(seam.simulated)
    })
    looking = false
  }
  // as the loop is changed while its seam is looked at, it is looked at again
  $effect(() => {
    void dependencies
    if (!open || !loop || loop.muted) return
    const soon = setTimeout(() => void look(), 350)
    return () => clearTimeout(soon)
  })
</script>

{#snippet frame(of: 'first' | 'last', lowest: number, highest: number, loop: Loop)}
  <NumberField
    value={loop[of]}
    unit={FRAME}
    label={`The loop's ${of} frame`}
    whole
    {lowest}
    {highest}
    drag={Math.max(clip.last_frame - clip.first_frame, 10)}
    ondrag={(v) => draft.drag(path(of), v)}
    onset={(v) => set(`Move the loop's ${of} frame`, of, v)}
  />
{/snippet}

{#if loop}
  <div class={loop.muted ? 'opacity-55' : ''} data-part={whole ? 'loop-of-all' : 'loop'}>
    <PlainRow
      label={whole ? 'Loop of all' : 'Loop'}
      help={laid?.help ?? 'A window of the clip again and again, of all emitters that have no loop of their own.'}
    >
      <span class="text-quiet">frames</span>
      {@render frame('first', clip.first_frame, loop.last - 1, loop)}
      <span class="text-quiet">to</span>
      {@render frame('last', loop.first + 1, clip.last_frame, loop)}
      <span class="text-quiet">round in {Number(((loop.last + 1 - loop.first) / rate).toFixed(3))} s</span>
      {#if loop.first !== clip.first_frame || loop.last !== clip.last_frame}<button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          onclick={() =>
            draft.edit('Loop the whole clip', path(), { ...loop, first: clip.first_frame, last: clip.last_frame })}
          >the whole clip</button
        >{/if}
      {#snippet out()}
        <OnceTools {name} card={laid?.card} title="Loop" muted={loop.muted} {path} />
      {/snippet}
    </PlainRow>
    {#if laid?.lacks}<p class="px-3.5 pb-1 pl-6 text-xs text-amber" role="note">{laid.lacks}</p>{/if}
    <div class="flex flex-wrap items-center gap-2 px-3.5 pb-1 pl-6">
      <Segments
        label="How the end becomes the beginning"
        value={loop.way}
        options={WAYS}
        onpick={(steps) => set(steps === 'matched' ? 'Carry each life on' : 'Blend the end in', 'way', steps)}
      />
      <span
        class="flex items-center gap-1.5 text-quiet"
        title={loop.way === 'matched'
          ? 'Over so long who lives all through the loop glides back to where it was'
          : 'Over so long the end fades out and the beginning fades in'}
        >over <NumberField
          value={loop.over}
          unit={SECONDS}
          label="Seconds over which the end becomes the beginning"
          lowest={0}
          highest={1000}
          drag={2}
          ondrag={(v) => draft.drag(path('over'), v)}
          onset={(v) => set('Change how long the end becomes the beginning', 'over', v)}
        /></span
      >
      <button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        aria-expanded={open}
        onclick={() => (open = !open)}>{open ? 'hide its seam' : 'look at its seam'}</button
      >
    </div>
    {#if cannot && !loop.muted}
      <p class="px-3.5 pb-1 pl-6 text-xs text-amber" role="note" data-part="cannot-go-round">
        {loop.way === 'matched'
          ? `${cannot} live on beyond an end and cannot be carried over it: they fade.`
          : 'Too little is known from before the beginning to blend in.'}
        {#if fills}<button
            type="button"
            class="underline decoration-dotted hover:text-paper"
            title="Frames that are simulated before the first: then those are there who were born before it"
            onclick={() =>
              draft.edit(`Run up ${clip.run_up + further} frames`, ['clip', 'run_up'], clip.run_up + further)}
            >run up {further} frames more</button
          >{/if}
      </p>
    {/if}
    {#if open}
      <div class="px-3.5 pb-2 pl-6 {looking ? 'opacity-60' : ''}" data-part="seam" aria-busy={looking}>
        {#if seam}
          <div class="grid grid-cols-3 gap-1">
            {#each PICTURES(seam) as words, i}
              <figure class="min-w-0">
                <img
                  src="data:image/png;base64,{seam.pictures[i]}"
                  alt={words}
                  class="aspect-video w-full rounded border border-line"
                />
                <figcaption class="text-[11px] text-quiet">{words}</figcaption>
              </figure>
            {/each}
          </div>
          <p class="pt-1 text-xs">
            <span class={seam.jump > 1.5 ? 'text-amber' : 'text-paper'}>{asFarAs(seam)}</span>
            <span class="text-quiet">{comesAndGoes(seam)}</span>
          </p>
        {:else}<p class="text-xs text-quiet">Looking at it…</p>{/if}
      </div>
    {/if}
  </div>
{/if}
