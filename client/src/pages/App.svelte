<!-- Which page the address means. -->
<script lang="ts">
  import { Catalog } from '../effect/catalog.svelte'
  import { api, Refused } from '../wire/api'
  import type { Opened } from '../wire/types'
  import { people } from '../effect/people.svelte'
  import SignIn from './SignIn.svelte'

  let address = $state(location.pathname)
  const invitation = location.pathname === '/welcome' ? location.hash.slice(1) : ''
  let inside = $state(false)
  people.load().then(
    () => (inside = !people.needed),
    () => (inside = true),
  )
  let catalog = $state.raw<Catalog | null>(null)
  let opened = $state.raw<Opened | null>(null)
  let problem = $state('')
  const wanted = $derived(/^\/effects\/(\d+)(?:\/(?:dials|stage))?$/.exec(address)?.[1])
  const page = $derived(address.split('/')[3] ?? '')

  function go(path: string) {
    history.pushState(null, '', path)
    address = path.split('#')[0]
  }
  $effect(() => {
    const id = wanted
    opened = null
    problem = ''
    if (!id || !inside) return
    // the page's own script comes meanwhile
    void (page === 'dials'
      ? import('./DialsPage.svelte')
      : page === 'stage'
        ? import('./StagePage.svelte')
        : import('./Desk.svelte'))
    Promise.all([catalog ?? api.catalog().then((data) => new Catalog(data)), api.open(Number(id))]).then(
      ([c, o]) => {
        if (id !== wanted) return
        catalog = c
        opened = o
      },
      (error) =>
        (problem =
          error instanceof Refused ? error.message : 'The server does not answer. Reload the page in a moment.'),
    )
  })
</script>

<svelte:window onpopstate={() => (address = location.pathname)} />
{#if address === '/welcome' && invitation}
  <SignIn
    secret={invitation}
    onin={() => {
      inside = true
      history.replaceState(null, '', '/')
      address = '/'
    }}
  />
{:else if !inside}
  {#if people.needed}<SignIn onin={() => (inside = true)} />{/if}
{:else if address.startsWith('/docs')}
  {#await import('./DocsPage.svelte') then { default: DocsPage }}<DocsPage {address} ongo={go} />{/await}
{:else if !wanted}
  {#await import('../library/Library.svelte') then { default: Library }}<Library
      onopen={(id) => go(`/effects/${id}`)}
    />{/await}
{:else if opened && catalog}
  {#key opened.id}
    {#if page === 'dials'}{#await import('./DialsPage.svelte') then { default: DialsPage }}<DialsPage
          {opened}
          {catalog}
        />{/await}
    {:else if page === 'stage'}{#await import('./StagePage.svelte') then { default: StagePage }}<StagePage
          {opened}
          {catalog}
        />{/await}
    {:else}{#await import('./Desk.svelte') then { default: Desk }}<Desk
          {opened}
          {catalog}
          onlibrary={() => go('/')}
          onopen={(id) => go(`/effects/${id}`)}
        />{/await}{/if}
  {/key}
{:else}
  <div class="grid h-full place-items-center text-quiet">
    {#if problem}<p role="alert">{problem} <a class="text-paper underline" href="/">To the library</a></p>{:else}<p>
        Opening…
      </p>{/if}
  </div>
{/if}
{#if inside && people.needed && address !== '/welcome'}<SignIn
    over
    onin={() => {
      if (!wanted || !opened) location.reload()
    }}
  />{/if}
