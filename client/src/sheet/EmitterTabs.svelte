<!-- The effect's emitters: eye, name, live count; their menu; the views of the current one. -->
<script lang="ts">
  import { dropOn } from '../controls/reorder'
  import { tick } from 'svelte'
  import ChevronDown from '@lucide/svelte/icons/chevron-down'
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Plus from '@lucide/svelte/icons/plus'
  import NameInput from '../controls/NameInput.svelte'
  import { chooseEmitter, emitterMenu, listed, MOVED, showEmitter, soloEmitter } from './emitters'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import { addEmitter, placeEmitter } from '../effect/edits'
  import { copied, pasteEmitter } from '../effect/pieces'
  import type { View } from '../effect/selection.svelte'

  const desk = useDesk()
  const { draft, player, catalog, selection, overlay } = desk
  const emitters = $derived(draft.document.emitters)
  const many = $derived(listed(emitters))
  let renaming = $state<string | null>(null)
  let over = $state<string | null>(null)
  const VIEWS: { value: View; label: string; title: string }[] = [
    { value: 'sheet', label: 'Sheet', title: 'Rows as sentences' },
    { value: 'loom', label: 'Loom', title: 'Rows by sources, zoomed out' },
    { value: 'table', label: 'Table', title: 'All particles at this frame, in numbers' },
    { value: 'one', label: 'One life', title: 'One particle from birth to end' },
    { value: 'props', label: 'Props', title: 'What the effect must fit: shapes, meshes, paths, words, cameras' },
    {
      value: 'finish',
      label: 'Finish',
      title: 'The frame, what stands behind all, and what is done to the picture: glow, motion blur, colour',
    },
  ]

  function add(event: Event) {
    const piece = copied()
    overlay.openMenu(event.currentTarget, 'Add an emitter', [
      { label: 'New emitter', act: () => addEmitter(draft, catalog) },
      {
        label: 'Paste the copied emitter',
        disabled: piece?.kind !== 'emitter',
        why: 'Copy an emitter first, here or in another effect.',
        act: () => void overlay.attempt(() => pasteEmitter(draft, piece!, 'Paste an emitter')),
      },
    ])
  }
  function keys(event: KeyboardEvent, index: number) {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (by) {
      const to = (index + by + emitters.length) % emitters.length
      chooseEmitter(desk, emitters[to].uid)
      void tick().then(() => document.getElementById(`emitter-${to}`)?.focus())
    } else if (event.key === 'F2') renaming = emitters[index].uid
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const solo = $derived(selection.only === draft.emitter.uid)
  const hidden = $derived(draft.emitter.visible === false)
  const button = 'rounded p-1 hover:text-paper'
</script>

<div class="flex min-h-10 shrink-0 items-end gap-1 border-b border-line pr-2.5 pl-3">
  <div class="flex min-w-0 flex-1 flex-wrap items-end">
    {#if !many}
      <div role="tablist" aria-label="Emitters" class="flex flex-wrap items-end">
        {#each emitters as emitter, i (emitter.uid)}
          {@const current = emitter === draft.emitter}
          {#if renaming === emitter.uid}
            <NameInput
              value={emitter.name}
              label="Emitter name"
              onset={(name) => draft.edit(`Rename ${emitter.name} to ${name}`, ['emitters', i, 'name'], name)}
              onclose={() => (renaming = null)}
              class="mb-1.5 h-7 w-32 text-[13px]"
            />
          {:else}
            <button
              id="emitter-{i}"
              role="tab"
              type="button"
              aria-selected={current}
              tabindex={current ? 0 : -1}
              onclick={() => chooseEmitter(desk, emitter.uid)}
              ondblclick={() => (renaming = emitter.uid)}
              onkeydown={(e) => keys(e, i)}
              oncontextmenu={(e) => {
                e.preventDefault()
                emitterMenu(desk, e.currentTarget, emitter, () => (renaming = emitter.uid))
              }}
              title="{emitter.name}. Double-click renames; drag it to another place."
              draggable="true"
              ondragstart={(e) => e.dataTransfer?.setData(MOVED, emitter.uid)}
              {...dropOn(
                MOVED,
                emitter.uid,
                (uid) => (over = uid),
                (uid) => placeEmitter(draft, uid, emitter.uid),
              )}
              class="max-w-36 truncate px-2 pt-2 pb-[9px] whitespace-nowrap focus-visible:-outline-offset-2 {current
                ? 'text-paper shadow-[inset_0_-2px_var(--color-paper)]'
                : 'text-quiet hover:text-paper'} {emitter.visible === false
                ? 'line-through decoration-quiet'
                : ''} {over === emitter.uid ? 'bg-raised' : ''}"
              >{#if emitter.colour}<span
                  class="mr-1.5 inline-block h-2 w-2 rounded-full"
                  style:background={emitter.colour}
                ></span>{/if}{emitter.name}
              <span class="mono ml-0.5 text-[11px] text-quiet"
                >{player.shown?.emitters.find((e) => e.uid === emitter.uid)?.count ?? 0}</span
              ></button
            >
          {/if}
        {/each}
      </div>
    {:else}
      <span class="max-w-44 truncate px-1 pt-2 pb-[9px] font-bold" title={draft.emitter.name}>{draft.emitter.name}</span
      >
    {/if}
    <span class="mb-[7px] flex items-center whitespace-nowrap">
      <button
        type="button"
        class="{button} {hidden ? 'text-amber' : 'text-quiet'}"
        aria-pressed={hidden}
        aria-label="{hidden ? 'Show' : 'Hide'} {draft.emitter.name}"
        title="{hidden ? 'Hidden: click to show' : 'Hide'} {draft.emitter.name} on the stage and in renders"
        onclick={() => showEmitter(desk, draft.emitter)}
      >
        {#if hidden}<EyeOff size={14} />{:else}<Eye size={14} />{/if}
      </button>
      {#if emitters.length > 1}<button
          type="button"
          class="rounded px-1 text-xs {solo ? 'bg-vermilion text-ink' : 'text-quiet hover:text-paper'}"
          aria-pressed={solo}
          aria-label="Solo {draft.emitter.name}"
          title="Only {draft.emitter.name} on the stage, for a while"
          onclick={() => soloEmitter(desk, draft.emitter.uid)}>solo</button
        >{/if}
      <button
        type="button"
        class="{button} text-quiet"
        aria-haspopup="menu"
        aria-label="What one can do with {draft.emitter.name}"
        onclick={(e) => emitterMenu(desk, e.currentTarget, draft.emitter, () => (renaming = draft.emitter.uid))}
        ><ChevronDown size={14} /></button
      >
      <button
        type="button"
        class="{button} text-quiet"
        aria-haspopup="menu"
        aria-label="Add an emitter"
        title="Add an emitter"
        onclick={add}><Plus size={14} /></button
      >
    </span>
  </div>
  <div class="mb-1.5 shrink-0">
    <Segments label="View" value={selection.view} options={VIEWS} onpick={(v) => (selection.view = v)} />
  </div>
</div>
