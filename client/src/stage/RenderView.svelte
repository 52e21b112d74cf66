<!-- The core's own picture of this frame over the stage: compared by a wipe with the stage or with a picture that was kept; a region by drag. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import { DataUtils } from 'three'
  import Action from '../controls/Action.svelte'
  import { encode } from '../controls/colour'
  import { useDesk } from '../effect/context'
  import Segments from '../controls/Segments.svelte'
  import { KeptPictures } from './keptpictures.svelte'
  import { Renders, WHOLE, type Eye, type How, type Region, type Shot } from './render.svelte'

  let {
    eye,
    size,
    looks,
    onclose,
  }: {
    eye: () => Eye
    size: () => [number, number]
    /** Changes when one looks from elsewhere, or the stage is as large as it was not before. */
    looks: unknown
    onclose: () => void
  } = $props()
  const { draft, player, selection } = useDesk()
  const renders = new Renders()
  const pictures = new KeptPictures(draft.id)
  let frame: HTMLDivElement
  let picture: HTMLCanvasElement
  let other = $state<HTMLCanvasElement>()
  /** What stands to the right of the wipe: the stage, or a kept picture. */
  let against = $state.raw<'stage' | Shot>('stage')
  let wipe = $state(0.5)
  let how = $state<How>('seen')
  const HOWS = [
    { value: 'seen', label: 'as it is', title: 'The picture as it will be seen' },
    { value: 'clipped', label: 'cut light', title: 'Brighter than white in vermilion, below nought in teal' },
    { value: 'edges', label: 'edges', title: 'Over black, grey and white, and its alpha: smaller, in one look' },
  ]
  let region = $state.raw<Region>(WHOLE)
  let drawing = $state.raw<Region | null>(null)
  let under = $state.raw<{ x: number; y: number; light: number[] } | null>(null)
  const whole = $derived(region === WHOLE)
  const kept = $derived(pictures.shots)

  $effect(() => {
    void looks
    const document = selection.heard(draft.document)
    const [width, height] = size()
    renders.make(
      {
        document,
        frame: player.frame,
        width,
        height,
        eye: eye(),
        region: how === 'edges' ? WHOLE : region,
        name: `frame ${player.frame}`,
        how,
      },
      player.dragging,
    )
  })
  $effect(() => () => renders.stop())

  /** Put a picture onto a canvas of the stage's size: all of it, or within what is there. */
  function put(canvas: HTMLCanvasElement, shot: Shot) {
    const [width, height] = size()
    if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height]
    const pen = canvas.getContext('2d')!
    const [left, top, wide, tall] = shot.region
    if (shot.scale === 1 && shot.region.every((s, i) => s === WHOLE[i])) return pen.putImageData(shot.shown, 0, 0)
    const small = document.createElement('canvas')
    ;[small.width, small.height] = [shot.width, shot.height]
    small.getContext('2d')!.putImageData(shot.shown, 0, 0)
    pen.imageSmoothingEnabled = shot.scale < 1
    const exact = shot.scale === 1
    const [w, h] = exact ? [shot.width, shot.height] : [wide * width, tall * height]
    pen.drawImage(small, Math.floor(left * width), Math.floor(top * height), w, h)
  }
  $effect(() => {
    if (renders.shot) put(picture, renders.shot)
  })
  $effect(() => {
    if (against !== 'stage' && other) put(other, against)
  })

  const place = (event: PointerEvent): [number, number] => {
    const box = frame.getBoundingClientRect()
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]
  }
  let from: [number, number] | null = null
  function down(event: PointerEvent) {
    if (event.button !== 0) return
    from = place(event)
    frame.setPointerCapture(event.pointerId)
  }
  function moved(event: PointerEvent) {
    const [x, y] = place(event)
    if (from) {
      const [left, top] = [Math.min(from[0], x), Math.min(from[1], y)]
      drawing = [left, top, Math.abs(x - from[0]), Math.abs(y - from[1])]
      return
    }
    const shot = x <= wipe || against === 'stage' ? renders.shot : against
    under = shot && read(shot, x, y)
  }
  function up() {
    const [width, height] = size()
    if (drawing && drawing[2] * width > 6 && drawing[3] * height > 6) region = drawing
    else if (from) region = WHOLE
    from = drawing = null
  }
  /** The light at a place of a picture, shares of the stage's size. */
  function read(shot: Shot, x: number, y: number) {
    const [left, top, wide, tall] = shot.region
    const [u, v] = [(x - left) / wide, (y - top) / tall]
    if (u < 0 || v < 0 || u >= 1 || v >= 1) return null
    const [px, py] = [Math.floor(u * shot.width), Math.floor(v * shot.height)]
    const at = (py * shot.width + px) * 3
    const [width, height] = size()
    const light = [0, 1, 2].map((c) => DataUtils.fromHalfFloat(shot.light[at + c]))
    return { x: Math.floor(x * width), y: Math.floor(y * height), light }
  }
  function setHow(to: How) {
    how = to
    if (to === 'edges')
      wipe = 1 // all of it is to be seen
    else if (wipe === 1) wipe = 0.5
  }
  const hex = (light: readonly number[]) =>
    '#' +
    light
      .map((c) =>
        Math.round(encode(c) * 255)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')

  function hold(event: PointerEvent) {
    event.stopPropagation()
    const handle = event.currentTarget as HTMLElement
    handle.setPointerCapture(event.pointerId)
    const follow = (e: PointerEvent) => (wipe = Math.min(Math.max(place(e)[0], 0), 1))
    handle.addEventListener('pointermove', follow)
    handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', follow), { once: true })
  }
  function key(event: KeyboardEvent) {
    const by = { ArrowLeft: -0.02, ArrowRight: 0.02, Home: -1, End: 1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    event.stopPropagation()
    wipe = Math.min(Math.max(wipe + by, 0), 1)
  }
  const box = (r: Region) => `left:${r[0] * 100}%;top:${r[1] * 100}%;width:${r[2] * 100}%;height:${r[3] * 100}%`
  const thumb = (canvas: HTMLCanvasElement, shot: Shot) => {
    canvas.width = 72
    canvas.height = Math.max(1, Math.round((72 * shot.height) / shot.width))
    const small = document.createElement('canvas')
    ;[small.width, small.height] = [shot.width, shot.height]
    small.getContext('2d')!.putImageData(shot.shown, 0, 0)
    canvas.getContext('2d')!.drawImage(small, 0, 0, canvas.width, canvas.height)
  }
</script>

<div
  class="absolute inset-0 overflow-hidden"
  data-part="render"
  data-busy={renders.busy}
  data-scale={renders.shot?.scale ?? 0}
>
  <div
    bind:this={frame}
    class="absolute inset-0 cursor-crosshair touch-none"
    role="img"
    aria-label="The core's picture of frame {player.frame}"
    onpointerdown={down}
    onpointermove={moved}
    onpointerup={up}
    onpointerleave={() => (under = null)}
  >
    {#if against !== 'stage'}<canvas bind:this={other} class="absolute inset-0 h-full w-full" data-part="against"
      ></canvas>{/if}
    <canvas
      bind:this={picture}
      class="absolute inset-0 h-full w-full"
      style:clip-path="inset(0 {(1 - wipe) * 100}% 0 0)"
      data-part="rendered"
    ></canvas>
    {#if !whole}<div
        class="pointer-events-none absolute border border-dashed border-vermilion shadow-[0_0_0_9999px_rgb(15_20_24/0.5)]"
        style={box(region)}
      ></div>{/if}
    {#if drawing}<div class="pointer-events-none absolute border border-paper" style={box(drawing)}></div>{/if}
  </div>
  <div
    class="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none"
    style:left="{wipe * 100}%"
    role="slider"
    tabindex="0"
    aria-label="Wipe"
    aria-valuemin="0"
    aria-valuemax="100"
    aria-valuenow={Math.round(wipe * 100)}
    aria-valuetext="{Math.round(wipe * 100)} % render"
    onpointerdown={hold}
    onkeydown={key}
  >
    <span class="absolute inset-y-0 left-1/2 w-px bg-paper shadow-[0_0_0_1px_rgb(15_20_24/0.55)]"></span>
    <span
      class="absolute top-1/2 left-1/2 h-7 w-2.5 -translate-x-1/2 -translate-y-1/2 rounded-sm border border-paper bg-ink"
    ></span>
  </div>
  <span
    class="pointer-events-none absolute top-11 rounded bg-ink/80 px-1.5 text-[11px] text-quiet"
    style:right="calc({(1 - wipe) * 100}% + 8px)">render</span
  >
  <span
    class="pointer-events-none absolute top-11 rounded bg-ink/80 px-1.5 text-[11px] text-quiet"
    style:left="calc({wipe * 100}% + 8px)">{against === 'stage' ? 'stage' : against.name}</span
  >
  {#if under}
    <div
      class="mono pointer-events-none absolute top-[68px] right-3.5 rounded-md border border-line bg-ink/90 px-2 py-1 text-right text-[11px]"
      data-part="pixel"
    >
      <div class="text-quiet">{under.x}, {under.y} px</div>
      <div>{under.light.map((c) => c.toFixed(3)).join('  ')} <span class="text-quiet">linear</span></div>
      <div class="flex items-center justify-end gap-1.5">
        <span class="h-2.5 w-2.5 rounded-sm border border-line" style:background={hex(under.light)}></span>{hex(
          under.light,
        )}
      </div>
    </div>
  {/if}
  <div class="absolute right-3.5 bottom-3 left-3.5 flex flex-wrap items-end gap-2">
    <div class="flex items-end gap-1.5" role="radiogroup" aria-label="Compare with">
      <button
        type="button"
        role="radio"
        aria-checked={against === 'stage'}
        class="h-10 rounded-md border bg-ink/90 px-2 text-xs {against === 'stage'
          ? 'border-paper text-paper'
          : 'border-line text-quiet'}"
        onclick={() => (against = 'stage')}>stage</button
      >
      {#each kept as shot (shot)}
        <span class="relative">
          <button
            type="button"
            role="radio"
            aria-checked={against === shot}
            aria-label="Compare with {shot.name}"
            class="flex h-10 items-center gap-1.5 rounded-md border bg-ink/90 px-1.5 text-xs {against === shot
              ? 'border-paper text-paper'
              : 'border-line text-quiet'}"
            onclick={() => (against = shot)}
            ><canvas use:thumb={shot} class="h-7 w-auto rounded-sm"></canvas>{shot.name}</button
          >
          <button
            type="button"
            class="absolute -top-1.5 -right-1.5 rounded-full border border-line bg-ink text-quiet hover:text-paper"
            aria-label="Throw {shot.name} away"
            onclick={() => {
              if (against === shot) against = 'stage'
              pictures.drop(shot)
            }}><X size={11} /></button
          >
        </span>
      {/each}
    </div>
    <Action
      small
      kind="line"
      disabled={!renders.shot}
      onclick={() => renders.shot && void pictures.keep(renders.shot)}
      hint="Put this picture beside the others, to compare with: it stays until it is thrown away">Keep</Action
    >
    <span class="rounded-md bg-ink/90"
      ><Segments
        label="How the render is looked at"
        value={how}
        options={HOWS}
        onpick={(v) => setHow(v as How)}
      /></span
    >
    {#if !whole}<Action small kind="line" onclick={() => (region = WHOLE)} hint="Render all of the picture again"
        >Whole picture</Action
      >{/if}
    <span
      class="mono ml-auto rounded-md border border-line bg-ink/90 px-2 py-0.5 text-[11px] text-quiet"
      aria-live="polite"
      >{#if renders.problem || pictures.problem}<span class="text-amber">{renders.problem || pictures.problem}</span
        >{:else if renders.busy}{renders.shot && renders.shot.scale < 1
          ? 'quick one; rendering all of it…'
          : 'rendering…'}{:else if renders.shot}{size().join(' × ')}{whole ? '' : ', a region'} in {renders.shot.seconds.toFixed(
          2,
        )} s{/if}</span
    >
    <Action small kind="line" onclick={onclose} hint="Back to the stage">Close</Action>
  </div>
</div>
