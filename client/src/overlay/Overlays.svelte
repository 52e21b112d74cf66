<!-- Whatever is open over the Desk for a moment. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import ListPanel from './ListPanel.svelte'
  import MenuPanel from './MenuPanel.svelte'

  const { overlay } = useDesk()
  const picker = () => import('./SourcePicker.svelte')
  /** The list of sources is fetched as soon as the Desk is up, so that it opens at once. */
  $effect(() => {
    const later = setTimeout(() => void picker(), 500)
    return () => clearTimeout(later)
  })
</script>

{#if overlay.menu}{#key overlay.menu}<MenuPanel />{/key}{/if}
{#if overlay.list}{#key overlay.list}<ListPanel />{/key}{/if}
{#if overlay.card}{#await import('./HelpCard.svelte') then { default: HelpCard }}{#key overlay.card}<HelpCard
      />{/key}{/await}{/if}
{#if overlay.picker}{#await picker() then { default: SourcePicker }}{#key overlay.picker}<SourcePicker
      />{/key}{/await}{/if}
{#if overlay.notice}
  <div
    role="alert"
    class="fixed bottom-16 left-1/2 z-50 max-w-[640px] -translate-x-1/2 rounded-md border border-amber bg-ink px-4 py-2 whitespace-pre-line text-amber shadow-2xl"
  >
    {overlay.notice}
    <button type="button" class="ml-3 text-paper underline" onclick={() => (overlay.notice = '')}>Close</button>
  </div>
{/if}
