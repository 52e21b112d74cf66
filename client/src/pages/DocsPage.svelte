<!-- The handbook: the pages of docs/ inside the application, searchable. -->
<script lang="ts">
  import { tick } from 'svelte'
  import { api } from '../wire/api'
  import type { DocFound, DocPage } from '../wire/types'
  import Mark from './Mark.svelte'

  let { address, ongo }: { address: string; ongo: (path: string) => void } = $props()
  let pages = $state.raw<DocPage[]>([])
  let shown = $state.raw<(DocPage & { html: string }) | null>(null)
  let words = $state('')
  let found = $state.raw<DocFound[] | null>(null)
  let problem = $state('')
  let article = $state<HTMLElement>()
  const wanted = $derived(address.split('/')[2] || pages[0]?.name)
  const say = () => (problem = 'The server does not answer. Reload the page in a moment.')

  api.docs().then((list) => (pages = list), say)
  $effect(() => {
    const name = wanted
    if (!name) return
    api.docPage(name).then((page) => {
      if (name !== wanted) return
      shown = page
      void tick().then(() => {
        const anchor = location.hash.slice(1)
        if (anchor) document.getElementById(anchor)?.scrollIntoView()
        else article?.scrollTo(0, 0)
      })
    }, say)
  })
  let waiting: ReturnType<typeof setTimeout> | undefined
  function search() {
    clearTimeout(waiting)
    waiting = setTimeout(() => {
      const query = words.trim()
      if (!query) return void (found = null)
      api.searchDocs(query).then((places) => query === words.trim() && (found = places), say)
    }, 150)
  }
  /** Links between pages stay inside. */
  function click(event: MouseEvent) {
    const link = (event.target as HTMLElement).closest('a')
    const href = link?.getAttribute('href') ?? ''
    if (!href.startsWith('/docs/') || event.ctrlKey || event.metaKey || event.button) return
    event.preventDefault()
    ongo(href)
  }
</script>

<svelte:head><title>{shown?.title ?? 'Handbook'} · Kagero</title></svelte:head>
<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
<div
  class="grid h-full min-h-0 grid-cols-[250px_minmax(0,1fr)] max-[700px]:grid-cols-1"
  data-part="docs"
  onclick={click}
>
  <nav
    class="flex min-h-0 flex-col gap-2 overflow-y-auto border-r border-line bg-panel p-4 max-[700px]:max-h-[40vh]"
    aria-label="Pages"
  >
    <a href="/" class="flex items-center gap-3 rounded" title="To the library"
      ><Mark /><b class="text-[15px]">Kagero</b></a
    >
    <input
      bind:value={words}
      oninput={search}
      type="search"
      aria-label="Search the handbook"
      placeholder="Search the handbook"
      class="mt-2 h-8 rounded-md border border-line bg-ink px-2 py-0 text-[13px] focus:border-teal focus:ring-0"
    />
    {#if problem}<p role="alert" class="text-amber">{problem}</p>{/if}
    {#if found}
      <p class="text-xs text-quiet" role="status">{found.length === 1 ? '1 place' : `${found.length} places`}</p>
      {#each found as place (place.name + place.anchor)}
        <a href="/docs/{place.name}#{place.anchor}" class="block rounded px-2 py-1 hover:bg-raised">
          <span class="block">{place.heading || place.title}</span><span class="block text-xs text-quiet"
            >{place.words}</span
          >
        </a>
      {/each}
    {:else}
      {#each pages as page (page.name)}
        <a
          href="/docs/{page.name}"
          aria-current={page.name === shown?.name ? 'page' : undefined}
          class="block rounded px-2 py-1 hover:bg-raised {page.name === shown?.name
            ? 'bg-raised text-paper'
            : 'text-quiet'}">{page.title}</a
        >
      {/each}
    {/if}
  </nav>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <article
    bind:this={article}
    class="prose-kagero min-h-0 overflow-y-auto px-8 py-6 max-[700px]:px-4"
    tabindex="0"
    aria-label={shown?.title ?? 'Page'}
  >
    <!-- eslint-disable-next-line svelte/no-at-html-tags -- the application's own pages, rendered by the server without raw HTML -->
    {#if shown}{@html shown.html}{/if}
  </article>
</div>
