<!-- A menu of the Desk: arrows walk, Enter chooses, a letter jumps. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import { useDesk } from '../effect/context'
  import type { MenuItem } from '../effect/overlay.svelte'
  import Floating from '../controls/Floating.svelte'

  const { overlay } = useDesk()
  const menu = $derived(overlay.menu!)
  let list = $state<HTMLDivElement>()

  onMount(() => list?.querySelector<HTMLButtonElement>('button:not(:disabled)')?.focus())
  function choose(item: NonNullable<MenuItem>) {
    overlay.close()
    item.act()
  }
  function keys(event: KeyboardEvent) {
    const buttons = [...list!.querySelectorAll<HTMLButtonElement>('button:not(:disabled)')]
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement)
    const letter =
      event.key.length === 1
        ? buttons.findIndex((b, i) => i > at && b.textContent!.trim().toLowerCase().startsWith(event.key.toLowerCase()))
        : -1
    if (event.key === 'ArrowDown') buttons[(at + 1) % buttons.length]?.focus()
    else if (event.key === 'ArrowUp') buttons[(at - 1 + buttons.length) % buttons.length]?.focus()
    else if (event.key === 'Home') buttons[0]?.focus()
    else if (event.key === 'End') buttons[buttons.length - 1]?.focus()
    else if (letter >= 0) buttons[letter].focus()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<Floating anchor={menu.anchor} width={250} label={menu.title} role="menu" onclose={() => overlay.close()}>
  <div bind:this={list} class="min-h-0 overflow-y-auto py-1" onkeydown={keys} role="none">
    {#each menu.items as item}
      {#if item === null}
        <div class="my-1 border-t border-line" role="separator"></div>
      {:else}
        <button
          role="menuitem"
          type="button"
          disabled={item.disabled}
          title={item.why}
          onclick={() => choose(item)}
          class="flex w-full items-baseline justify-between gap-3 px-3 py-1 text-left text-[13px] hover:bg-raised focus:bg-raised focus:outline-none disabled:opacity-50 disabled:hover:bg-transparent"
          ><span class="flex items-baseline gap-2"
            >{#if item.dot !== undefined}<span
                class="h-2.5 w-2.5 self-center rounded-full {item.dot ? '' : 'border border-quiet'}"
                style:background={item.dot || 'none'}
              ></span>{/if}{item.label}</span
          >{#if item.hint}<span class="mono text-[11px] text-quiet">{item.hint}</span>{/if}</button
        >
      {/if}
    {/each}
  </div>
</Floating>
