<!-- What a cue compares: how its number is spread over the particles, and the value, dragged there; how many pass. -->
<script lang="ts">
  import { shown } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { resolve } from '../effect/path'
  import PlainRow from './PlainRow.svelte'
  import { passing, spanOf } from './threshold'

  let { uid, of, against }: { uid: string; of: string; against: PlacedRow } = $props()
  const { draft, player } = useDesk()
  const W = 300
  const H = 38
  const key = $derived(`${uid}.${of}`)
  const clip = $derived(player.profile(draft.emitter.uid)?.tests?.[key])
  const measure = $derived(player.measure(draft.emitter.uid))
  const now = $derived(measure?.tests?.[key] ?? clip)
  const count = $derived(measure?.tests?.[key] ? measure.count : (player.profile(draft.emitter.uid)?.count ?? 0))
  const set = $derived(typeof against.row.base === 'number' && !against.row.responses?.length)
  const value = $derived(set ? (against.row.base as number) : null)
  const span = $derived(now ? spanOf([now, ...(clip ? [clip] : [])], value) : null)
  const X = (v: number) => ((v - span!.low) / (span!.high - span!.low)) * W
  const most = $derived(Math.max(1, ...(now?.bins ?? [])))
  const passes = $derived(now ? Math.round(count * (value === null ? now.passes : passing(now, value))) : 0)
  const path = $derived(draft.inEmitter([...(resolve(draft.owner, against.path) ?? []), 'base']))
  let svg = $state<SVGSVGElement>()
  let held = $state(false)
  const UNIT = { symbol: '', scale: 1, digits: 3 }

  function at(event: PointerEvent): number {
    const box = svg!.getBoundingClientRect()
    const share = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1)
    return Number((span!.low + share * (span!.high - span!.low)).toPrecision(3))
  }
  function down(event: PointerEvent) {
    if (!set || event.button !== 0) return
    svg!.setPointerCapture(event.pointerId)
    held = true
    draft.drag(path, at(event))
  }
  function up(event: PointerEvent) {
    if (!held) return
    held = false
    draft.edit(`Set ${against.label.toLowerCase()}`, path, at(event))
  }
  function keys(event: KeyboardEvent) {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!by || !set || !span) return
    event.preventDefault()
    const step = ((span.high - span.low) / 100) * by * (event.shiftKey ? 10 : 1)
    draft.edit(`Set ${against.label.toLowerCase()}`, path, Number((value! + step).toPrecision(4)))
  }
</script>

{#if now && span}
  <PlainRow
    label="Now"
    help="How what it looks at is spread over the particles; drag the line to the value it is compared with."
    inner
  >
    <span class="flex w-full items-center gap-3">
      <svg
        bind:this={svg}
        viewBox="0 0 {W} {H}"
        preserveAspectRatio="none"
        class="h-[38px] min-w-0 flex-1 rounded bg-ink {set ? 'cursor-ew-resize' : ''}"
        role="slider"
        tabindex="0"
        aria-label="{against.label} on the spread of what it looks at"
        aria-valuenow={value ?? 0}
        aria-valuemin={span.low}
        aria-valuemax={span.high}
        data-test={key}
        onpointerdown={down}
        onpointermove={(e) => held && draft.drag(path, at(e))}
        onpointerup={up}
        onkeydown={keys}
      >
        {#if value !== null}
          <rect
            x={now.side === 'above' ? X(value) : 0}
            y="0"
            width={Math.max(0, now.side === 'above' ? W - X(value) : X(value))}
            height={H}
            class="fill-vermilion/15"
          />
        {/if}
        {#each now.bins as bin, i (i)}
          {@const [from, to] = [i, i + 1].map((k) => X(now.low + ((now.high - now.low) * k) / now.bins.length))}
          <rect
            x={from}
            width={Math.max(0.6, to - from - 0.6)}
            y={H - (bin / most) * (H - 4)}
            height={(bin / most) * (H - 4)}
            class="fill-teal/70"
          />
        {/each}
        {#if value !== null}
          <line
            x1={X(value)}
            x2={X(value)}
            y1="0"
            y2={H}
            stroke="var(--color-vermilion)"
            stroke-width="2"
            vector-effect="non-scaling-stroke"
          />
        {/if}
      </svg>
      <span class="mono shrink-0 text-right text-xs whitespace-nowrap" data-passes={passes}
        >{passes.toLocaleString('en')} of {count.toLocaleString('en')}
        <span class="block text-quiet">{shown(now.low, UNIT, false)} – {shown(now.high, UNIT, false)}</span></span
      >
    </span>
  </PlainRow>
{/if}
