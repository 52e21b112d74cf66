<!-- Something that can be chosen of a format, by what the core says of it. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import type { OptionSpec } from '../wire/types'

  let {
    option,
    value,
    open = [],
    onset,
  }: {
    option: OptionSpec
    value: unknown
    /** What can be chosen of an option that the effect decides about. */
    open?: { value: string; label: string }[]
    onset: (value: unknown) => void
  } = $props()
  const options = $derived(
    option.choices.length
      ? option.choices.map(([of, words]) => ({ value: of, name: words, label: words, title: option.help }))
      : open.map(({ value: of, label }) => ({ value: of, name: label, label, title: option.help })),
  )
  const several = $derived((Array.isArray(value) ? value : []) as string[])
  const tick = 'h-3.5 w-3.5 rounded border-line bg-ink text-teal'
</script>

{#if option.kind === 'tick'}
  <label class="ml-[5.5rem] flex items-center gap-1.5" title={option.help}
    ><input
      type="checkbox"
      class={tick}
      checked={!!value}
      onchange={(e) => onset(e.currentTarget.checked)}
    />{option.label}</label
  >
{:else}
  <div class="flex items-start gap-2" title={option.help}>
    <span class="w-20 shrink-0 pt-1 text-quiet">{option.label}</span>
    {#if option.kind === 'whole'}
      <NumberField
        boxed
        value={value as number}
        unit={{ symbol: option.unit, scale: 1, digits: 0 }}
        label={option.label}
        whole
        lowest={option.lowest}
        highest={option.highest}
        drag={Math.min(option.highest - option.lowest, 60)}
        {onset}
      />
    {:else if option.kind === 'several' && !option.choices.length}
      <span class="flex flex-wrap items-center gap-1.5"
        >{#each several as each (each)}<button
            type="button"
            class="rounded border border-line px-1.5 py-0.5 text-xs hover:border-quiet"
            aria-label="Leave out {options.find((o) => o.value === each)?.name ?? each}"
            onclick={() => onset(several.filter((one) => one !== each))}
            >{options.find((o) => o.value === each)?.name ?? each} ×</button
          >{/each}<Choice
          label={option.label}
          value=""
          options={[{ value: '', name: 'add…' }, ...options.filter((o) => !several.includes(o.value))]}
          onpick={(of) => of && onset([...several, of])}
        /></span
      >
    {:else if option.kind === 'several'}
      <span class="flex flex-wrap gap-x-3 gap-y-1 pt-1"
        >{#each options as each (each.value)}<label class="flex items-center gap-1"
            ><input
              type="checkbox"
              class={tick}
              checked={several.includes(each.value)}
              onchange={(e) =>
                onset(e.currentTarget.checked ? [...several, each.value] : several.filter((one) => one !== each.value))}
            />{each.name}</label
          >{/each}</span
      >
    {:else if options.length <= 3}
      <Segments label={option.label} value={String(value)} {options} onpick={onset} />
    {:else}
      <Choice label={option.label} value={String(value)} {options} onpick={onset} />
    {/if}
  </div>
{/if}
