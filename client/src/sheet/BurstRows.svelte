<!-- Bursts: so many particles at once, at a frame. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { useDesk } from '../effect/context'
  import PlainRow from './PlainRow.svelte'

  const { draft, player } = useDesk()
  const moments = $derived(draft.document.moments ?? [])
  const bursts = $derived(draft.emitter.births.bursts ?? [])
  const at = (i: number, name: string) => draft.inEmitter(['births', 'bursts', i, name])
  const clip = $derived(draft.document.clip)
</script>

{#each bursts as burst, i (burst.uid)}
  <PlainRow label={i ? '' : 'Bursts'} help="Particles that are born together, at a frame of the clip.">
    <NumberField
      value={burst.count}
      unit={{ symbol: 'particles', scale: 1, digits: 0 }}
      label="Burst {i + 1} count"
      whole
      lowest={0}
      highest={5000000}
      drag={100}
      ondrag={(v) => draft.drag(at(i, 'count'), v)}
      onset={(v) => draft.edit('Change a burst', at(i, 'count'), v)}
    />
    {#if moments.length}
      <Choice
        label="Burst {i + 1} stands"
        value={burst.after ?? ''}
        options={[
          { value: '', name: 'at frame' },
          ...moments.map((m) => ({ value: m.uid, name: `frames after ${m.name}` })),
        ]}
        onpick={(uid) =>
          draft.edit('Change when a burst is', draft.inEmitter(['births', 'bursts', i]), {
            ...burst,
            after: uid || null,
            frame: uid ? 0 : player.frame,
          })}
      />
    {:else}<span class="text-quiet">at frame</span>{/if}
    <NumberField
      value={burst.frame}
      unit={{ symbol: '', scale: 1, digits: 0 }}
      label="Burst {i + 1} frame"
      whole
      lowest={burst.after ? -1000000 : clip.first_frame}
      highest={burst.after ? 1000000 : clip.last_frame}
      drag={40}
      ondrag={(v) => draft.drag(at(i, 'frame'), v)}
      onset={(v) => draft.edit('Move a burst', at(i, 'frame'), v)}
    />
    <button
      type="button"
      aria-label="Remove burst {i + 1}"
      title="Remove this burst"
      class="rounded p-1 text-quiet hover:text-paper"
      onclick={() =>
        draft.edit(
          'Remove a burst',
          draft.inEmitter(['births', 'bursts']),
          bursts.filter((b) => b !== burst),
        )}><X size={14} /></button
    >
  </PlainRow>
{/each}
