<!-- A particle at eleven shares of its life, and the rows that life drives on one axis under it. Drag to read any share. -->
<script lang="ts">
  import { css, type Rgb } from '../controls/colour'
  import { shown, withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import type { Course } from '../wire/packets'

  const { draft, player, catalog } = useDesk()
  let share = $state(0.25)
  let width = $state(600)
  let held = false
  const PAD = 30
  const ALWAYS = new Set(['look.size', 'look.opacity'])
  const SHARES = Array.from({ length: 11 }, (_, i) => i / 10)
  const profile = $derived(player.profile(draft.emitter.uid))
  const inner = $derived(Math.max(100, width - 2 * PAD))
  const SECONDS = { symbol: 's', scale: 1, digits: 1 }

  function value(course: Course | undefined, at: number, which: keyof Course): number {
    if (!course) return 0
    const list = course[which]
    const place = Math.min(Math.max(at * list.length - 0.5, 0), list.length - 1)
    const low = Math.floor(place)
    const high = Math.min(low + 1, list.length - 1)
    return list[low] + (list[high] - list[low]) * (place - low)
  }
  const lanes = $derived.by(() => {
    if (!profile) return []
    return catalog
      .rowsOf(draft.emitter)
      .filter((row) => row.spec.kind === 'number' && row.spec.stage === 'live' && (ALWAYS.has(row.address) || (row.row.responses ?? []).some((r) => !r.muted && (r.source.kind === 'life' || r.source.kind === 'age'))))
      .sort((a, b) => Number(b.spec.band === 'look') - Number(a.spec.band === 'look'))
      .map((row) => ({ row, course: profile.lives[row.address]?.[0] }))
      .filter((lane) => lane.course)
  })
  const thumbs = $derived.by(() => {
    if (!profile) return []
    const size = profile.lives['look.size']?.[0]
    const opacity = profile.lives['look.opacity']?.[0]
    const colour = profile.lives['look.colour']
    const largest = Math.max(1e-6, ...(size?.high ?? [0]))
    return SHARES.map((s) => ({
      x: PAD + s * inner,
      r: Math.max(0.5, (value(size, s, 'mean') / largest) * 22),
      low: (value(size, s, 'low') / largest) * 22,
      high: (value(size, s, 'high') / largest) * 22,
      opacity: value(opacity, s, 'mean'),
      colour: [0, 1, 2].map((c) => value(colour?.[c], s, 'mean')) as unknown as Rgb,
    }))
  })
  function laneTop(course: Course): number {
    return Math.max(1e-9, ...course.high.map(Math.abs))
  }
  function line(course: Course, which: keyof Course): string[] {
    const top = laneTop(course)
    return course[which].map((v, i) => `${(PAD + ((i + 0.5) / course[which].length) * inner).toFixed(1)},${(16 - (Math.max(0, v) / top) * 13).toFixed(1)}`)
  }
  function band(course: Course): string {
    return [...line(course, 'high'), ...line(course, 'low').reverse()].join(' ')
  }
  function scrub(event: PointerEvent) {
    const box = (event.currentTarget as Element).getBoundingClientRect()
    share = Math.min(Math.max((event.clientX - box.left - PAD) / inner, 0), 1)
  }
  function keys(event: KeyboardEvent) {
    const step = event.key === 'ArrowRight' ? 0.01 : event.key === 'ArrowLeft' ? -0.01 : 0
    if (!step) return
    event.preventDefault()
    event.stopPropagation()
    share = Math.min(Math.max(share + step, 0), 1)
  }
</script>

<section class="flex h-full min-h-0 flex-col border-t border-line bg-panel px-4 pt-1.5" aria-label="A life" data-part="life">
  <div class="flex shrink-0 justify-between leading-[16px]">
    <h2 class="text-quiet">A life</h2>
    {#if profile?.lifespan}
      <span class="text-quiet">lasts <span class="mono text-paper">{withUnit(profile.lifespan[1], SECONDS)}</span>, from <span class="mono">{withUnit(profile.lifespan[0], SECONDS)}</span> to <span class="mono">{withUnit(profile.lifespan[2], SECONDS)}</span></span>
    {/if}
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    bind:clientWidth={width} role="slider" tabindex="0" aria-label="Share of life" aria-valuemin="0" aria-valuemax="100" aria-valuenow={Math.round(share * 100)} aria-valuetext="{Math.round(share * 100)} % of life"
    class="relative min-h-0 flex-1 cursor-col-resize touch-none overflow-x-hidden overflow-y-auto"
    onkeydown={keys} onpointerdown={(e) => { held = true; e.currentTarget.setPointerCapture(e.pointerId); scrub(e) }} onpointermove={(e) => held && scrub(e)} onpointerup={() => (held = false)} onlostpointercapture={() => (held = false)}
  >
    {#if profile}
      <svg {width} height={50 + lanes.length * 20} class="block">
        <defs>
          {#each thumbs as thumb, i}
            <radialGradient id="life-{i}">
              {#each [0, 0.2, 0.4, 0.6, 0.8, 1] as q}<stop offset={q} stop-color={css(thumb.colour)} stop-opacity={Math.min(1, thumb.opacity * (1 - q * q) ** 2)} />{/each}
            </radialGradient>
          {/each}
        </defs>
        {#each thumbs as thumb, i}
          <circle cx={thumb.x} cy="24" r={Math.max(1.5, thumb.high)} fill="none" stroke="#4a5a66" stroke-dasharray="2 3" />
          <circle cx={thumb.x} cy="24" r={thumb.r} fill="url(#life-{i})" />
        {/each}
        {#each lanes as lane, i}
          <g transform="translate(0 {50 + i * 20})">
            <rect x={PAD} width={inner} height="18" rx="3" fill="#12171b" />
            <polygon points={band(lane.course!)} fill="#58a6a6" opacity="0.22" />
            <polyline points={line(lane.course!, 'mean').join(' ')} fill="none" stroke="#ece5d8" stroke-width="1.3" />
            <text x={PAD + 6} y="12.5" fill="#98a3a8" font-size="10.5" style="paint-order: stroke; stroke: #12171b; stroke-width: 3px">{lane.row.spec.label.toLowerCase()}</text>
            <text x={PAD + inner - 6} y="12.5" text-anchor="end" fill="#ece5d8" font-size="10.5" class="mono" style="paint-order: stroke; stroke: #12171b; stroke-width: 3px">{shown(value(lane.course, share, 'mean'), lane.row.spec.unit, false)} {lane.row.spec.unit.symbol}</text>
          </g>
        {/each}
        <line x1={PAD + share * inner} x2={PAD + share * inner} y1="0" y2={48 + lanes.length * 20} stroke="#e8643c" />
      </svg>
    {:else}
      <p class="pt-6 text-center text-quiet">{player.findings.length ? 'Nothing to show until the effect can be played.' : 'Following the first lives…'}</p>
    {/if}
  </div>
  <div class="relative h-[15px] shrink-0 text-[10.5px] leading-[14px] text-quiet">
    <span class="absolute left-[30px]">birth</span>
    {#if share > 0.08 && share < 0.92}<span class="mono absolute -translate-x-1/2 text-[10.5px] text-paper" style:left="{PAD + share * inner}px">{Math.round(share * 100)} %</span>{/if}
    <span class="absolute right-[30px]">end</span>
  </div>
</section>
