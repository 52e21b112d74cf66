<!-- What somebody says of a row, under it: click to change it; emptied, it is gone. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import { remarkOn } from '../effect/edits'

  let { address, name }: { address: string; name: string } = $props()
  const { draft, selection } = useDesk()
  const remark = $derived(draft.owner.sheet?.remarks?.find((each) => each.row === address)?.text ?? '')
  const writing = $derived(selection.remarking === address)
  let text = $state('')
  $effect(() => {
    if (writing) text = remark
  })
  function take() {
    if (!writing) return
    selection.remarking = null
    if (text.trim() !== remark) remarkOn(draft, address, text.trim().slice(0, 500), name)
  }
</script>

{#if writing}
  <!-- svelte-ignore a11y_autofocus -->
  <textarea
    bind:value={text}
    autofocus
    rows="2"
    maxlength="500"
    aria-label="Remark on {name}"
    placeholder="Why it is so. Enter keeps it."
    onblur={take}
    onkeydown={(e) => {
      if (e.key === 'Enter' && !e.shiftKey) {
        e.preventDefault()
        take()
      }
      if (e.key === 'Escape') selection.remarking = null
      e.stopPropagation()
    }}
    class="mx-3.5 mb-1 block w-[calc(100%-28px)] resize-y rounded border-teal bg-ink px-2 py-1 text-xs text-paper focus:ring-0"
  ></textarea>
{:else if remark}
  <button
    type="button"
    onclick={() => (selection.remarking = address)}
    title="Change this remark"
    class="mb-1 ml-3.5 block max-w-[520px] border-l-2 border-line pl-2 text-left text-xs text-quiet hover:border-teal hover:text-paper"
    data-remark={address}>{remark}</button
  >
{/if}
