<!-- One of several, in a list that opens. -->
<script lang="ts">
  import { Select } from 'flowbite-svelte'

  let {
    options,
    value,
    onpick,
    label,
    class: extra = '',
  }: {
    options: readonly { value: string; name: string; disabled?: boolean }[]
    value: string
    onpick: (value: string) => void
    label: string
    class?: string
  } = $props()
</script>

<Select
  aria-label={label}
  class="inline-block w-auto!"
  items={[...options]}
  {value}
  placeholder=""
  size="sm"
  onchange={(event: Event) => onpick((event.currentTarget as HTMLSelectElement).value)}
  classes={{
    select: `h-[26px] w-auto rounded-md border-line bg-ink py-0 pr-6 pl-2 text-[13px] text-paper bg-position-[right_0.25rem_center] focus:border-teal focus:ring-0 dark:bg-ink dark:border-line dark:text-paper ${extra}`,
  }}
/>
