<!-- A name in its place: click (or Enter) and type. -->
<script lang="ts">
  import NameInput from './NameInput.svelte'

  let { value, label, onset }: { value: string; label: string; onset: (value: string) => void } = $props()
  let typing = $state(false)
</script>

{#if typing}
  <NameInput {value} {label} {onset} onclose={() => (typing = false)} class="h-[22px] w-[100px] text-[13px]" />
{:else}
  <button
    type="button"
    class="max-w-[100px] truncate rounded text-left hover:underline hover:decoration-dotted"
    aria-label="{label}: {value}"
    title="{value}: click to rename"
    onclick={() => (typing = true)}>{value}</button
  >
{/if}
