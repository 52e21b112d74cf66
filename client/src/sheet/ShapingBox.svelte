<!-- Two ways to put a shaping's box about particles: it is numbers, so that it does not breathe with them. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import { takeBox } from '../effect/shapings'
  import PlainRow from './PlainRow.svelte'

  let { uid, name }: { uid: string; name: string } = $props()
  const { draft, player, overlay } = useDesk()
  let isEmpty = $state(false)
  const take = (whole: boolean) =>
    overlay.attempt(async () => (isEmpty = !(await takeBox(draft, uid, player.frame, whole))))
</script>

<PlainRow label="Box" help="It is numbers, and stays where it is while the particles move." inner>
  <span class="text-quiet">put it about</span>
  <button
    type="button"
    class="text-xs text-quiet underline decoration-dotted hover:text-paper"
    title="About all that comes to {name} in the whole clip"
    onclick={() => void take(true)}>the whole clip</button
  >
  <button
    type="button"
    class="text-xs text-quiet underline decoration-dotted hover:text-paper"
    title="About all that comes to {name} at this frame"
    onclick={() => void take(false)}>this frame</button
  >
  {#if isEmpty}<span class="text-xs text-amber" role="note">Nobody is there.</span>{/if}
</PlainRow>
