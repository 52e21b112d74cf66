<!-- A dialog in Kagero's look. -->
<script lang="ts">
  import { Modal } from 'flowbite-svelte'
  import type { Snippet } from 'svelte'

  let {
    open = $bindable(),
    title,
    children,
    footer,
    size = 'sm',
    dismissable = true,
  }: {
    open: boolean
    title: string
    children: Snippet
    footer?: Snippet
    size?: 'xs' | 'sm' | 'md' | 'lg'
    dismissable?: boolean
  } = $props()
</script>

<Modal
  bind:open
  {title}
  {size}
  {footer}
  {dismissable}
  permanent={!dismissable}
  class="rounded-lg border border-line bg-panel text-paper shadow-2xl backdrop:bg-ink/60 dark:bg-panel"
  classes={{
    header: 'border-line px-5 py-3 text-paper [&_h3]:text-[15px] [&_h3]:font-bold',
    body: 'px-5 py-4 text-paper',
    footer: 'border-line px-5 py-3 gap-2 justify-end text-paper',
    close: 'text-quiet hover:bg-raised hover:text-paper',
  }}
>
  {@render children()}
</Modal>
