<!-- When births happen: start and duration, in seconds or frames as the transport shows them. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import { useDesk } from '../effect/context'
  import PlainRow from './PlainRow.svelte'

  const { draft, player } = useDesk()
  const births = $derived(draft.emitter.births)
  const rate = $derived(draft.document.clip.frame_rate)
  const unit = $derived(player.inSeconds ? { symbol: 's', scale: 1, digits: 2 } : { symbol: 'frames', scale: rate, digits: 1 })
  const clipSeconds = $derived((player.clip.last_frame - player.clip.first_frame) / rate)
  const at = (name: string) => draft.inEmitter(['births', name])
</script>

<PlainRow label="When" help="From when to when the rate gives births. Bursts have frames of their own.">
  <span class="text-quiet">from</span>
  <NumberField value={births.start ?? 0} {unit} label="Start of births" lowest={0} highest={100000} drag={2} reset={0} frameRate={rate} ondrag={(v) => draft.drag(at('start'), v)} onset={(v) => draft.edit('Change when births start', at('start'), v)} />
  {#if births.duration == null}
    <button type="button" class="border-b border-dotted border-[#5b6a74] hover:border-paper" title="Births go on to the clip's end. Click to give them a duration." onclick={() => draft.edit('Give births a duration', at('duration'), Math.max(clipSeconds - (births.start ?? 0), 1 / rate))}>to the end</button>
  {:else}
    <span class="text-quiet">for</span>
    <NumberField value={births.duration} {unit} label="Duration of births" lowest={0.001} highest={100000} drag={2} frameRate={rate} ondrag={(v) => draft.drag(at('duration'), v)} onset={(v) => draft.edit('Change how long births last', at('duration'), v)} />
    <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => draft.edit('Let births go on to the end', at('duration'), null)}>to the end</button>
  {/if}
</PlainRow>
