<!-- Asks once how long a unit of a file is and which way is up, before its cameras stand anywhere. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Panel from '../controls/Panel.svelte'
  import Segments from '../controls/Segments.svelte'
  import type { BroughtIn } from '../wire/types'

  let { file, onanswer }: { file: BroughtIn | null; onanswer: (axes: { unit: number; up: 'y' | 'z' } | null) => void } =
    $props()
  const KNOWN = [
    { value: '1', label: 'metre' },
    { value: '0.01', label: 'centimetre' },
    { value: '0.001', label: 'millimetre' },
    { value: '0.0254', label: 'inch' },
    { value: '0.3048', label: 'foot' },
  ]
  let chosen = $state.raw<{ of: string; unit: number; up: 'y' | 'z' } | null>(null)
  const axes = $derived(
    chosen && chosen.of === file?.content
      ? chosen
      : { of: file?.content ?? '', unit: file?.unit ?? 1, up: (file?.up === 'z' ? 'z' : 'y') as 'y' | 'z' },
  )
</script>

<Panel
  bind:open={() => file !== null, (open) => open || onanswer(null)}
  title="Cameras of {file?.name ?? ''}"
  size="sm"
>
  <p>
    {file?.cameras === 1 ? 'One camera stands' : `${file?.cameras} cameras stand`} in the file's own units. Both are as the
    file says, or as its sizes tell.
  </p>
  <div class="mt-3 grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3">
    <span class="text-quiet">One of its units is a</span>
    <span class="flex flex-wrap items-center gap-3">
      <Segments
        label="One unit of the file"
        options={KNOWN}
        value={KNOWN.find((k) => Number(k.value) === axes.unit)?.value ?? ''}
        onpick={(value) => (chosen = { ...axes, unit: Number(value) })}
      />
      <NumberField
        boxed
        label="Length of a unit"
        value={axes.unit}
        unit={{ symbol: 'm', scale: 1, digits: 4 }}
        lowest={0.000001}
        highest={10000}
        onset={(unit: number) => (chosen = { ...axes, unit })}
      />
    </span>
    <span class="text-quiet">Upright is its</span>
    <span>
      <Segments
        label="Upright axis of the file"
        options={[
          { value: 'y', label: 'y axis' },
          { value: 'z', label: 'z axis' },
        ]}
        value={axes.up}
        onpick={(up) => (chosen = { ...axes, up })}
      />
    </span>
  </div>
  {#each file?.remarks ?? [] as remark (remark)}
    <p class="mt-2 text-amber">{remark}</p>
  {/each}
  {#snippet footer()}
    <Action kind="line" onclick={() => onanswer(null)}>Leave it</Action>
    <Action kind="chosen" onclick={() => onanswer({ unit: axes.unit, up: axes.up })}>Bring in</Action>
  {/snippet}
</Panel>
