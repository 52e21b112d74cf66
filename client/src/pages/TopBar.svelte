<!-- The effect's name, whether it is saved, undo and redo, export, help. -->
<script lang="ts">
  import NameInput from '../controls/NameInput.svelte'
  import Redo2 from '@lucide/svelte/icons/redo-2'
  import Undo2 from '@lucide/svelte/icons/undo-2'
  import Action from '../controls/Action.svelte'
  import { placeInWords } from '../effect/catalog.svelte'
  import { keyHint } from '../effect/commands.svelte'
  import { useDesk } from '../effect/context'
  import Mark from './Mark.svelte'

  let {
    onexport,
    onhelp,
    oncommands,
    onhistory,
    onlibrary,
  }: {
    onexport: () => void
    onhelp: () => void
    oncommands: () => void
    onhistory: () => void
    onlibrary: () => void
  } = $props()
  const { draft, catalog, selection } = useDesk()
  const dials = $derived((draft.document.dials ?? []).length)
  let renaming = $state(false)
  const clock = $derived(draft.savedAt.toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }))
  const words = $derived(
    {
      saved: draft.findings.length ? `saved ${clock}, cannot be played yet` : `saved ${clock}`,
      changed: 'changed',
      saving: 'saving…',
      unreachable: `not saved: ${draft.trouble || 'no answer'}, trying again`,
      refused: 'not saved',
      conflict: 'not saved: changed elsewhere',
    }[draft.saveState],
  )
  const worried = $derived(
    draft.findings.length > 0 ||
      draft.saveState === 'unreachable' ||
      draft.saveState === 'refused' ||
      draft.saveState === 'conflict',
  )
  const why = $derived(
    draft.findings.map((f) => `${placeInWords(catalog, draft.document, f.where)}: ${f.message} ${f.remedy}`).join('\n'),
  )
</script>

<header class="flex h-11 items-center gap-3.5 border-b border-line bg-panel px-4">
  <a
    href="/"
    onclick={(e) => {
      e.preventDefault()
      onlibrary()
    }}
    class="flex items-center gap-3.5 rounded"
    title="Back to the library"
    ><Mark /><b class="text-[15px] tracking-[.04em] max-[700px]:hidden">Kagero</b><span class="text-quiet">Library</span
    ></a
  >
  <span class="text-quiet">/</span>
  {#if renaming}
    <NameInput
      value={draft.document.name}
      label="Effect name"
      onset={(name) => draft.edit('Rename the effect', ['name'], name)}
      onclose={() => (renaming = false)}
      class="h-7 w-64 text-[13px]"
    />
  {:else}
    <button
      type="button"
      class="max-w-80 truncate rounded hover:underline"
      title="Rename"
      onclick={() => (renaming = true)}>{draft.document.name}</button
    >
  {/if}
  <span
    class="ml-2 min-w-0 flex-1 truncate {worried ? 'text-amber' : 'text-quiet max-[700px]:opacity-0'}"
    role="status"
    data-part="save-state"
    title={why}
    >{words}{#if why}<span class="ml-2 text-paper">{why.split('\n')[0]}</span>{/if}</span
  >
  <div class="ml-auto flex shrink-0 items-center gap-1.5">
    <Action
      onclick={() => draft.undo()}
      disabled={!draft.undoLabel}
      label="Undo"
      class="px-2!"
      hint={draft.undoLabel ? `Undo: ${draft.undoLabel} (${keyHint('undo')})` : 'Nothing to undo'}
      ><Undo2 size={16} /></Action
    >
    <Action
      onclick={() => draft.redo()}
      disabled={!draft.redoLabel}
      label="Redo"
      class="px-2!"
      hint={draft.redoLabel ? `Redo: ${draft.redoLabel} (${keyHint('redo')})` : 'Nothing to redo'}
      ><Redo2 size={16} /></Action
    >
    <span data-part="history" class="max-[700px]:hidden"
      ><Action onclick={onhistory} hint="Every step, to go back or forward to ({keyHint('history')})">Steps</Action
      ></span
    >
    <span class="h-5 w-px bg-line"></span>
    <Action
      onclick={() => (selection.dials = !selection.dials)}
      pressed={selection.dials}
      hint="The effect's named controls ({keyHint('dials')})"
      >Dials{#if dials}<span class="mono ml-1.5 {selection.dials ? '' : 'text-quiet'}">{dials}</span>{/if}</Action
    >
    <span data-part="commands" class="max-[700px]:hidden"
      ><Action onclick={oncommands} hint="All that can be done, by its name ({keyHint('commands')})">Find</Action></span
    >
    <Action onclick={onhelp} hint="Keys and gestures ({keyHint('help')})">Help</Action>
    <Action kind="line" onclick={onexport} hint="Take files away ({keyHint('export')})">Export</Action>
  </div>
</header>
