<!-- The effect's dials, in a drawer over the sheet: turned, arranged, tried; and what others turned them to. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import { onDestroy, onMount, tick, untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'
  import { api } from '../wire/api'
  import type { Dial } from '../wire/types'
  import DialRow from './DialRow.svelte'
  import { formulaName } from '../effect/edits'
  import { newUid } from '../effect/path'
  import KeptSettings from './KeptSettings.svelte'
  import { Dials } from './dials.svelte'
  import TurnedByOthers from './TurnedByOthers.svelte'

  const { draft, selection, overlay } = useDesk()
  const known = new Dials(draft)
  const dials = $derived(draft.document.dials ?? [])
  let leaving = $state.raw<Dial | null>(null)
  const leavingUses = $derived(leaving ? (known.uses[leaving.uid] ?? []) : [])

  onMount(() => void known.load())
  onDestroy(() => {
    known.close()
    selection.turned = null
  })
  $effect(() => {
    void draft.document
    untrack(() => known.refresh())
  })

  function move(index: number, direction: number) {
    const to = index + direction
    if (to < 0 || to >= dials.length) return
    const list = [...dials]
    list.splice(to, 0, ...list.splice(index, 1))
    draft.edit(`Move the dial ${dials[index].name}`, ['dials'], list)
    void tick().then(() =>
      document.querySelector<HTMLElement>(`[data-dial="${dials[index]?.uid}"] [data-part=order]`)?.focus(),
    )
  }
  const groups = $derived([...new Set(dials.map((d) => d.group ?? ''))])
  /** By group, each in the order of its first dial. */
  const ordered = $derived(groups.flatMap((group) => dials.filter((d) => (d.group ?? '') === group)))
  function duplicate(dial: Dial, index: number) {
    const name = Array.from({ length: 98 }, (_, i) => `${dial.name} ${i + 2}`).find(
      (each) => !dials.some((d) => formulaName(d.name) === formulaName(each)),
    )!
    const result = { ...dial, uid: newUid(), name }
    draft.edit(
      `Duplicate the dial ${dial.name}`,
      ['dials'],
      [...dials.slice(0, index + 1), result, ...dials.slice(index + 1)],
    )
    selection.dial = result.uid
  }
  async function remove(dial: Dial) {
    await overlay.attempt(() => known.look()) // what it drives now, not a moment ago
    if ((known.uses[dial.uid] ?? []).length) leaving = dial
    else await take(dial)
  }
  async function take(dial: Dial) {
    leaving = null
    await overlay.attempt(() =>
      draft.ask((document) => api.deleteDial(document, dial.uid), `Remove the dial ${dial.name}`),
    )
  }
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.key === 'Escape' && !leaving && !(e.target as HTMLElement).closest('input, dialog, .cm-editor'))
      selection.dials = false
  }}
/>
<aside
  class="absolute inset-y-0 right-0 z-20 flex w-[420px] flex-col border-l border-line bg-panel shadow-2xl"
  aria-label="Dials"
  data-part="dials"
>
  <header class="flex items-center gap-3 border-b border-line px-4 py-2">
    <h2 class="text-[15px] font-bold">Dials</h2>
    <a
      href="/effects/{draft.id}/dials"
      target="_blank"
      class="text-quiet underline decoration-dotted hover:text-paper"
      title="Only the stage and the dials, for whoever adjusts it">Page for turning</a
    >
    <button
      type="button"
      class="ml-auto rounded p-1 text-quiet hover:text-paper"
      aria-label="Close the dials"
      onclick={() => (selection.dials = false)}><X size={16} /></button
    >
  </header>
  <div class="min-h-0 flex-1 overflow-y-auto">
    {#if known.problem}<p role="alert" class="px-4 py-2 text-amber">{known.problem}</p>{/if}
    {#if dials.length}<KeptSettings />{/if}
    <datalist id="dial-groups"
      >{#each groups.filter(Boolean) as group (group)}<option value={group}></option>{/each}</datalist
    >
    {#each ordered as dial, place (dial.uid)}
      {@const index = dials.indexOf(dial)}
      {#if groups.length > 1 && (dial.group ?? '') !== (ordered[place - 1]?.group ?? (place ? '' : null))}<h3
          class="px-4 pt-2.5 pb-1 text-xs text-quiet"
        >
          {dial.group || 'without a group'}
        </h3>{/if}
      <DialRow
        {dial}
        {index}
        last={index === dials.length - 1}
        uses={known.uses[dial.uid] ?? []}
        trial={known.trials[dial.uid]}
        trying={known.trying === dial.uid}
        onduplicate={() => duplicate(dial, index)}
        onmove={(direction) => move(index, direction)}
        onremove={() => remove(dial)}
      />
    {:else}
      <div class="flex flex-col gap-2 px-4 py-6 text-quiet">
        <p class="text-paper">No dials yet.</p>
        <p>
          Right-click any number in the sheet, or open a row's menu by its name, and make a dial of it. Whoever adjusts
          the effect later then needs nothing else.
        </p>
      </div>
    {/each}
    <TurnedByOthers {known} />
  </div>
</aside>

<Panel
  bind:open={() => leaving !== null, (open) => open || (leaving = null)}
  title="Remove the dial {leaving?.name ?? ''}?"
  size="sm"
>
  <p>It drives {leavingUses.length === 1 ? 'one thing' : `${leavingUses.length} things`}:</p>
  <ul class="my-2 max-h-40 list-disc overflow-y-auto pl-5">
    {#each leavingUses as use}<li>{use.how} {use.emitter_name}, {use.label}</li>{/each}
  </ul>
  <p class="text-quiet">Bases and formulas get its value as it is now; its responses go.</p>
  {#snippet footer()}
    <Action kind="line" onclick={() => (leaving = null)}>Keep it</Action>
    <Action kind="chosen" onclick={() => take(leaving!)}>Remove it</Action>
  {/snippet}
</Panel>
