<!-- The effects, as cards: new ones, folders, tags, search; import; what was deleted and can be taken back. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import Choice from '../controls/Choice.svelte'
  import SunMoon from '@lucide/svelte/icons/sun-moon'
  import { ground } from '../controls/theme.svelte'
  import { day } from '../controls/numbers'
  import Panel from '../controls/Panel.svelte'
  import { FirstEffect } from '../first/first.svelte'
  import { keep, kept } from '../controls/kept'
  import { people } from '../effect/people.svelte'
  import Mark from '../pages/Mark.svelte'
  import PeoplePanel from '../pages/PeoplePanel.svelte'
  import { api, inWords } from '../wire/api'
  import type { Card } from '../wire/types'
  import ArrangePanel from './ArrangePanel.svelte'
  import EffectCard from './EffectCard.svelte'
  import Kept from './Kept.svelte'
  import NewEffect from './NewEffect.svelte'
  import { allFolders, arranged, foldersIn, tagsOf, type Order } from './shelves'

  let { onopen }: { onopen: (id: number) => void } = $props()
  let cards = $state.raw<Card[] | null>(null)
  let gone = $state.raw<Card[]>([])
  let problem = $state('')
  let input: HTMLInputElement
  let search = $state<HTMLInputElement>()
  let over = $state(false)
  let meeting = $state(false)
  let beginning = $state(false)
  let arranging = $state.raw<Card | null>(null)
  let missing = $state(false)
  /** The one deleted last: taken back in one move. */
  let last = $state.raw<Card | null>(null)
  let besides = $state.raw(new Map<number, number>())
  let fresh = $state<number | null>(null)

  // where one was looking is kept for the next visit
  const KEPT = 'kagero.library'
  const before = kept<{ folder?: string; order?: Order }>(KEPT, {})
  let folder = $state(before.folder ?? '')
  let order = $state<Order>(before.order ?? 'newest')
  let text = $state('')
  let tags = $state.raw<string[]>([])
  $effect(() => keep(KEPT, { folder, order }))
  const ORDERS = [
    { value: 'newest', name: 'newest first' },
    { value: 'name', name: 'by name' },
    { value: 'longest', name: 'longest first' },
  ]

  const all = $derived(cards ?? [])
  const shown = $derived(arranged(all, { text, folder, tags, order }, besides))
  const below = $derived(foldersIn(all, folder))
  const known = $derived(tagsOf(arranged(all, { text: '', folder, tags: [], order }, besides)))
  const crumbs = $derived(folder ? folder.split('/') : [])
  $effect(() => {
    if (cards && folder && !allFolders(cards).includes(folder)) folder = ''
  })

  async function load() {
    try {
      ;[cards, gone] = await Promise.all([api.effects(), api.deleted()])
    } catch (error) {
      problem = inWords(error)
    }
  }
  load()
  /** Do something, say why where it could not be done, and look anew. */
  async function attempt(work: () => Promise<unknown>) {
    problem = ''
    try {
      await work()
    } catch (error) {
      problem = inWords(error)
    }
    await load()
  }
  async function bring(file: File | undefined) {
    problem = ''
    if (!file) return
    try {
      onopen((await api.importFile(file)).id)
    } catch (error) {
      problem = `${file.name} was not imported. ${inWords(error)}`
    }
  }
  const duplicate = (card: Card) =>
    attempt(async () => {
      const result = await api.duplicate(card.id)
      besides = new Map([...besides, [result.id, card.id]])
      fresh = result.id
    })
  const remove = (card: Card) =>
    attempt(async () => {
      await api.remove(card.id)
      last = card
    })
  const takeBack = (card: Card) =>
    attempt(async () => {
      fresh = (await api.takeBack(card.id)).id
      if (last?.id === card.id) last = null
    })
  function drop(event: DragEvent, path: string) {
    const id = Number(event.dataTransfer?.getData('application/x-kagero-effect'))
    if (!id) return
    event.preventDefault()
    event.stopPropagation()
    void attempt(() => api.arrange(id, { folder: path }))
  }
  const draggedCard = (event: DragEvent) => event.dataTransfer?.types.includes('application/x-kagero-effect')
  function keys(event: KeyboardEvent) {
    if ((event.target as HTMLElement).closest('input, select, textarea, dialog')) return
    if (event.ctrlKey || event.metaKey || event.altKey) return
    if (event.key === '/') search?.focus()
    else if (event.key === 'n') beginning = true
    else return
    event.preventDefault()
  }
  const many = (n: number) => (n === 1 ? '1 effect' : `${n} effects`)
  const CHIP = 'rounded-full border px-2.5 leading-6 hover:border-quiet hover:text-paper'
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Library · Kagero</title></svelte:head>
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="flex h-full flex-col {over ? 'bg-raised' : ''}"
  ondragover={(e) => {
    if (draggedCard(e)) return
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
  <header class="flex h-11 shrink-0 items-center gap-3 border-b border-line bg-panel px-4">
    <Mark /><b class="text-[15px] tracking-[.04em]">Kagero</b>
    <h1 class="text-quiet">Library</h1>
    <input
      bind:this={search}
      bind:value={text}
      type="search"
      placeholder="Search names, folders, tags"
      aria-label="Search the library"
      title="Search (/)"
      class="ml-4 h-[30px] max-w-72 min-w-24 flex-1 rounded-md border border-line bg-ink px-2.5 text-[13px] text-paper placeholder:text-quiet focus:border-teal focus:ring-0"
    />
    <Choice options={ORDERS} value={order} onpick={(value) => (order = value as Order)} label="Order" />
    <span class="ml-auto flex shrink-0 items-center gap-1.5">
      {#if people.session?.name}
        <span class="text-quiet">{people.session.name}</span><Action
          onclick={() => (meeting = true)}
          hint="Accounts, invitations, your password">People</Action
        ><Action
          onclick={async () => {
            await people.signOut()
            location.reload()
          }}>Sign out</Action
        >
      {/if}
      <button
        type="button"
        class="rounded p-1.5 text-quiet hover:text-paper max-[800px]:hidden"
        aria-label={ground.now === 'day' ? 'A dark ground' : 'A light ground'}
        title="{ground.now === 'day' ? 'A dark' : 'A light'} ground of the application"
        onclick={() => ground.choose(ground.now === 'day' ? 'night' : 'day')}><SunMoon size={16} /></button
      >
      <a
        href="/docs"
        class="rounded px-1.5 py-1 text-quiet hover:text-paper max-[800px]:hidden"
        title="The handbook: pages to read and search">Handbook</a
      >
      <Action kind="line" onclick={() => input.click()} hint="An effect saved as JSON; or drop it anywhere here"
        >Import an effect</Action
      >
      <Action kind="chosen" onclick={() => (beginning = true)} hint="Empty, or from a beginning (N)">New effect</Action>
    </span>
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
  <main class="min-h-0 flex-1 overflow-y-auto px-6 py-5">
    {#if problem}<p
        role="alert"
        class="mb-4 max-w-2xl rounded-md border border-amber px-3 py-2 whitespace-pre-line text-amber"
      >
        {problem}
      </p>{/if}
    {#if FirstEffect.offered()}
      <section
        class="mb-4 flex items-center gap-4 rounded-lg border border-line bg-panel px-4 py-3"
        aria-label="Your first effect"
      >
        <p>
          <b>New here?</b>
          <span class="text-quiet"
            >A first effect in six steps, made by your own hand on the real Desk; under five minutes.</span
          >
        </p>
        <span class="ml-auto flex shrink-0 gap-1.5"
          ><Action onclick={() => FirstEffect.put('off')}>Not now</Action><Action
            kind="line"
            onclick={() => attempt(async () => onopen(await FirstEffect.start()))}>Make my first effect</Action
          ></span
        >
      </section>
    {/if}
    <!-- it stays where it is while the cards scroll: they are dropped on it -->
    <nav
      class="sticky -top-5 z-10 -mx-6 mb-2 flex flex-wrap items-center gap-1.5 bg-ink px-6 py-2 text-[13px] text-quiet"
      aria-label="Folders and tags"
    >
      <button
        type="button"
        class="rounded px-1 {folder ? 'hover:text-paper hover:underline' : 'font-bold text-paper'}"
        aria-current={folder ? undefined : 'page'}
        ondragover={(e) => draggedCard(e) && e.preventDefault()}
        ondrop={(e) => drop(e, '')}
        onclick={() => (folder = '')}>Everything</button
      >
      {#each crumbs as name, i (i)}<span>/</span><button
          type="button"
          class="rounded px-1 {i < crumbs.length - 1 ? 'hover:text-paper hover:underline' : 'font-bold text-paper'}"
          aria-current={i < crumbs.length - 1 ? undefined : 'page'}
          onclick={() => (folder = crumbs.slice(0, i + 1).join('/'))}>{name}</button
        >{/each}
      <span class="mono mr-2 text-xs">{many(shown.length)}</span>
      {#each below as each (each.path)}
        <button
          type="button"
          class="{CHIP} border-line bg-panel text-paper"
          title="Open this folder; drop cards on it"
          ondragover={(e) => draggedCard(e) && e.preventDefault()}
          ondrop={(e) => drop(e, each.path)}
          onclick={() => (folder = each.path)}
          data-folder={each.path}>{each.name}<span class="mono ml-1.5 text-xs text-quiet">{each.count}</span></button
        >
      {/each}
      {#if known.length}<span class="ml-2">tagged</span>{/if}
      {#each known as { tag, count } (tag)}
        <button
          type="button"
          aria-pressed={tags.includes(tag)}
          class="{CHIP} {tags.includes(tag) ? 'border-paper text-paper' : 'border-line'}"
          onclick={() => (tags = tags.includes(tag) ? tags.filter((t) => t !== tag) : [...tags, tag])}
          >{tag}<span class="mono ml-1.5 text-xs">{count}</span></button
        >
      {/each}
    </nav>
    {#if cards === null && !problem}
      <p class="text-quiet">Looking…</p>
    {:else if cards?.length === 0}
      <p class="text-quiet">
        Nothing here yet. Begin a <button
          type="button"
          class="text-paper underline decoration-dotted"
          onclick={() => (beginning = true)}>new effect</button
        >, import one, or run <span class="mono text-paper">make demo</span> to bring the demo's back.
      </p>
    {:else if cards && !shown.length}
      <p class="text-quiet">
        No effect here is like that. <button
          type="button"
          class="text-paper underline decoration-dotted"
          onclick={() => {
            text = ''
            tags = []
            folder = ''
          }}>Show everything</button
        >
      </p>
    {:else}
      <div class="grid grid-cols-[repeat(auto-fill,minmax(262px,1fr))] gap-5" data-part="cards">
        {#each shown as card (card.id)}
          <EffectCard
            {card}
            fresh={fresh === card.id}
            inside={folder}
            onopen={() => onopen(card.id)}
            onrename={(name) => attempt(() => api.arrange(card.id, { name }))}
            onduplicate={() => duplicate(card)}
            onarrange={() => (arranging = card)}
            onremove={() => remove(card)}
            ontag={(tag) => (tags = tags.includes(tag) ? tags : [...tags, tag])}
          />
        {/each}
      </div>
    {/if}
    {#if gone.length}<p class="mt-8 text-xs text-quiet">
        <button
          type="button"
          class="underline decoration-dotted hover:text-paper"
          onclick={() => (missing = true)}
          data-part="deleted">{many(gone.length)} deleted</button
        >, kept for a while and taken back from there.
      </p>{/if}
    <Kept />
    <PeoplePanel bind:open={meeting} />
  </main>
  {#if last}
    <div
      role="status"
      class="fixed bottom-5 left-1/2 z-40 flex -translate-x-1/2 items-center gap-3 rounded-md border border-line bg-ink px-4 py-2 shadow-2xl"
    >
      <span>Deleted {last.name}.</span>
      <Action kind="line" small onclick={() => takeBack(last!)}>Take it back</Action>
      <button type="button" class="text-quiet hover:text-paper" aria-label="Close" onclick={() => (last = null)}
        >✕</button
      >
    </div>
  {/if}
</div>
<NewEffect bind:open={beginning} {folder} {onopen} />
<ArrangePanel
  bind:card={arranging}
  folders={allFolders(all)}
  tags={tagsOf(all).map((each) => each.tag)}
  onkeep={(card, to) => attempt(() => api.arrange(card.id, to))}
/>
<Panel bind:open={missing} title="Deleted effects" size="sm">
  {#each gone as card (card.id)}
    <p class="flex items-center gap-3 border-b border-line py-1.5 last:border-0">
      <span class="min-w-0 flex-1 truncate">{card.name}</span>
      <span class="text-xs text-quiet">goes for good on {day(card.goes!)}</span>
      <Action
        kind="line"
        small
        label="Take back {card.name}"
        onclick={async () => {
          await takeBack(card)
          missing = gone.length > 0
        }}>Take back</Action
      >
    </p>
  {:else}<p class="text-quiet">Nothing.</p>{/each}
</Panel>
