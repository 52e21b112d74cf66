<!-- The effect's emitters: eye, name, live count; their menu; the views of the current one. -->
<script lang="ts">
  import { tick } from 'svelte'
  import ChevronDown from '@lucide/svelte/icons/chevron-down'
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Plus from '@lucide/svelte/icons/plus'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import { addEmitter, moveEmitter, removeEmitter } from '../effect/edits'
  import { copied, copyPiece, duplicateEmitter, pasteEmitter } from '../effect/pieces'
  import type { View } from '../effect/selection.svelte'

  const { draft, player, catalog, selection, overlay } = useDesk()
  const emitters = $derived(draft.document.emitters)
  let renaming = $state<number | null>(null)
  let name = $state('')
  const VIEWS: { value: View; label: string; title: string }[] = [
    { value: 'sheet', label: 'Sheet', title: 'Rows as sentences' },
    { value: 'loom', label: 'Loom', title: 'Rows by sources, zoomed out' },
    { value: 'table', label: 'Table', title: 'All particles at this frame, in numbers' },
    { value: 'one', label: 'One life', title: 'One particle from birth to end' },
    { value: 'props', label: 'Props', title: 'What the effect must fit: shapes, meshes, paths, words, cameras' },
  ]

  function choose(index: number) {
    draft.emitterIndex = index
    if (selection.view === 'props') selection.view = 'sheet'
    selection.filter = null
    selection.select(null)
  }
  function eye(index: number) {
    const shown = emitters[index].visible !== false
    draft.edit(`${shown ? 'Hide' : 'Show'} ${emitters[index].name}`, ['emitters', index, 'visible'], !shown)
  }
  function startRename(index: number) {
    name = emitters[index].name
    renaming = index
  }
  function rename() {
    const index = renaming
    renaming = null
    const wanted = name.trim().slice(0, 80)
    if (index !== null && wanted && wanted !== emitters[index].name)
      draft.edit(`Rename ${emitters[index].name} to ${wanted}`, ['emitters', index, 'name'], wanted)
  }
  function menu(event: Event, index: number) {
    const emitter = emitters[index]
    overlay.openMenu(event.currentTarget, emitter.name, [
      { label: 'Rename', hint: 'F2', act: () => startRename(index) },
      { label: 'Duplicate', act: () => void overlay.attempt(() => duplicateEmitter(draft, emitter.uid, emitter.name)) },
      { label: 'Copy', act: () => void overlay.attempt(() => copyPiece(draft, { kind: 'emitter', uid: emitter.uid })) },
      { label: emitter.visible === false ? 'Show' : 'Hide', act: () => eye(index) },
      null,
      { label: 'To the left', disabled: index === 0, act: () => moveEmitter(draft, index, -1) },
      { label: 'To the right', disabled: index === emitters.length - 1, act: () => moveEmitter(draft, index, 1) },
      null,
      {
        label: 'Delete',
        disabled: emitters.length === 1,
        why: 'An effect has at least one emitter.',
        act: () => removeEmitter(draft, index),
      },
    ])
  }
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
    const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (way) {
      const to = (index + way + emitters.length) % emitters.length
      choose(to)
      void tick().then(() => document.getElementById(`emitter-${to}`)?.focus())
    } else if (event.key === 'F2') startRename(index)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div class="flex h-10 shrink-0 items-end gap-1 border-b border-line pr-2.5 pl-3">
  <div class="flex min-w-0 flex-1 items-end overflow-x-auto [scrollbar-width:none]">
    <div role="tablist" aria-label="Emitters" class="flex items-end">
      {#each emitters as emitter, i (emitter.uid)}
        {@const current = emitter === draft.emitter}
        {#if renaming === i}
          <!-- svelte-ignore a11y_autofocus -->
          <input
            bind:value={name}
            autofocus
            maxlength="80"
            aria-label="Emitter name"
            onblur={rename}
            onkeydown={(e) => {
              if (e.key === 'Enter') rename()
              if (e.key === 'Escape') renaming = null
            }}
            class="mb-1.5 h-7 w-32 rounded border-teal bg-ink px-2 py-0 text-[13px] text-paper focus:ring-0"
          />
        {:else}
          <button
            id="emitter-{i}"
            role="tab"
            type="button"
            aria-selected={current}
            tabindex={current ? 0 : -1}
            onclick={() => choose(i)}
            ondblclick={() => startRename(i)}
            onkeydown={(e) => keys(e, i)}
            title="{emitter.name}. Double-click renames."
            class="max-w-36 truncate px-2 pt-2 pb-[9px] whitespace-nowrap focus-visible:-outline-offset-2 {current
              ? 'text-paper shadow-[inset_0_-2px_var(--color-paper)]'
              : 'text-quiet hover:text-paper'} {emitter.visible === false ? 'line-through decoration-quiet' : ''}"
            >{emitter.name}
            <span class="mono ml-0.5 text-[11px] text-quiet"
              >{player.shown?.emitters.find((e) => e.uid === emitter.uid)?.count ?? 0}</span
            ></button
          >
        {/if}
      {/each}
    </div>
    <button
      type="button"
      class="mb-[7px] rounded p-1 text-quiet hover:text-paper {draft.emitter.visible === false ? 'text-amber' : ''}"
      aria-pressed={draft.emitter.visible === false}
      aria-label="{draft.emitter.visible === false ? 'Show' : 'Hide'} {draft.emitter.name}"
      title="{draft.emitter.visible === false ? 'Hidden: click to show' : 'Hide'} {draft.emitter
        .name} on the stage and in renders"
      onclick={() => eye(emitters.indexOf(draft.emitter))}
    >
      {#if draft.emitter.visible === false}<EyeOff size={14} />{:else}<Eye size={14} />{/if}
    </button>
    <button
      type="button"
      class="mb-[7px] rounded p-1 text-quiet hover:text-paper"
      aria-haspopup="menu"
      aria-label="What one can do with {draft.emitter.name}"
      onclick={(e) => menu(e, emitters.indexOf(draft.emitter))}><ChevronDown size={14} /></button
    >
    <button
      type="button"
      class="mb-[7px] rounded p-1 text-quiet hover:text-paper"
      aria-haspopup="menu"
      aria-label="Add an emitter"
      title="Add an emitter"
      onclick={add}><Plus size={14} /></button
    >
  </div>
  <div class="mb-1.5 shrink-0">
    <Segments label="View" value={selection.view} options={VIEWS} onpick={(v) => (selection.view = v)} />
  </div>
</div>
