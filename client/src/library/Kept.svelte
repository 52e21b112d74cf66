<!-- What is kept on the server besides effects, and what will go: one line, and a panel where something is unused. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import { bytesText, day } from '../controls/numbers'
  import Panel from '../controls/Panel.svelte'
  import { api } from '../wire/api'
  import type { Storage } from '../wire/types'

  let kept = $state.raw<Storage | null>(null)
  let open = $state(false)
  const several = (n: number, what: string) => (n === 1 ? `1 ${what}` : `${n} ${what}s`)
  async function look() {
    kept = await api.storage().catch(() => null)
    if (!kept?.unused.length) open = false
  }
  look()
  async function act(work: Promise<unknown>) {
    await work.catch(() => undefined)
    await look()
  }
</script>

{#if kept}
  {#if kept.trouble}<p
      role="alert"
      class="mt-8 max-w-2xl rounded-md border border-amber px-3 py-2 text-amber"
      data-part="disk-trouble"
    >
      {kept.trouble}
    </p>{/if}
  <p class="mt-8 text-xs text-quiet" data-part="kept">
    Kept here besides: {several(kept.files, 'file')} of props ({bytesText(kept.files_bytes)}){#if kept.exports}, {several(
        kept.exports,
        'export',
      )} ({bytesText(kept.exports_bytes)}){/if}; {bytesText(kept.free_bytes)} free.
    {#if kept.unused.length}<button
        type="button"
        class="underline decoration-dotted hover:text-paper"
        onclick={() => (open = true)}
        >{several(kept.unused.length, 'file')}
        {kept.unused.length === 1 ? 'is used by no effect and' : 'are used by no effect; the first'} goes on {day(
          kept.unused.map((f) => f.goes).sort()[0],
        )}</button
      >{/if}
  </p>
  <Panel bind:open title="Files that no effect uses" size="sm">
    <p class="mb-2 text-quiet">
      They were brought in, and no effect refers to them, nor any edit that could be undone.
    </p>
    {#each kept.unused as file (file.content)}
      <p class="flex items-baseline gap-3 py-1">
        <span class="min-w-0 truncate">{file.name}</span><span class="mono text-xs text-quiet"
          >{bytesText(file.bytes)}</span
        ><span class="text-xs whitespace-nowrap text-quiet">goes on {day(file.goes)}</span>
        <span class="ml-auto flex gap-3 text-xs whitespace-nowrap">
          <button
            type="button"
            class="underline decoration-dotted hover:text-teal"
            aria-label="Keep {file.name} longer"
            onclick={() => act(api.keepFile(file.content))}>keep longer</button
          >
          <button
            type="button"
            class="text-quiet underline decoration-dotted hover:text-paper"
            aria-label="Remove {file.name} now"
            onclick={() => act(api.removeFile(file.content))}>remove now</button
          >
        </span>
      </p>
    {/each}
    {#snippet footer()}<Action kind="line" onclick={() => (open = false)}>Close</Action>{/snippet}
  </Panel>
{/if}
