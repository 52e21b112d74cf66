<!-- Playing and the population over time, with what is cached. -->
<script lang="ts">
  import Pause from '@lucide/svelte/icons/pause'
  import Play from '@lucide/svelte/icons/play'
  import StepBack from '@lucide/svelte/icons/step-back'
  import StepForward from '@lucide/svelte/icons/step-forward'
  import Action from '../controls/Action.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { keyHint } from '../effect/commands.svelte'
  import { useDesk } from '../effect/context'
  import { momentTimes } from '../effect/moments'
  import { framesASecond, rateText } from '../effect/rate'

  import KeyMarks from './KeyMarks.svelte'

  let { onclip }: { onclip: () => void } = $props()
  const { draft, player, selection } = useDesk()
  let width = $state(600)
  let held = false
  const H = 30
  const clip = $derived(player.clip)
  const moments = $derived(momentTimes(draft.document))
  const span = $derived(Math.max(1, clip.last_frame - clip.first_frame))
  const counts = $derived.by(() => {
    const emitters = player.clipFacts?.emitters ?? []
    const length = Math.max(0, ...emitters.map((e) => e.counts.length))
    return Array.from({ length }, (_, i) =>
      emitters.some((e) => e.counts[i] === null) ? null : emitters.reduce((sum, e) => sum + (e.counts[i] ?? 0), 0),
    )
  })
  const most = $derived(Math.max(1, ...counts.map((c) => c ?? 0)))
  const X = $derived((frame: number) => ((frame - clip.first_frame) / span) * width)
  const known = $derived(
    counts
      .map((c, i) =>
        c === null
          ? null
          : `${((i / Math.max(1, counts.length - 1)) * width).toFixed(1)},${(H - (c / most) * (H - 3)).toFixed(1)}`,
      )
      .filter((p) => p !== null),
  )
  const area = $derived(
    known.length > 1
      ? `${known[0]!.split(',')[0]},${H} ${known.join(' ')} ${known[known.length - 1]!.split(',')[0]},${H}`
      : '',
  )
  const stretches = $derived.by(() => {
    const list: { from: number; to: number }[] = []
    for (let i = 0; i <= span; i++) {
      if (!player.cached[i]) continue
      const last = list[list.length - 1]
      if (last && last.to === i - 1) last.to = i
      else list.push({ from: i, to: i })
    }
    return list
  })
  /** A frame's number; typed with a unit it is a time (`1.5 s`). */
  const FRAMES = { symbol: '', scale: 1, digits: 0, measures: 'f' }

  function scrub(event: PointerEvent) {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    player.go(clip.first_frame + ((event.clientX - box.left) / box.width) * span)
  }
  function keys(event: KeyboardEvent) {
    const step = { ArrowRight: 1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key]
    if (step) player.go(player.frame + step)
    else if (event.key === 'Home') player.go(clip.first_frame)
    else if (event.key === 'End') player.go(clip.last_frame)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<footer
  class="will-change-transform flex min-h-14 shrink-0 flex-wrap items-center gap-x-4 border-t border-line bg-panel px-4"
  aria-label="Transport"
  data-part="transport"
>
  <div class="flex w-[286px] shrink-0 items-center gap-2.5">
    <button
      type="button"
      onclick={() => player.toggle()}
      aria-label={player.playing ? 'Pause' : 'Play'}
      title="{player.playing ? 'Pause' : 'Play'} ({keyHint('play')})"
      class="grid h-[34px] w-[34px] place-items-center rounded-full bg-paper text-ink hover:opacity-90"
    >
      {#if player.playing}<Pause size={15} fill="currentColor" />{:else}<Play
          size={15}
          fill="currentColor"
          class="translate-x-px"
        />{/if}
    </button>
    <button
      type="button"
      onclick={() => player.go(player.frame - 1)}
      aria-label="One frame back"
      title="One frame back ({keyHint('back')})"
      class="rounded p-1 text-quiet hover:text-paper"><StepBack size={16} /></button
    >
    <button
      type="button"
      onclick={() => player.go(player.frame + 1)}
      aria-label="One frame on"
      title="One frame on ({keyHint('on')})"
      class="rounded p-1 text-quiet hover:text-paper"><StepForward size={16} /></button
    >
    <span class="flex items-baseline gap-1.5 whitespace-nowrap [&_button]:text-[15px]!" data-part="frame">
      <NumberField
        value={player.frame}
        unit={FRAMES}
        label="Frame"
        whole
        lowest={clip.first_frame}
        highest={clip.last_frame}
        drag={40}
        ondrag={(v) => player.go(v)}
        onset={(v) => player.go(v)}
      />
      <span class="text-quiet">of <span class="mono">{clip.last_frame}</span></span><span class="mono pl-1 text-quiet"
        >{player.seconds.toFixed(2)} s</span
      >
    </span>
  </div>
  <div class="relative h-11 min-w-[180px] flex-1">
    <div
      bind:clientWidth={width}
      role="slider"
      tabindex="0"
      aria-label="Frame"
      aria-valuemin={clip.first_frame}
      aria-valuemax={clip.last_frame}
      aria-valuenow={player.frame}
      class="absolute inset-0 cursor-col-resize touch-none"
      title="Population over time, up to {most} alive"
      onkeydown={keys}
      onpointerdown={(e) => {
        held = true
        e.currentTarget.setPointerCapture(e.pointerId)
        scrub(e)
      }}
      onpointermove={(e) => held && scrub(e)}
      onpointerup={() => (held = false)}
      onlostpointercapture={() => (held = false)}
    >
      <svg {width} height="44" class="absolute inset-0 overflow-visible">
        <g opacity={player.clipComplete ? 1 : 0.6}>
          <polygon points={area} fill="var(--color-teal)" opacity="0.35" transform="translate(0 4)" />
          <polyline points={known.join(' ')} fill="none" stroke="var(--color-teal)" transform="translate(0 4)" />
        </g>
        <text x="2" y="12" fill="var(--color-quiet)" font-size="10" class="mono">{most}</text>
        <rect y="38" {width} height="3" rx="1.5" fill="var(--color-line)" />
        {#each stretches as part}
          <rect
            x={X(clip.first_frame + part.from)}
            y="38"
            width={Math.max(2, ((part.to - part.from) / span) * width)}
            height="3"
            rx="1.5"
            fill="var(--color-quiet)"
            data-cached
          />
        {/each}
        {#each draft.emitter.cues ?? [] as cue (cue.uid)}
          {#each player.fired(draft.emitter.uid, cue.uid) ?? [] as [frame, count] (frame)}
            <rect
              x={X(frame) - 0.5}
              y={36 - Math.min(10, 2 + 2 * Math.sqrt(count))}
              width="1"
              height={Math.min(10, 2 + 2 * Math.sqrt(count))}
              fill="var(--color-vermilion)"
              data-fired={cue.uid}><title>{cue.name}: {count} at frame {frame}</title></rect
            >
          {/each}
        {/each}
        {#each draft.document.moments ?? [] as moment (moment.uid)}
          <path
            d="M{X(clip.first_frame + (moments.get(moment.uid) ?? 0) * framesASecond(clip))} 38v-26h5v5h-4"
            stroke="var(--color-amber)"
            fill="none"><title>{moment.name}</title></path
          >
        {/each}
        {#each draft.emitter.births.bursts ?? [] as burst (burst.uid)}
          <path
            d="M{X(
              burst.after
                ? clip.first_frame + (moments.get(burst.after) ?? 0) * framesASecond(clip) + burst.frame
                : burst.frame,
            )} 37l-3 -5h6z"
            fill={draft.emitter.colour || 'var(--color-quiet)'}
            ><title>{burst.count} at frame {burst.frame}</title></path
          >
        {/each}
        <line x1={X(player.frame)} x2={X(player.frame)} y1="2" y2="44" stroke="var(--color-paper)" stroke-width="1.5" />
        <circle cx={X(player.frame)} cy="4" r="4" fill="var(--color-paper)" />
      </svg>
    </div>
    <KeyMarks {width} />
  </div>
  <div class="ml-auto flex shrink-0 items-center justify-end gap-2 py-1">
    <Action
      kind="line"
      pressed={selection.sequence}
      onclick={() => (selection.sequence = !selection.sequence)}
      hint="When each emitter runs, as bars to drag ({keyHint('sequence')})">Sequence</Action
    >
    <Action onclick={onclip} hint="Frame rate, length, seed, steps in a frame, and in what numbers are shown"
      ><span class="mono">{Number((span / framesASecond(clip)).toFixed(2))}</span>&nbsp;s,&nbsp;<span class="mono"
        >{rateText(clip)}</span
      >&nbsp;a second</Action
    >
    <Action
      kind="line"
      pressed={player.loop}
      onclick={() => (player.loop = !player.loop)}
      hint="Start again at the end ({keyHint('loop')})">Loop</Action
    >
  </div>
</footer>
