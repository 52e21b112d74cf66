<!-- A new effect: empty, or from a beginning. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Panel from '../controls/Panel.svelte'
  import { api, inWords } from '../wire/api'
  import { inTurn, pictureFrom } from '../wire/turns'
  import type { Beginning } from '../wire/types'
  import MovingPicture from '../controls/MovingPicture.svelte'

  let { open = $bindable(), folder, onopen }: { open: boolean; folder: string; onopen: (id: number) => void } = $props()
  let beginnings = $state.raw<Beginning[]>([])
  let moving = $state('')
  let problem = $state('')
  let busy = $state(false)
  $effect(() => {
    if (open && !beginnings.length)
      api.beginnings().then(
        (found) => (beginnings = found),
        (error) => (problem = inWords(error)),
      )
  })
  let pictures = $state<Record<string, string>>({})
  $effect(() => {
    if (!open) return
    const given = beginnings.map(({ key }) =>
      inTurn(async (signal) => {
        const url = await pictureFrom(`/api/beginnings/${key}/card.png`, signal)
        pictures[key] = url
      }, true),
    )
    return () => {
      for (const giveUp of given) giveUp()
      for (const url of Object.values(untrack(() => pictures))) URL.revokeObjectURL(url)
      pictures = {}
    }
  })
  async function begin(key: string) {
    if (busy) return
    busy = true
    try {
      onopen((await api.begin(key, folder)).id)
    } catch (error) {
      problem = inWords(error)
    }
    busy = false
  }
</script>

<Panel bind:open title="New effect{folder ? ` in ${folder.replaceAll('/', ' / ')}` : ''}" size="lg">
  {#if problem}<p role="alert" class="mb-3 text-amber">{problem}</p>{/if}
  <p class="mb-3 text-quiet">Start from nothing, or from a small effect whose remarks say why it is as it is.</p>
  <div class="grid grid-cols-3 gap-3" data-part="beginnings">
    {#each beginnings as each (each.key)}
      <button
        type="button"
        disabled={busy}
        class="flex flex-col overflow-hidden rounded-md border border-line bg-raised text-left hover:border-quiet focus-visible:border-quiet"
        onclick={() => begin(each.key)}
        onpointerenter={() => (moving = each.key)}
        onpointerleave={() => (moving = '')}
        onfocus={() => (moving = each.key)}
        aria-label={each.label}
      >
        <MovingPicture src={pictures[each.key] ?? null} moving={moving === each.key} seconds={3} />
        <span class="block px-3 py-2"
          ><b class="block">{each.label}</b><span class="mt-0.5 block text-xs text-quiet">{each.help}</span></span
        >
      </button>
    {/each}
  </div>
</Panel>
