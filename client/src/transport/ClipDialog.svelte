<!-- The clip's own settings. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'

  let { open = $bindable() }: { open: boolean } = $props()
  const { draft } = useDesk()
  const clip = $derived(draft.document.clip)
  const PLAIN = { symbol: '', scale: 1, digits: 0 }
  const set = (name: string, value: number, label: string) => draft.edit(label, ['clip', name], value)
  const seconds = $derived(((clip.last_frame - clip.first_frame) / clip.frame_rate).toFixed(2))
</script>

<Panel bind:open title="Clip" size="xs">
  <dl class="grid grid-cols-[1fr_auto] items-center gap-x-6 gap-y-3">
    <dt>Frame rate</dt>
    <dd><NumberField boxed value={clip.frame_rate} unit={{ symbol: 'a second', scale: 1, digits: 3 }} label="Frame rate" lowest={1} highest={240} drag={30} reset={25} onset={(v) => set('frame_rate', v, 'Change the frame rate')} /></dd>
    <dt>First frame</dt>
    <dd><NumberField boxed value={clip.first_frame} unit={PLAIN} label="First frame" whole lowest={-1000000} highest={clip.last_frame} drag={40} onset={(v) => set('first_frame', v, 'Change the first frame')} /></dd>
    <dt>Last frame <span class="text-quiet">({seconds} s in all)</span></dt>
    <dd><NumberField boxed value={clip.last_frame} unit={PLAIN} label="Last frame" whole lowest={clip.first_frame} highest={clip.first_frame + 20000} drag={40} onset={(v) => set('last_frame', v, 'Change the last frame')} /></dd>
    <dt>Run-up <span class="text-quiet">frames before the first, not shown</span></dt>
    <dd><NumberField boxed value={clip.run_up ?? 0} unit={PLAIN} label="Run-up" whole lowest={0} highest={2000} drag={60} reset={0} onset={(v) => set('run_up', v, 'Change the run-up')} /></dd>
    <dt>Substeps <span class="text-quiet">a frame, for fast motion</span></dt>
    <dd><NumberField boxed value={clip.substeps ?? 1} unit={PLAIN} label="Substeps" whole lowest={1} highest={64} drag={8} reset={1} onset={(v) => set('substeps', v, 'Change substeps')} /></dd>
    <dt>Seed <span class="text-quiet">another one draws everything anew</span></dt>
    <dd><NumberField boxed value={clip.seed ?? 1} unit={PLAIN} label="Seed" whole lowest={0} highest={4294967295} drag={20} onset={(v) => set('seed', v, 'Change the seed')} /></dd>
  </dl>
</Panel>
