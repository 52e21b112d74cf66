<!-- The clip's own settings. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import Panel from '../controls/Panel.svelte'
  import Action from '../controls/Action.svelte'
  import { useDesk } from '../effect/context'
  import { atSameSeconds, exactRate, framesASecond, rateText, type Rate } from '../effect/rate'

  const options = (...names: string[]) => names.map((value) => ({ value, label: value }))
  let { open = $bindable() }: { open: boolean } = $props()
  const { draft } = useDesk()
  const clip = $derived(draft.document.clip)
  const PLAIN = { symbol: '', scale: 1, digits: 0 }
  const SHOWN = [
    { field: 'times', label: 'Times in', options: options('seconds', 'frames') },
    { field: 'lengths', label: 'Lengths in', options: options('m', 'cm', 'mm') },
    {
      field: 'rates',
      label: 'Rates',
      options: [
        { value: 'per_second', label: 'per second' },
        { value: 'per_frame', label: 'per frame' },
      ],
    },
  ] as const
  const set = (name: string, value: number, label: string) => draft.edit(label, ['clip', name], value)
  const rate = $derived(framesASecond(clip))
  const seconds = $derived(((clip.last_frame - clip.first_frame) / rate).toFixed(2))
  /** The rate before the last change here: what is counted in frames happens at other seconds since. */
  let before = $state.raw<Rate | null>(null)
  const bursts = $derived(draft.document.emitters.reduce((sum, e) => sum + (e.births.bursts?.length ?? 0), 0))
  $effect(() => {
    if (!open) before = null
  })
  function setRate(typed: number) {
    before ??= clip.frame_rate
    draft.edit('Change the frame rate', ['clip', 'frame_rate'], exactRate(typed))
  }
  function keepSeconds() {
    draft.replace(atSameSeconds(draft.document, before!), 'Keep the seconds under the new frame rate')
    before = null
  }
</script>

<Panel bind:open title="Clip" size="xs">
  <dl class="grid grid-cols-[1fr_auto] items-center gap-x-6 gap-y-3">
    <dt>Frame rate</dt>
    <dd>
      <NumberField
        boxed
        value={Number(rateText(clip))}
        unit={{ symbol: 'a second', scale: 1, digits: 3 }}
        label="Frame rate"
        lowest={1}
        highest={240}
        drag={30}
        reset={25}
        onset={setRate}
      />
    </dd>
    {#if clip.frame_rate[1] > 1}<dd
        class="mono col-span-2 -mt-2 text-right text-xs text-quiet"
        title="Frame rates are exact fractions, so that no frame drifts over a long clip"
      >
        exactly {clip.frame_rate[0]} / {clip.frame_rate[1]}
      </dd>{/if}
    {#if before && String(before) !== String(clip.frame_rate)}
      <dd class="col-span-2 rounded-md border border-line px-3 py-2" data-part="rate-changed">
        The clip’s ends{bursts === 1 ? ' and one burst are' : bursts ? ` and ${bursts} bursts are` : ' are'} counted in frames:
        they come at other seconds now.
        <span class="mt-2 block"
          ><Action kind="line" onclick={keepSeconds} hint="Give them the nearest frames to the seconds they had"
            >Keep their seconds</Action
          ></span
        >
      </dd>
    {/if}
    <dt>First frame</dt>
    <dd>
      <NumberField
        boxed
        value={clip.first_frame}
        unit={PLAIN}
        label="First frame"
        whole
        lowest={-1000000}
        highest={clip.last_frame}
        drag={40}
        onset={(v) => set('first_frame', v, 'Change the first frame')}
      />
    </dd>
    <dt>Last frame <span class="text-quiet">({seconds} s in all)</span></dt>
    <dd>
      <NumberField
        boxed
        value={clip.last_frame}
        unit={PLAIN}
        label="Last frame"
        whole
        lowest={clip.first_frame}
        highest={clip.first_frame + 20000}
        drag={40}
        onset={(v) => set('last_frame', v, 'Change the last frame')}
      />
    </dd>
    <dt>Run-up <span class="text-quiet">frames before the first, not shown</span></dt>
    <dd>
      <NumberField
        boxed
        value={clip.run_up ?? 0}
        unit={PLAIN}
        label="Run-up"
        whole
        lowest={0}
        highest={2000}
        drag={60}
        reset={0}
        onset={(v) => set('run_up', v, 'Change the run-up')}
      />
    </dd>
    <dt>Steps in a frame <span class="text-quiet">for fast motion</span></dt>
    <dd>
      <NumberField
        boxed
        value={clip.substeps ?? 1}
        unit={PLAIN}
        label="Steps in a frame"
        whole
        lowest={1}
        highest={64}
        drag={8}
        reset={1}
        onset={(v) => set('substeps', v, 'Change the steps in a frame')}
      />
    </dd>
    {#each SHOWN as { field, label, options } (field)}
      <dt>{label}</dt>
      <dd class="justify-self-end">
        <Segments
          {label}
          value={clip.shown?.[field] ?? options[0].value}
          {options}
          onpick={(v) =>
            draft.edit(`Show ${label.toLowerCase()} otherwise`, ['clip', 'shown'], { ...clip.shown, [field]: v })}
        />
      </dd>
    {/each}
    <dt>Seed <span class="text-quiet">another one draws everything anew</span></dt>
    <dd>
      <NumberField
        boxed
        value={clip.seed ?? 1}
        unit={PLAIN}
        label="Seed"
        whole
        lowest={0}
        highest={4294967295}
        drag={20}
        onset={(v) => set('seed', v, 'Change the seed')}
      />
    </dd>
  </dl>
</Panel>
