<!-- Whatever is open over the Desk for a moment. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import HelpCard from './HelpCard.svelte'
  import ListPanel from './ListPanel.svelte'
  import MenuPanel from './MenuPanel.svelte'
  import SourcePicker from './SourcePicker.svelte'

  const { overlay } = useDesk()
</script>

{#if overlay.menu}{#key overlay.menu}<MenuPanel />{/key}{/if}
{#if overlay.list}{#key overlay.list}<ListPanel />{/key}{/if}
{#if overlay.card}{#key overlay.card}<HelpCard />{/key}{/if}
{#if overlay.picker}{#key overlay.picker}<SourcePicker />{/key}{/if}
{#if overlay.notice}
  <div
    role="alert"
    class="fixed bottom-16 left-1/2 z-50 max-w-[640px] -translate-x-1/2 rounded-md border border-amber bg-ink px-4 py-2 whitespace-pre-line text-amber shadow-2xl"
  >
    {overlay.notice}
    <button type="button" class="ml-3 text-paper underline" onclick={() => (overlay.notice = '')}>Close</button>
  </div>
{/if}
