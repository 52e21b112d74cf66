<!-- A button in Kagero's look. kind: quiet (words), line (bordered), chosen (the main one of a dialog). -->
<script lang="ts">
  import { Button, Tooltip } from 'flowbite-svelte'
  import type { Snippet } from 'svelte'

  let {
    children,
    onclick,
    kind = 'quiet',
    label,
    hint,
    hintAt = 'bottom',
    disabled = false,
    pressed,
    id,
    class: extra = '',
    small = false,
  }: {
    children: Snippet
    onclick?: (event: MouseEvent) => void
    kind?: 'quiet' | 'line' | 'chosen'
    /** What it is called, when the content is no text. */
    label?: string
    /** Shown on hover, with the shortcut. */
    hint?: string
    /** On which side of it the hint stands. */
    hintAt?: 'bottom' | 'right'
    disabled?: boolean
    pressed?: boolean
    id?: string
    class?: string
    small?: boolean
  } = $props()

  const looks = {
    quiet: 'border-transparent bg-transparent! text-paper! hover:bg-raised!',
    line: 'border-line bg-ink/70! text-paper! hover:bg-raised!',
    chosen: 'border-paper bg-paper! text-ink! hover:opacity-90!',
  }
</script>

<Button
  {id}
  {onclick}
  {disabled}
  aria-label={label}
  aria-pressed={pressed}
  class="{looks[
    pressed ? 'chosen' : kind
  ]} rounded-md border font-medium whitespace-nowrap shadow-none focus:ring-0 focus-within:ring-0 {small
    ? 'h-6 px-2 text-xs'
    : 'h-[30px] px-3 text-[13px]'} {disabled ? 'opacity-45' : ''} {extra}"
>
  {@render children()}
</Button>
{#if hint}<Tooltip
    class="pointer-events-none z-50 max-w-64 border border-line bg-ink! px-2 py-1 text-xs font-medium text-paper"
    placement={hintAt}
    arrow={false}>{hint}</Tooltip
  >{/if}
