<!-- A name while it is typed: Enter or leaving takes it, Escape gives up; none, or the same as before, changes nothing. -->
<script lang="ts">
  import { onMount, untrack } from 'svelte'

  let {
    value,
    label,
    onset,
    onclose,
    class: extra = '',
  }: {
    value: string
    label: string
    onset: (value: string) => void
    /** Told first, whatever becomes of it. */
    onclose: () => void
    class?: string
  } = $props()
  let text = $state(untrack(() => value))
  let input: HTMLInputElement
  let open = true

  onMount(() => {
    input.focus()
    input.select()
  })
  function end(takes: boolean) {
    if (!open) return
    open = false
    const wanted = text.trim().slice(0, 80)
    onclose()
    if (takes && wanted && wanted !== value) onset(wanted)
  }
</script>

<input
  bind:this={input}
  bind:value={text}
  maxlength="80"
  aria-label={label}
  spellcheck="false"
  autocomplete="off"
  onblur={() => end(true)}
  onkeydown={(e) => {
    if (e.key !== 'Enter' && e.key !== 'Escape') return
    e.preventDefault()
    e.stopPropagation()
    end(e.key === 'Enter')
  }}
  class="rounded border border-teal bg-ink px-1.5 py-0 text-paper focus:ring-0 {extra}"
/>
