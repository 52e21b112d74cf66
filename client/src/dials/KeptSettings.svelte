<!-- What all dials were turned to, kept under names: recalled with one press, kept anew, taken away. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Action from '../controls/Action.svelte'
  import { useDesk } from '../effect/context'
  import { newUid } from '../effect/path'
  import { dialAt } from '../effect/timekeys'
  import type { Settings } from '../wire/types'

  const { draft, player } = useDesk()
  const dials = $derived(draft.document.dials ?? [])
  const settings = $derived(draft.document.settings ?? [])
  let naming = $state(false)
  const values = () => Object.fromEntries(dials.map((d) => [d.uid, dialAt(d, player.seconds)]))
  /** Whether the dials stand as a setting has them. */
  const stands = (one: Settings) =>
    dials.every((d) => !(d.uid in one.values) || (!d.keys?.length && d.value === one.values[d.uid]))

  function keep(name: string) {
    naming = false
    if (!name) return
    const there = settings.find((each) => each.name === name)
    const result = { uid: there?.uid ?? newUid(), name, values: values() }
    draft.edit(
      `Keep the dials as ${name}`,
      ['settings'],
      there ? settings.map((each) => (each === there ? result : each)) : [...settings, result],
    )
  }
  function recall(one: Settings) {
    draft.edit(
      `Turn the dials to ${one.name}`,
      ['dials'],
      dials.map((d) =>
        d.uid in one.values ? { ...d, keys: [], value: Math.min(Math.max(one.values[d.uid], d.low), d.high) } : d,
      ),
    )
  }
</script>

<div class="flex flex-wrap items-center gap-1.5 border-b border-line px-4 py-2" data-part="kept-settings">
  {#each settings as one (one.uid)}
    <span class="inline-flex items-center rounded-md border {stands(one) ? 'border-paper' : 'border-line'}">
      <button
        type="button"
        class="px-2 py-0.5 hover:underline"
        aria-pressed={stands(one)}
        title="Turn all dials to what they were in {one.name}"
        onclick={() => recall(one)}>{one.name}</button
      ><button
        type="button"
        class="pr-1.5 text-quiet hover:text-paper"
        aria-label="Forget {one.name}"
        title="Forget {one.name}"
        onclick={() =>
          draft.edit(
            `Forget the dials of ${one.name}`,
            ['settings'],
            settings.filter((each) => each !== one),
          )}><X size={12} /></button
      >
    </span>
  {/each}
  {#if naming}
    <!-- svelte-ignore a11y_autofocus -->
    <input
      autofocus
      placeholder="a name, such as Dusk"
      maxlength="80"
      aria-label="Name under which the dials are kept"
      list="kept-names"
      class="h-[26px] w-44 rounded border border-teal bg-ink px-2 py-0 text-[13px] focus:ring-0"
      onkeydown={(e) => {
        if (e.key === 'Enter') keep(e.currentTarget.value.trim())
        else if (e.key === 'Escape') naming = false
        else return
        e.preventDefault()
        e.stopPropagation()
      }}
      onblur={() => (naming = false)}
    />
    <datalist id="kept-names"
      >{#each settings as one (one.uid)}<option value={one.name}></option>{/each}</datalist
    >
  {:else}
    <Action
      small
      kind="line"
      onclick={() => (naming = true)}
      hint="Keep what all dials are turned to now, to turn back to it">Keep these values…</Action
    >
  {/if}
</div>
