<!-- The effects, as cards; import. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import Panel from '../controls/Panel.svelte'
  import { api, inWords } from '../wire/api'
  import type { Card } from '../wire/types'
  import EffectCard from './EffectCard.svelte'
  import { people } from '../effect/people.svelte'
  import Kept from './Kept.svelte'
  import PeoplePanel from './PeoplePanel.svelte'
  import Mark from './Mark.svelte'

  let { onopen }: { onopen: (id: number) => void } = $props()
  let cards = $state.raw<Card[] | null>(null)
  let problem = $state('')
  let input: HTMLInputElement
  let over = $state(false)
  let meeting = $state(false)
  let doomed = $state.raw<Card | null>(null)

  async function load() {
    try {
      cards = await api.effects()
    } catch (error) {
      problem = inWords(error)
    }
  }
  load()
  async function bring(file: File | undefined) {
    problem = ''
    if (!file) return
    try {
      onopen((await api.importFile(file)).id)
    } catch (error) {
      problem = `${file.name} was not imported. ${inWords(error)}`
    }
  }
  async function duplicate(card: Card) {
    try {
      const { document } = await api.open(card.id)
      await api.create(document, `Duplicated from ${card.name}`)
      await load()
    } catch (error) {
      problem = inWords(error)
    }
  }
  async function remove() {
    const card = doomed!
    doomed = null
    try {
      await api.remove(card.id)
    } catch (error) {
      problem = inWords(error)
    }
    await load()
  }
</script>

<svelte:head><title>Library · Kagero</title></svelte:head>
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="flex h-full flex-col {over ? 'bg-raised' : ''}"
  ondragover={(e) => {
    e.preventDefault()
    over = true
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    e.preventDefault()
    over = false
    bring(e.dataTransfer?.files[0])
  }}
>
  <header class="flex h-11 shrink-0 items-center gap-3.5 border-b border-line bg-panel px-4">
    <Mark /><b class="text-[15px] tracking-[.04em]">Kagero</b><span class="text-quiet">Library</span>
    {#if people.session?.name}
      <span class="ml-auto flex items-center gap-1"
        ><span class="text-quiet">{people.session.name}</span><Action
          onclick={() => (meeting = true)}
          hint="Accounts, invitations, your password">People</Action
        ><Action
          onclick={async () => {
            await people.signOut()
            location.reload()
          }}>Sign out</Action
        ></span
      >
    {/if}
    <span class={people.session?.name ? '' : 'ml-auto'}
      ><Action kind="line" onclick={() => input.click()} hint="An effect saved as JSON; or drop it anywhere here"
        >Import an effect</Action
      ></span
    >
    <input
      bind:this={input}
      type="file"
      accept=".json,application/json"
      class="hidden"
      aria-label="Effect file"
      onchange={() => {
        bring(input.files?.[0])
        input.value = ''
      }}
    />
  </header>
  <main class="min-h-0 flex-1 overflow-y-auto px-8 py-7">
    <h1 class="text-xl font-bold">The Lantern Ferry</h1>
    <p class="mt-1 mb-6 max-w-xl text-quiet">
      Effects for a night ferry on a river. Open one to shape how its particles live; every change is kept, and can be
      undone.
    </p>
    {#if problem}<p
        role="alert"
        class="mb-5 max-w-2xl rounded-md border border-amber px-3 py-2 whitespace-pre-line text-amber"
      >
        {problem}
      </p>{/if}
    {#if cards === null && !problem}
      <p class="text-quiet">Looking…</p>
    {:else if cards?.length === 0}
      <p class="text-quiet">
        Nothing here yet. Import an effect, or run <span class="mono text-paper">make demo</span> to bring the demo's back.
      </p>
    {:else}
      <div class="grid grid-cols-[repeat(auto-fill,290px)] gap-6">
        {#each cards ?? [] as card (card.id)}
          <EffectCard
            {card}
            onopen={() => onopen(card.id)}
            onduplicate={() => duplicate(card)}
            onremove={() => (doomed = card)}
          />
        {/each}
      </div>
    {/if}
    <Kept />
    <PeoplePanel bind:open={meeting} />
  </main>
</div>
<Panel open={doomed !== null} title="Delete {doomed?.name}?" size="xs" dismissable={false}>
  <p>The effect, all its edits and its exports go. This cannot be undone; export it first if you may want it again.</p>
  {#snippet footer()}
    <Action kind="line" onclick={() => (doomed = null)}>Keep it</Action>
    <Action kind="chosen" onclick={remove}>Delete</Action>
  {/snippet}
</Panel>
