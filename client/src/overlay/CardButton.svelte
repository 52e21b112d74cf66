<!-- A small question mark that opens the card on something. -->
<script lang="ts">
  import Help from '@lucide/svelte/icons/circle-question-mark'
  import { useDesk } from '../effect/context'

  let { of, name }: { of: string; name: string } = $props()
  const { overlay } = useDesk()
</script>

<button
  type="button"
  class="rounded p-0.5 text-quiet hover:text-paper"
  aria-haspopup="dialog"
  aria-label="What {name} does"
  title="What {name} does, in a moving picture, with examples to try"
  onclick={(e) => overlay.openCard(e.currentTarget, of)}><Help size={14} /></button
>
