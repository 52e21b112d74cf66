<!-- Signing in, or making the account that an invitation is for. Over the page that is there, which waits. -->
<script lang="ts">
  import { people } from '../effect/people.svelte'
  import { inWords } from '../wire/api'
  import Mark from './Mark.svelte'

  let { secret = '', over = false, onin }: { secret?: string; over?: boolean; onin: () => void } = $props()
  let name = $state('')
  let password = $state('')
  let problem = $state('')
  let busy = $state(false)

  async function go(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    problem = ''
    try {
      await (secret ? people.welcome(secret, name.trim(), password) : people.signIn(name.trim(), password))
      password = ''
      onin()
    } catch (error) {
      problem = inWords(error, false)
    }
    busy = false
  }
  const field = 'h-9 w-full rounded-md border border-line bg-ink px-3 text-paper focus:border-teal focus:ring-0'
</script>

<div class="grid place-items-center {over ? 'fixed inset-0 z-50 bg-ink/80' : 'h-full'}" data-part="sign-in">
  <form class="w-[340px] rounded-lg border border-line bg-panel p-6 shadow-2xl" onsubmit={go}>
    <div class="mb-4 flex items-center gap-3"><Mark /><b class="text-[15px] tracking-[.04em]">Kagero</b></div>
    <h1 class="mb-1 text-lg font-bold">{secret ? 'Welcome' : over ? 'Sign in again' : 'Sign in'}</h1>
    <p class="mb-4 text-quiet">
      {secret
        ? 'This link makes one account. Choose the name others see, and a password of ten letters or more.'
        : over
          ? 'You were signed out. What you did is kept here, and is saved as soon as you are back.'
          : 'Kagero is shared on this network: everybody has an account.'}
    </p>
    <label class="mb-3 block"
      ><span class="mb-1 block text-quiet">Name</span>
      <!-- svelte-ignore a11y_autofocus -->
      <input bind:value={name} autofocus required maxlength="60" autocomplete="username" class={field} />
    </label>
    <label class="mb-4 block"
      ><span class="mb-1 block text-quiet">Password</span>
      <input
        bind:value={password}
        type="password"
        required
        maxlength="400"
        autocomplete={secret ? 'new-password' : 'current-password'}
        class={field}
      />
    </label>
    {#if problem}<p role="alert" class="mb-4 whitespace-pre-line text-amber">{problem}</p>{/if}
    <button
      type="submit"
      disabled={busy}
      class="h-9 w-full rounded-md bg-paper font-medium text-ink hover:opacity-90 disabled:opacity-45"
      >{secret ? 'Make the account' : 'Sign in'}</button
    >
    {#if !secret && !over}<p class="mt-4 text-xs text-quiet">
        No account yet? Whoever has one can invite you; whoever runs the server can print a link with <span class="mono"
          >manage.py invite</span
        >.
      </p>{/if}
  </form>
</div>
