<!-- How often a cue happens: over the clip, and at this frame. -->
<script lang="ts">
  import { useDesk } from '../effect/context'

  let { uid, name }: { uid: string; name: string } = $props()
  const { draft, player } = useDesk()
  const times = $derived(player.fired(draft.emitter.uid, uid))
  const all = $derived(times?.reduce((sum, [, count]) => sum + count, 0) ?? 0)
  const now = $derived(times?.find(([frame]) => frame === player.frame)?.[1] ?? 0)
</script>

{#if times}
  <span
    class="block truncate pb-[3px] text-[10px] leading-[12px] tabular-nums {all ? 'text-quiet' : 'text-amber'}"
    title="{name} happens {all} times in the clip so far as it is known, {now} at this frame"
    data-happens={all}>{all ? `${all} times · ${now} now` : 'never in this clip'}</span
  >
{/if}
