<!-- An effect's name, folder and tags. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import Panel from '../controls/Panel.svelte'
  import type { Card } from '../wire/types'

  let {
    card = $bindable(),
    folders,
    tags,
    onkeep,
  }: {
    card: Card | null
    folders: string[]
    tags: string[]
    onkeep: (card: Card, to: { name: string; folder: string; tags: string[] }) => void
  } = $props()
  let name = $state('')
  let folder = $state('')
  let tagText = $state('')
  $effect(() => {
    if (!card) return
    name = card.name
    folder = card.folder
    tagText = card.tags.join(', ')
  })
  const listed = $derived(
    tagText
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean),
  )
  function keep() {
    if (card) onkeep(card, { name: name.trim() || card.name, folder, tags: listed })
    card = null
  }
  const FIELD =
    'mt-1 h-8 w-full rounded border border-line bg-ink px-2 text-[13px] text-paper focus:border-teal focus:ring-0'
</script>

<Panel
  bind:open={
    () => card !== null,
    (open) => {
      if (!open) card = null
    }
  }
  title="Arrange {card?.name ?? ''}"
  size="xs"
>
  <form
    class="flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault()
      keep()
    }}
  >
    <label>Name<input class={FIELD} bind:value={name} maxlength="80" /></label>
    <label
      >Folder<input class={FIELD} bind:value={folder} list="kagero-folders" maxlength="200" placeholder="none" /></label
    >
    <datalist id="kagero-folders"
      >{#each folders as each (each)}<option value={each}></option>{/each}</datalist
    >
    <p class="-mt-2 text-xs text-quiet">One that is not there yet is made. Folders in folders: Short / Shot 12.</p>
    <label
      >Tags<input
        class={FIELD}
        bind:value={tagText}
        maxlength="400"
        placeholder="none"
        aria-describedby="tags-known"
      /></label
    >
    <p class="-mt-2 text-xs text-quiet" id="tags-known">
      With commas between them.
      {#each tags.filter((tag) => !listed.includes(tag)).slice(0, 8) as tag (tag)}
        <button
          type="button"
          class="mr-1 rounded-full border border-line px-2 hover:border-quiet hover:text-paper"
          onclick={() => (tagText = [...listed, tag].join(', '))}>{tag}</button
        >
      {/each}
    </p>
    <div class="flex justify-end gap-2">
      <Action kind="line" onclick={() => (card = null)}>Cancel</Action>
      <Action kind="chosen" onclick={keep}>Keep</Action>
    </div>
  </form>
</Panel>
