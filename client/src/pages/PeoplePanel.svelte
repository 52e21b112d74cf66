<!-- Who has an account; inviting others; the own password. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import Panel from '../controls/Panel.svelte'
  import { people } from '../effect/people.svelte'
  import { api, inWords } from '../wire/api'
  import type { Person } from '../wire/types'

  let { open = $bindable() }: { open: boolean } = $props()
  let list = $state.raw<Person[]>([])
  let link = $state('')
  let days = $state(0)
  let copied = $state(false)
  let problem = $state('')
  let done = $state('')
  let old = $state('')
  let now = $state('')
  let doomed = $state.raw<Person | null>(null)

  async function attempt(work: () => Promise<unknown>) {
    problem = done = ''
    try {
      await work()
    } catch (error) {
      problem = inWords(error, false)
    }
  }
  $effect(() => {
    if (open) void attempt(async () => (list = await api.people()))
    else link = old = now = problem = done = ''
  })
  const invite = () =>
    attempt(async () => {
      const result = await api.invite()
      ;[link, days, copied] = [location.origin + result.path, result.days, false]
    })
  const change = () =>
    attempt(async () => {
      await api.changePassword(old, now)
      old = now = ''
      done = 'Your password is changed; elsewhere you are signed out.'
    })
  const remove = (person: Person) =>
    attempt(async () => {
      doomed = null
      await api.removePerson(person.id)
      if (person.name === people.session?.name) await people.load()
      else list = await api.people()
    })
  const endWait = (person: Person) =>
    attempt(async () => {
      await api.endWait(person.id)
      list = await api.people()
      done = `${person.name} can sign in at once.`
    })
  const since = (person: Person) =>
    new Date(person.since).toLocaleDateString([], { day: 'numeric', month: 'short', year: 'numeric' })
  const duration = (seconds: number) => (seconds < 60 ? `${seconds} s` : `${Math.ceil(seconds / 60)} min`)
  const field =
    'h-8 min-w-0 flex-1 rounded-md border border-line bg-ink px-2 text-[13px] text-paper focus:border-teal focus:ring-0'
</script>

<Panel bind:open title="People" size="sm">
  {#each list as person (person.id)}
    <p class="flex items-baseline gap-3 py-1">
      <b class="truncate">{person.name}</b><span class="text-xs text-quiet"
        >since {since(person)}{person.name === people.session?.name ? ', you' : ''}</span
      >
      {#if doomed === person}
        <span class="ml-auto flex gap-3 text-xs whitespace-nowrap"
          ><span class="text-amber">What they made stays.</span><button
            type="button"
            class="underline decoration-dotted hover:text-paper"
            onclick={() => remove(person)}>take the account away</button
          ><button type="button" class="text-quiet underline decoration-dotted" onclick={() => (doomed = null)}
            >keep it</button
          ></span
        >
      {:else if person.waits > 0}
        <span class="ml-auto flex gap-3 text-xs whitespace-nowrap"
          ><span class="text-amber">wrong passwords: waits {duration(person.waits)}</span><button
            type="button"
            class="underline decoration-dotted hover:text-paper"
            onclick={() => endWait(person)}>end the wait</button
          ></span
        >
      {:else if list.length > 1}
        <button
          type="button"
          class="ml-auto text-xs text-quiet underline decoration-dotted hover:text-paper"
          aria-label="Remove {person.name}"
          onclick={() => (doomed = person)}>remove</button
        >
      {/if}
    </p>
  {/each}
  <div class="mt-3 border-t border-line pt-3">
    {#if link}
      <p class="mb-2">Send this link: it makes one account, within {days} days, and is shown only now.</p>
      <p class="flex gap-2">
        <input
          readonly
          value={link}
          aria-label="Invitation"
          class="mono {field} text-xs"
          onfocus={(e) => e.currentTarget.select()}
        /><Action
          kind="line"
          onclick={async () => {
            await navigator.clipboard?.writeText(link)
            copied = true
          }}>{copied ? 'Copied' : 'Copy'}</Action
        >
      </p>
    {:else}
      <Action kind="line" onclick={invite}>Invite somebody</Action>
    {/if}
  </div>
  <form
    class="mt-3 border-t border-line pt-3"
    onsubmit={(e) => {
      e.preventDefault()
      void change()
    }}
  >
    <p class="mb-2 text-quiet">Your password</p>
    <p class="flex gap-2">
      <input
        bind:value={old}
        type="password"
        required
        autocomplete="current-password"
        placeholder="as it is"
        aria-label="Password as it is"
        class={field}
      />
      <input
        bind:value={now}
        type="password"
        required
        autocomplete="new-password"
        placeholder="as it shall be"
        aria-label="New password"
        class={field}
      />
      <button type="submit" class="h-8 rounded-md border border-line bg-ink/70 px-3 text-[13px] hover:bg-raised"
        >Change it</button
      >
    </p>
  </form>
  {#if problem}<p role="alert" class="mt-3 whitespace-pre-line text-amber">{problem}</p>{/if}
  {#if done}<p role="status" class="mt-3 text-moss">{done}</p>{/if}
  {#snippet footer()}<Action kind="line" onclick={() => (open = false)}>Close</Action>{/snippet}
</Panel>
