<!-- A list of points, each of two or three numbers. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import { useDesk } from '../effect/context'
  import type { Unit } from '../wire/types'

  let {
    points,
    path,
    unit,
    label,
    words,
    least = 1,
  }: {
    points: number[][]
    path: readonly (string | number)[]
    unit: Unit
    label: string
    /** What each number is called. */
    words: string[]
    least?: number
  } = $props()
  const { draft } = useDesk()
  const grown = () => points.at(-1)!.map((x, i) => x + (i === (words.length === 2 ? 1 : 0) ? 0.4 : 0))
</script>

<button
  type="button"
  class="text-xs text-quiet underline decoration-dotted hover:text-paper"
  onclick={() => draft.edit(`Lengthen the ${label}`, path, [...points, grown()])}>add a point</button
>
{#each points as point, i}
  <span class="flex items-center gap-1 rounded border border-line bg-ink px-1.5 py-0.5" data-point={i}>
    {#each words as word, k}<NumberField
        value={point[k]}
        {unit}
        label={words.length === 2 ? `${word} ${i + 1}` : `Point ${i + 1} ${word}`}
        drag={2}
        ondrag={(v) => draft.drag([...path, i, k], v)}
        onset={(v) => draft.edit(`Move a point of the ${label}`, [...path, i, k], v)}
      />{/each}
    {#if points.length > least}<button
        type="button"
        class="text-quiet hover:text-paper"
        aria-label="Remove point {i + 1}"
        onclick={() =>
          draft.edit(
            `Shorten the ${label}`,
            path,
            points.filter((p) => p !== point),
          )}>×</button
      >{/if}
  </span>
{/each}
