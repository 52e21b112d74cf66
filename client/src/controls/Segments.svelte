<!-- One of a few, all visible. -->
<script lang="ts" generics="T extends string">
  let {
    options,
    value,
    onpick,
    label,
  }: {
    options: readonly { value: T; label: string; title?: string; disabled?: boolean }[]
    value: T
    onpick: (value: T) => void
    label: string
  } = $props()

  function arrow(event: KeyboardEvent) {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!step) return
    event.preventDefault()
    event.stopPropagation()
    const free = options.filter((o) => !o.disabled)
    const next = free[(free.findIndex((o) => o.value === value) + step + free.length) % free.length]
    onpick(next.value)
    const buttons = (event.currentTarget as HTMLElement).querySelectorAll('button')
    buttons[options.indexOf(next)].focus()
  }
</script>

<div
  class="inline-flex overflow-hidden rounded-md border border-line"
  role="radiogroup"
  aria-label={label}
  tabindex="-1"
  onkeydown={arrow}
>
  {#each options as option (option.value)}
    <button
      type="button"
      role="radio"
      aria-checked={value === option.value}
      tabindex={value === option.value ? 0 : -1}
      disabled={option.disabled}
      title={option.title}
      onclick={() => onpick(option.value)}
      class="px-2.5 py-1 text-[13px] leading-4 disabled:opacity-40 focus-visible:-outline-offset-2 {value ===
      option.value
        ? 'bg-paper text-ink'
        : 'text-quiet hover:text-paper'}">{option.label}</button
    >
  {/each}
</div>
