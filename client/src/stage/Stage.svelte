<!-- The 3D view: particles, the ground, where births happen; orbit by dragging. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { placeInWords } from '../effect/catalog'
  import { useDesk } from '../effect/context'
  import { expose } from './probe'
  import { StageScene } from './scene'

  const { draft, player, catalog } = useDesk()
  let canvas: HTMLCanvasElement
  let frame: HTMLDivElement
  let scene = $state.raw<StageScene | null>(null)
  let free = $state(false)
  const GROUNDS = ['ink', 'grey', 'paper'] as const
  const WORDS = { ink: 'Ink ground', grey: 'Grey ground', paper: 'Paper ground' }
  const background = $derived(draft.document.clip.background ?? 'ink')
  const alive = $derived(player.shown?.emitters.reduce((sum, e) => sum + e.count, 0) ?? 0)
  const faults = $derived((player.shown?.emitters ?? []).flatMap((e) => e.faults.map((fault) => ({ ...fault, uid: e.uid }))))

  onMount(() => {
    const made = new StageScene(canvas)
    made.background(catalog.data.backgrounds[background])
    made.lookFrom(draft.document.camera)
    made.controls.addEventListener('start', () => (free = true))
    made.guide(draft.emitter)
    expose(made, player)
    const observer = new ResizeObserver(([entry]) => made.resize(entry.contentRect.width, entry.contentRect.height))
    observer.observe(frame)
    scene = made
    return () => {
      observer.disconnect()
      made.dispose()
    }
  })

  // the scene is no part of Svelte: these hand it what changed
  $effect(() => {
    if (scene && player.shown) scene.particles(player.shown, draft.document.emitters)
  })
  $effect(() => {
    scene?.background(catalog.data.backgrounds[background])
    scene?.guide(draft.emitter)
  })
  $effect(() => {
    const camera = draft.document.camera
    if (scene && !free) scene.lookFrom(camera)
  })

  function back() {
    free = false
    scene?.lookFrom(draft.document.camera)
  }
  function keep() {
    if (!scene) return
    const { field_of_view } = draft.document.camera
    draft.edit('Move the camera here', ['camera'], { ...scene.viewpoint(), field_of_view })
    free = false
  }
  function nextGround() {
    const next = GROUNDS[(GROUNDS.indexOf(background) + 1) % GROUNDS.length]
    draft.edit(`Judge against ${next}`, ['clip', 'background'], next)
  }
</script>

<div bind:this={frame} class="relative h-full min-h-0 overflow-hidden bg-[#0f1418]" data-part="stage">
  <canvas bind:this={canvas} class="absolute inset-0 h-full w-full touch-none" aria-label="Stage: {alive} particles at frame {player.frame}"></canvas>
  <div class="absolute top-3 left-3.5 flex gap-1.5">
    {#if free}
      <Action small kind="line" onclick={back} hint="Look from the effect's camera again">Back to camera</Action>
      <Action small kind="line" onclick={keep} hint="Put the effect's camera where you look from now; renders use it">Keep this view</Action>
    {:else}
      <span class="flex h-6 items-center rounded-md border border-line bg-ink/80 px-2 text-xs text-quiet">Effect's camera</span>
    {/if}
    <Action small kind="line" onclick={nextGround} hint="Judge against ink, mid grey or paper">{WORDS[background]}</Action>
  </div>
  <div class="absolute top-3 right-3.5 flex gap-1.5">
    <span class="mono flex h-6 items-center rounded-md border border-line bg-ink/80 px-2 text-quiet" data-part="alive">{alive} alive</span>
  </div>
  {#if player.findings.length}
    <div role="alert" class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber">
      <b>The last good picture stays until this is corrected.</b>
      {#each player.findings.slice(0, 3) as finding}
        <div class="text-paper">{finding.where ? `${placeInWords(catalog, draft.document, finding.where)}: ` : ''}{finding.message} <span class="text-quiet">{finding.remedy}</span></div>
      {/each}
    </div>
  {:else if player.unreachable}
    <div role="alert" class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber">The server does not answer. Trying again every two seconds; your edits are kept here.</div>
  {:else if faults.length}
    <div role="status" class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber">
      {#each faults.slice(0, 2) as fault}
        <div>{fault.count} results were not finite and were replaced: {fault.row}, frame {player.shown?.frame}, first particle {fault.key}</div>
      {/each}
    </div>
  {/if}
</div>
