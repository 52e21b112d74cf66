<!-- How the picture is taken and what is done to it: its frame, and the items of the finish in order, each with its rows. -->
<script lang="ts">
  import Eye from '@lucide/svelte/icons/eye'
  import EyeOff from '@lucide/svelte/icons/eye-off'
  import Plus from '@lucide/svelte/icons/plus'
  import { onDestroy } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { dropOn } from '../controls/reorder'
  import { useDesk } from '../effect/context'
  import type { Finish } from '../wire/types'
  import { actsOn, addFinish, duplicateFinish, muteFinish, placeFinish, removeFinish } from './finish'
  import HeldSheet from './HeldSheet.svelte'

  const { draft, selection, catalog, overlay } = useDesk()
  const items = $derived(draft.document.finish ?? [])
  const frame = $derived(draft.document.frame)
  const camera = $derived(draft.document.props.find((p) => p.uid === frame?.camera)?.name)
  const plate = $derived(draft.document.props.find((p) => p.uid === frame?.plate)?.name)
  const behind = $derived(
    frame?.behind === 'plate'
      ? `over ${plate ?? 'no backplate yet'}`
      : frame?.behind === 'colour'
        ? 'over a colour'
        : '',
  )
  const MOVED = 'application/x-kagero-finish'
  let over = $state<string | null>(null)
  onDestroy(() => (draft.heldUid = null))

  function choose(uid: string) {
    selection.select(null)
    draft.heldUid = draft.heldUid === uid ? null : uid
  }
  function add(event: Event) {
    overlay.openList(
      event.currentTarget,
      'What is done to the picture',
      catalog.layout.addable
        .filter((offer) => offer.group === 'finish')
        .map((offer) => ({ label: offer.label, group: '', help: offer.help, act: () => addFinish(draft, offer) })),
    )
  }
  function menu(event: Event, item: Finish) {
    event.preventDefault()
    const at = items.indexOf(item)
    overlay.openMenu(event.currentTarget, `What one can do with ${item.name}`, [
      { label: item.muted ? `Let ${item.name} act` : `Mute ${item.name}`, act: () => muteFinish(draft, item) },
      {
        label: 'Earlier',
        disabled: at === 0,
        why: 'It is the first.',
        act: () => placeFinish(draft, item.uid, at - 1),
      },
      {
        label: 'Later',
        disabled: at === items.length - 1,
        why: 'It is the last.',
        act: () => placeFinish(draft, item.uid, at + 1),
      },
      { label: `Duplicate ${item.name}`, act: () => duplicateFinish(draft, item) },
      null,
      { label: `Remove ${item.name}`, act: () => removeFinish(draft, item) },
    ])
  }
  function keys(event: KeyboardEvent, item: Finish) {
    const at = items.indexOf(item)
    if (event.key === 'Delete') removeFinish(draft, item)
    else if (event.altKey && event.key === 'ArrowUp') placeFinish(draft, item.uid, at - 1)
    else if (event.altKey && event.key === 'ArrowDown') placeFinish(draft, item.uid, at + 1)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div class="flex min-h-0 flex-1 flex-col" data-part="finish">
  <div class="flex items-center gap-2 border-b border-line px-3.5 py-2">
    <Action small kind="line" onclick={add} hintAt="right" hint="Glow, motion blur, exposure, colour…"
      ><span class="flex items-center gap-1"><Plus size={13} /> finish</span></Action
    >
    <span class="text-xs text-quiet">what is done to the picture, from top to bottom</span>
  </div>
  <div class="min-h-0 flex-1 overflow-y-auto">
    {#if frame}
      <div
        class="border-b border-line {draft.heldUid === frame.uid ? 'bg-raised' : 'hover:bg-raised/50'}"
        data-finish="frame"
      >
        <button
          type="button"
          class="flex w-full items-baseline gap-2 px-3.5 py-1.5 text-left"
          aria-expanded={draft.heldUid === frame.uid}
          onclick={() => choose(frame.uid)}
          ><b>Frame</b><span class="mono text-[11px] text-quiet">{frame.width} × {frame.height}</span><span
            class="truncate text-xs text-quiet">{camera ? `from ${camera}` : "from the effect's view"} {behind}</span
          ></button
        >
        {#if draft.heldUid === frame.uid}<HeldSheet thing={frame} name="frame" />{/if}
      </div>
    {/if}
    {#each items as item, i (item.uid)}
      {@const part = catalog.part(item, '')}
      <div
        class="border-b border-line {draft.heldUid === item.uid ? 'bg-raised' : 'hover:bg-raised/50'} {over === item.uid
          ? 'outline-1 -outline-offset-1 outline-teal'
          : ''}"
        data-finish={item.uid}
        {...dropOn(
          MOVED,
          item.uid,
          (uid) => (over = uid),
          (uid) => placeFinish(draft, uid, i),
        )}
      >
        <div class="flex items-center">
          <button
            type="button"
            class="ml-2.5 rounded p-1 {item.muted ? 'text-amber' : 'text-quiet hover:text-paper'}"
            aria-pressed={!!item.muted}
            aria-label="{item.muted ? 'Let' : 'Mute'} {item.name}{item.muted ? ' act' : ''}"
            title={item.muted ? 'It is not done: click to let it act' : 'Leave it out for now'}
            onclick={() => muteFinish(draft, item)}
            >{#if item.muted}<EyeOff size={14} />{:else}<Eye size={14} />{/if}</button
          >
          <button
            type="button"
            class="flex min-w-0 flex-1 items-baseline gap-2 py-1.5 pr-3.5 pl-1 text-left"
            aria-expanded={draft.heldUid === item.uid}
            title="Drag it to another place; right-click for what one can do with it"
            draggable="true"
            ondragstart={(e) => e.dataTransfer?.setData(MOVED, item.uid)}
            oncontextmenu={(e) => menu(e, item)}
            onkeydown={(e) => keys(e, item)}
            onclick={() => choose(item.uid)}
          >
            <b class="truncate {item.muted ? 'opacity-55' : ''}">{item.name}</b>
            <span class="truncate text-xs text-quiet"
              >{part && part.label.toLowerCase() !== item.name ? part.label.toLowerCase() : ''}
              {actsOn(draft.document, item)}</span
            >
          </button>
        </div>
        {#if draft.heldUid === item.uid}<HeldSheet
            card="finish:{item.kind}"
            thing={item}
            name={item.name}
            onremove={() => removeFinish(draft, item)}
            onname={(name) => draft.edit(`Rename ${item.name}`, ['finish', i, 'name'], name)}
          />{/if}
      </div>
    {:else}
      <div class="px-4 py-8 text-center text-quiet">
        <p class="text-paper">The picture is as it is rendered.</p>
        <p>
          Add a glow, motion blur, depth of field, fog, colour. The stage shows it, and so do renders and what is handed
          over.
        </p>
      </div>
    {/each}
  </div>
</div>
