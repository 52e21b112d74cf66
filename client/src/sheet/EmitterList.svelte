<!-- Many emitters, in folders, beside the sheet: each with its eye, solo, colour, count and menu; dragged to reorder. -->
<script lang="ts">
  import { dropOn } from '../controls/reorder'
  import { tick } from 'svelte'
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import ChevronDown from '@lucide/svelte/icons/chevron-down'
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import NameInput from '../controls/NameInput.svelte'
  import { useDesk } from '../effect/context'
  import { placeEmitter } from '../effect/edits'
  import type { Emitter } from '../wire/types'
  import { chooseEmitter, emitterMenu, MOVED, showEmitter, soloEmitter } from './emitters'

  const desk = useDesk()
  const { draft, player, selection } = desk
  const emitters = $derived(draft.document.emitters)
  const folders = $derived([...new Set(emitters.map((e) => e.folder ?? ''))])
  let closed = $state<Record<string, boolean>>({})
  let renaming = $state<string | null>(null)
  let over = $state<string | null>(null)
  const count = (uid: string) => player.shown?.emitters.find((e) => e.uid === uid)?.count ?? 0

  function keys(event: KeyboardEvent, emitter: Emitter) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    const there = folders.filter((f) => !closed[f]).flatMap((f) => emitters.filter((e) => (e.folder ?? '') === f))
    if (by) {
      const next = there[there.indexOf(emitter) + by]
      if (!next) return
      if (event.altKey) placeEmitter(draft, emitter.uid, next.uid)
      else chooseEmitter(desk, next.uid)
      const uid = event.altKey ? emitter.uid : next.uid
      void tick().then(() => document.querySelector<HTMLElement>(`[data-emitter="${uid}"] [data-pick]`)?.focus())
    } else if (event.key === 'F2') renaming = emitter.uid
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<nav class="w-[168px] shrink-0 overflow-y-auto border-r border-line py-1" aria-label="Emitters" data-part="emitters">
  {#each folders as folder (folder)}
    {#if folder}
      <button
        type="button"
        aria-expanded={!closed[folder]}
        class="flex w-full items-center gap-1 px-2 pt-1.5 pb-0.5 text-left text-xs text-quiet hover:text-paper"
        onclick={() => (closed[folder] = !closed[folder])}
        ><ChevronRight size={12} class={closed[folder] ? '' : 'rotate-90'} /><span class="truncate">{folder}</span><span
          class="mono ml-auto text-[11px]">{emitters.filter((e) => e.folder === folder).length}</span
        ></button
      >
    {/if}
    {#if !closed[folder]}
      {#each emitters.filter((e) => (e.folder ?? '') === folder) as emitter (emitter.uid)}
        {@const current = emitter === draft.emitter}
        {@const hidden = emitter.visible === false}
        <div
          class="group flex h-[27px] items-center gap-0.5 pr-1 {folder ? 'pl-3' : 'pl-1.5'} {current
            ? 'bg-raised'
            : 'hover:bg-raised/50'} {over === emitter.uid ? 'outline-1 -outline-offset-1 outline-teal' : ''}"
          role="group"
          aria-label={emitter.name}
          data-emitter={emitter.uid}
          {...dropOn(
            MOVED,
            emitter.uid,
            (uid) => (over = uid),
            (uid) => placeEmitter(draft, uid, emitter.uid),
          )}
        >
          <button
            type="button"
            class="rounded p-0.5 {hidden ? 'text-amber' : 'text-quiet hover:text-paper'}"
            aria-pressed={hidden}
            aria-label="{hidden ? 'Show' : 'Hide'} {emitter.name}"
            title="{hidden ? 'Hidden: click to show' : 'Hide'} it on the stage and in renders"
            onclick={() => showEmitter(desk, emitter)}
            >{#if hidden}<EyeOff size={13} />{:else}<Eye size={13} />{/if}</button
          >
          {#if renaming === emitter.uid}
            <NameInput
              value={emitter.name}
              label="Emitter name"
              onset={(name) =>
                draft.edit(`Rename ${emitter.name} to ${name}`, ['emitters', emitters.indexOf(emitter), 'name'], name)}
              onclose={() => (renaming = null)}
              class="h-[21px] min-w-0 flex-1 text-[13px]"
            />
          {:else}
            <button
              type="button"
              data-pick
              class="flex min-w-0 flex-1 items-center gap-1.5 text-left {current ? 'text-paper' : 'text-quiet'} {hidden
                ? 'line-through decoration-quiet'
                : ''}"
              aria-current={current ? 'true' : undefined}
              title="{emitter.name}. F2 renames, Alt ↑ ↓ moves it."
              draggable="true"
              ondragstart={(e) => e.dataTransfer?.setData(MOVED, emitter.uid)}
              onclick={() => chooseEmitter(desk, emitter.uid)}
              ondblclick={() => (renaming = emitter.uid)}
              onkeydown={(e) => keys(e, emitter)}
              oncontextmenu={(e) => {
                e.preventDefault()
                emitterMenu(desk, e.currentTarget, emitter, () => (renaming = emitter.uid))
              }}
              >{#if emitter.colour}<span class="h-2 w-2 shrink-0 rounded-full" style:background={emitter.colour}
                ></span>{/if}<span class="truncate">{emitter.name}</span><span
                class="mono ml-auto text-[11px] text-quiet">{count(emitter.uid)}</span
              ></button
            >
          {/if}
          <button
            type="button"
            class="rounded px-1 text-[11px] {selection.only === emitter.uid
              ? 'bg-vermilion text-ink'
              : 'text-quiet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-paper'}"
            aria-pressed={selection.only === emitter.uid}
            aria-label="Solo {emitter.name}"
            title="Only this emitter, for a while"
            onclick={() => soloEmitter(desk, emitter.uid)}>solo</button
          >
          <button
            type="button"
            class="rounded p-0.5 text-quiet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-paper"
            aria-haspopup="menu"
            aria-label="What one can do with {emitter.name}"
            onclick={(e) => emitterMenu(desk, e.currentTarget, emitter, () => (renaming = emitter.uid))}
            ><ChevronDown size={13} /></button
          >
        </div>
      {/each}
    {/if}
  {/each}
</nav>
