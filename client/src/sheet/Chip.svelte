<!-- A response in a sentence: its operation, its source's name, its curve over the live histogram of the source. -->
<script lang="ts">
  import { css } from '../controls/colour'
  import { curvePath } from '../controls/curve'
  import { useDesk } from '../effect/context'
  import { moveResponse, removeResponse, toggleMute } from '../effect/edits'
  import type { PlacedRow } from '../effect/catalog'
  import type { Response } from '../wire/types'

  let { placed, response, index }: { placed: PlacedRow; response: Response; index: number } = $props()
  const { draft, player, catalog, selection } = useDesk()

  const W = 54
  const H = 26
  const name = $derived(catalog.sourceName(draft.emitter, response.source))
  const sign = $derived(catalog.signs.get(response.operation ?? 'multiply'))
  const distribution = $derived(player.measure(draft.emitter.uid)?.responses[response.uid])
  const bars = $derived.by(() => {
    const bins = distribution?.bins
    if (!bins) return []
    const wide = Array.from({ length: 16 }, (_, i) => bins[i * 3] + bins[i * 3 + 1] + bins[i * 3 + 2])
    const top = Math.max(1, ...wide)
    return wide.map((n) => (n / top) * (H - 6))
  })
  const chosen = $derived(selection.uid === response.uid)
  const onlyBirth = $derived(response.read === 'once' && placed.spec.stage !== 'birth')

  function keys(event: KeyboardEvent) {
    if (event.key === 'Delete' || event.key === 'Backspace') removeResponse(draft, catalog, placed, index)
    else if (event.key === 'm') toggleMute(draft, catalog, placed, index)
    else if (event.altKey && event.key === 'ArrowLeft') moveResponse(draft, placed, index, index - 1)
    else if (event.altKey && event.key === 'ArrowRight') moveResponse(draft, placed, index, index + 1)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function drop(event: DragEvent) {
    const [address, from] = (event.dataTransfer?.getData('application/x-kagero-response') ?? '').split('|')
    if (address !== placed.address) return
    event.preventDefault()
    moveResponse(draft, placed, Number(from), index)
  }
</script>

<span class="mono w-2 shrink-0 text-center text-quiet" aria-hidden="true">{sign}</span>
<button
  type="button" draggable="true" onclick={() => selection.select(response.uid)} onkeydown={keys} data-response={response.uid}
  ondragstart={(e) => e.dataTransfer?.setData('application/x-kagero-response', `${placed.address}|${index}`)}
  ondragover={(e) => e.preventDefault()} ondrop={drop} aria-pressed={chosen}
  aria-label="{placed.spec.label} {response.operation} from {name}, {response.read}{response.muted ? ', muted' : ''}"
  title="{name}, read {response.read}{response.muted ? ', muted' : ''}. M mutes, Delete removes, Alt with left or right reorders."
  class="relative h-[26px] w-[106px] shrink-0 overflow-hidden rounded-[5px] border bg-ink text-left {chosen ? 'border-vermilion' : 'border-line hover:border-quiet'} {response.muted ? 'border-dashed opacity-45' : ''}"
>
  <svg width={W} height={H} class="absolute top-0 right-0" aria-hidden="true">
    {#if response.kind === 'gradient'}
      <defs>
        <linearGradient id="chip-{response.uid}">
          {#each response.gradient.stops as stop}<stop offset={stop.x} stop-color={css(stop.colour)} />{/each}
        </linearGradient>
      </defs>
      <rect width={W} height={H} fill="url(#chip-{response.uid})" />
    {:else}
      {#each bars as height, i}
        <rect x={(i * W) / 16} y={H - height} width={W / 16 - 0.6} {height} fill="#58a6a6" opacity="0.35" />
      {/each}
      <path d={curvePath(response.curve.keys, W, H, 0, 1, 3)} fill="none" stroke="#ece5d8" stroke-width="1.4" />
    {/if}
  </svg>
  <span class="absolute left-[6px] max-w-[50px] truncate text-xs {onlyBirth ? 'top-0 leading-[14px]' : 'top-[5px] leading-[15px]'}">{name}</span>
  {#if onlyBirth}<span class="absolute bottom-0 left-[6px] text-[10px] leading-3 text-quiet">once</span>{/if}
</button>
