<!-- The cues that end particles, and how often each does. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import PlainRow from './PlainRow.svelte'

  const { draft, player } = useDesk()
  const cues = $derived((draft.emitter.cues ?? []).filter((cue) => cue.ends && !cue.muted))
  const times = (uid: string) => player.fired(draft.emitter.uid, uid)?.reduce((sum, [, count]) => sum + count, 0)
  const show = (uid: string) =>
    document.querySelector(`[data-mover="${uid}"]`)?.scrollIntoView({ block: 'center', behavior: 'smooth' })
</script>

{#if cues.length}
  <PlainRow label="At cues" help="A particle ends at the cues that end it, if they come before its lifespan does.">
    {#each cues as cue (cue.uid)}
      <button
        type="button"
        class="rounded hover:text-paper"
        title="Show {cue.name} among the cues"
        onclick={() => show(cue.uid)}
        >{cue.name}{#if times(cue.uid) !== undefined}<span class="ml-1 text-xs text-quiet tabular-nums"
            >{times(cue.uid)} times</span
          >{/if}</button
      >
    {/each}
  </PlainRow>
{/if}
