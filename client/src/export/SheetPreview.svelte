<!-- A sprite sheet as it will play in a game: a small one, page after page, looping, with its motion between pages where it has one. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import { api } from '../wire/api'
  import type { ExportWish } from '../wire/types'

  let { wish }: { wish: ExportWish } = $props()
  let canvas = $state<HTMLCanvasElement>()
  let words = $state('')
  const key = $derived(JSON.stringify({ ...wish, document: null }))
  const SMALL = 160

  $effect(() => {
    void key
    let going = true
    let frame = 0
    const small = untrack(() => smaller(wish))
    void api
      .previewSheet(small)
      .then(({ pages, width, height, rate, seam }) => {
        if (!going || !canvas) return
        words = `${pages.length} pages at ${Number(rate.toFixed(2))} a second${seam > 1.5 ? `; from the last to the first it jumps ${seam.toFixed(1)} times as far as from page to page` : ', it loops'}`
        ;[canvas.width, canvas.height] = [width, height]
        const pen = canvas.getContext('2d')!
        const started = performance.now()
        const draw = () => {
          if (!going) return
          pen.putImageData(pages[Math.floor(((performance.now() - started) / 1000) * rate) % pages.length], 0, 0)
          frame = requestAnimationFrame(draw)
        }
        draw()
      })
      .catch(() => (words = ''))
    return () => {
      going = false
      cancelAnimationFrame(frame)
    }
  })
  /** The same, as small as it is shown. */
  function smaller(of: ExportWish): ExportWish {
    const share = Math.min(SMALL / of.width, SMALL / of.height, 1)
    return {
      ...of,
      width: Math.max(16, Math.round(of.width * share)),
      height: Math.max(16, Math.round(of.height * share)),
    }
  }
</script>

<div class="flex items-center gap-3" data-part="sheet-preview">
  <canvas
    bind:this={canvas}
    width="160"
    height="90"
    class="max-h-40 rounded border border-line bg-[#0f1418]"
    aria-label="How the sheet plays"
  ></canvas>
  <span class="text-xs text-quiet">{words}</span>
</div>
