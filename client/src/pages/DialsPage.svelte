<!-- Only the stage and the dials, for those who adjust an effect and do not build it. By touch, by mouse or by keyboard alone. -->
<script lang="ts">
  import { display } from '../controls/display.svelte'
  import { onDestroy, onMount, untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { withUnit } from '../controls/numbers'
  import Slider from '../controls/Slider.svelte'
  import { stepOf } from '../dials/dials.svelte'
  import { Turning } from '../dials/turning.svelte'
  import type { Catalog } from '../effect/catalog.svelte'
  import { provideDesk } from '../effect/context'
  import { PickedLife } from '../effect/onelife.svelte'
  import { OpenEffect } from '../effect/open.svelte'
  import { Overlay } from '../effect/overlay.svelte'
  import { Player } from '../effect/player.svelte'
  import { Presets } from '../effect/presets.svelte'
  import { Room } from '../effect/room.svelte'
  import { Selection } from '../effect/selection.svelte'
  import { framesASecond } from '../effect/rate'
  import Stage from '../stage/Stage.svelte'
  import type { Opened } from '../wire/types'
  import Mark from './Mark.svelte'

  let { opened, catalog }: { opened: Opened; catalog: Catalog } = $props()
  const draft = untrack(() => new OpenEffect(opened))
  const player = new Player(draft.document)
  const overlay = new Overlay()
  untrack(() =>
    provideDesk({
      draft,
      player,
      catalog,
      overlay,
      selection: new Selection(draft, catalog),
      presets: new Presets(),
      picked: new PickedLife(draft, player),
      room: new Room(),
    }),
  )
  untrack(() => {
    catalog.layout = opened.layout
    draft.onlayout = (layout) => (catalog.layout = layout)
  })
  const turning = new Turning(draft.id, draft.document, (dragging) => player.change(turning.played(), dragging))
  const clip = draft.document.clip
  display.follow(clip)
  const dials = turning.dials
  const turned = $derived(Object.keys(turning.values).length)
  const seconds = $derived((player.frame - clip.first_frame) / framesASecond(clip))
  const unit = (dial: (typeof dials)[number]) => catalog.data.dial_units[dial.unit ?? '']
  const words = $derived(
    !turning.name && turned
      ? 'Not kept yet: say whose values these are.'
      : {
          untouched: 'Turn a dial; the artist’s own values stay as they are.',
          turned: 'turned',
          keeping: 'keeping…',
          kept: `Kept as “${turning.name}” for the artist to take or leave.`,
          unreachable: turning.problem,
        }[turning.state],
  )

  onMount(() => {
    player.frame = Math.round((clip.first_frame + clip.last_frame) / 2)
    player.change(draft.document, false)
    void overlay.attempt(() => turning.load())
  })
  onDestroy(() => {
    turning.close()
    player.close()
  })
  function keys(event: KeyboardEvent) {
    const target = event.target as HTMLElement
    if (target.closest('input:not([type=range]), dialog') || event.ctrlKey || event.metaKey || event.altKey) return
    if (event.key === ' ' && !target.closest('input, textarea, select')) player.toggle()
    else if (event.key === 'c' && turned) turning.compare()
    else if (event.key === ',' || event.key === '.') player.go(player.frame + (event.key === '.' ? 1 : -1))
    else return
    event.preventDefault()
  }
</script>

<svelte:window onkeydown={keys} onpagehide={() => turning.close()} />
<svelte:head><title>{draft.document.name}: dials · Kagero</title></svelte:head>

<div class="page grid h-full min-h-0" data-part="dials-page">
  <header class="flex min-h-11 items-center gap-3 border-b border-line bg-panel px-4 [grid-area:top]">
    <a href="/" class="flex items-center gap-3 rounded" title="To the library"><Mark /></a>
    <h1 class="truncate text-[15px] font-bold">{draft.document.name}</h1>
    <span class="text-quiet">dials</span>
  </header>
  <main class="min-h-0 [grid-area:stage]"><Stage bare /></main>
  <div class="flex items-center gap-3 border-t border-line bg-panel px-4 [grid-area:time]">
    <Action kind="line" class="h-11! min-w-20" onclick={() => player.toggle()} hint="Space"
      >{player.playing ? 'Pause' : 'Play'}</Action
    >
    <Slider
      large
      value={player.frame}
      low={clip.first_frame}
      high={clip.last_frame}
      step={1}
      label="Frame"
      words="frame {player.frame}, {seconds.toFixed(2)} s"
      ondrag={(f) => player.go(f)}
      onset={(f) => player.go(f)}
    />
    <span class="mono w-28 text-right whitespace-nowrap"
      >{player.frame} <span class="text-quiet">· {seconds.toFixed(2)} s</span></span
    >
  </div>
  <section class="flex min-h-0 flex-col overflow-y-auto bg-panel [grid-area:dials]" aria-label="Dials">
    <div class="border-b border-line px-5 py-3">
      <label class="flex items-center gap-3"
        ><span class="text-quiet whitespace-nowrap">Whose values</span>
        <input
          value={turning.name}
          maxlength="60"
          list="names"
          placeholder="Your name, or what they are for"
          class="h-10 min-w-0 flex-1 rounded-md border border-line bg-ink px-3 py-0 text-[14px] text-paper focus:border-teal focus:ring-0"
          onchange={(e) => turning.rename(e.currentTarget.value)}
        />
        <datalist id="names"
          >{#each turning.names as name}<option value={name}></option>{/each}</datalist
        >
      </label>
      <p
        class="mt-1.5 min-h-[18px] {turning.state === 'unreachable' || (!turning.name && turned)
          ? 'text-amber'
          : 'text-quiet'}"
        role="status"
        data-part="kept"
      >
        {words}
      </p>
    </div>
    {#each dials as dial (dial.uid)}
      {@const value = turning.value(dial)}
      <div class="border-b border-line px-5 pt-3 pb-1" data-dial={dial.uid}>
        <div class="flex items-baseline justify-between gap-3">
          <span class="text-[15px] font-bold">{dial.name}</span>
          <span class="flex items-baseline gap-3 text-[14px] [&_button.mono]:text-[15px]!">
            {#if value !== dial.value}<button
                type="button"
                class="min-h-8 text-quiet underline decoration-dotted hover:text-paper"
                onclick={() => turning.turn(dial, dial.value, false)}>back to {withUnit(dial.value, unit(dial))}</button
              >{/if}
            <NumberField
              {value}
              unit={unit(dial)}
              label={dial.name}
              lowest={dial.low}
              highest={dial.high}
              drag={dial.high - dial.low}
              reset={dial.value}
              ondrag={(v) => turning.turn(dial, v, true)}
              onset={(v) => turning.turn(dial, v, false)}
            />
          </span>
        </div>
        {#if dial.note}<p class="text-quiet">{dial.note}</p>{/if}
        <Slider
          large
          {value}
          low={dial.low}
          high={dial.high}
          step={stepOf(dial)}
          mark={dial.value}
          label="Turn {dial.name}"
          words={withUnit(value, unit(dial))}
          ondrag={(v) => turning.turn(dial, v, true)}
          onset={(v) => turning.turn(dial, v, false)}
        />
        <div class="mono -mt-1 flex justify-between pb-1 text-[11px] text-quiet">
          <span>{withUnit(dial.low, unit(dial))}</span><span>{withUnit(dial.high, unit(dial))}</span>
        </div>
      </div>
    {:else}
      <p class="px-5 py-6 text-quiet">This effect has no dials. Whoever builds it makes them on its Desk.</p>
    {/each}
    {#if dials.length}
      <div class="mt-auto flex flex-wrap gap-2 px-5 py-3">
        <Action
          kind="line"
          class="h-11!"
          pressed={turning.artists}
          disabled={!turned}
          onclick={() => turning.compare()}
          hint="Look at the artist's values and back (C)"
          >{turning.artists ? 'See yours again' : "See the artist's"}</Action
        >
        <Action
          kind="line"
          class="h-11!"
          disabled={!turned}
          onclick={() => dials.forEach((d) => turning.turn(d, d.value, false))}
          hint="Every dial back to the artist's value">All back</Action
        >
      </div>
    {/if}
  </section>
</div>
{#if overlay.notice}<div
    role="alert"
    class="fixed bottom-16 left-1/2 z-50 -translate-x-1/2 rounded-md border border-amber bg-ink px-4 py-2 text-amber"
  >
    {overlay.notice}
  </div>{/if}

<style>
  .page {
    grid-template: 'top top' auto 'stage dials' minmax(0, 1fr) 'time dials' 60px / minmax(0, 1fr) minmax(320px, 38%);
  }
  @media (max-aspect-ratio: 1/1) {
    .page {
      grid-template: 'top' auto 'stage' minmax(0, 1fr) 'time' 60px 'dials' minmax(0, 1.1fr) / minmax(0, 1fr);
    }
  }
</style>
