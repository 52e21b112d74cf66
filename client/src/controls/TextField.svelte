<!-- A name in its place: click (or Enter) and type. -->
<script lang="ts">
  let { value, label, onset }: { value: string; label: string; onset: (value: string) => void } = $props()
  let typing = $state(false)
  let text = $state('')
  function take() {
    if (!typing) return
    typing = false
    const wanted = text.trim().slice(0, 80)
    if (wanted && wanted !== value) onset(wanted)
  }
</script>

{#if typing}
  <!-- svelte-ignore a11y_autofocus -->
  <input
    bind:value={text}
    autofocus
    maxlength="80"
    aria-label={label}
    onblur={take}
    onkeydown={(e) => {
      if (e.key === 'Enter') take()
      if (e.key === 'Escape') typing = false
    }}
    class="h-[22px] w-[100px] rounded border border-teal bg-ink px-1 py-0 text-[13px] text-paper focus:ring-0"
  />
{:else}
  <button
    type="button"
    class="max-w-[100px] truncate rounded text-left hover:underline hover:decoration-dotted"
    aria-label="{label}: {value}"
    title="Rename"
    onclick={() => {
      text = value
      typing = true
    }}>{value}</button
  >
{/if}
