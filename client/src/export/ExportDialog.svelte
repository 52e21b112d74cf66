<!-- Taking files away: the effect itself, particle caches, pictures. Long work shows progress and can be cancelled. -->
<script lang="ts">
  import { Progressbar } from 'flowbite-svelte'
  import { onDestroy } from 'svelte'
  import Action from '../controls/Action.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { bytesText, day } from '../controls/numbers'
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'
  import { api, inWords } from '../wire/api'
  import type { ExportState } from '../wire/types'

  let { open = $bindable() }: { open: boolean } = $props()
  const { draft, player, catalog } = useDesk()
  let kind = $state('json')
  let first = $state(0)
  let last = $state(0)
  let width = $state(1280)
  let height = $state(720)
  let job = $state.raw<ExportState | null>(null)
  let problem = $state('')
  let earlier = $state.raw<ExportState[]>([])
  let timer: ReturnType<typeof setTimeout> | undefined
  let wasOpen = false
  const PLAIN = { symbol: '', scale: 1, digits: 0 }
  const PIXELS = { symbol: 'px', scale: 1, digits: 0 }
  const formats = $derived([
    {
      kind: 'json',
      label: 'Effect',
      help: 'The effect itself as documented JSON: it opens again in Kagero.',
      takes: 'effect',
    },
    ...catalog.data.formats,
  ])
  const takes = $derived(formats.find((f) => f.kind === kind)?.takes)
  /** Emitters of which something is drawn that needs a ground. */
  const grounded = $derived(
    draft.document.emitters
      .filter((e) =>
        Object.values(catalog.layout.emitters[e.uid]?.parts ?? {}).some((p) => p.flags.includes('grounded')),
      )
      .map((e) => e.name),
  )
  const running = $derived(job?.state === 'waiting' || job?.state === 'running')

  $effect(() => {
    // opening offers the whole clip
    if (open && !wasOpen) {
      first = player.clip.first_frame
      last = player.clip.last_frame
      problem = ''
      if (!running) job = null
      void lookBack()
    }
    wasOpen = open
  })
  onDestroy(() => clearTimeout(timer))

  async function lookBack() {
    earlier = await api.exports(draft.id).catch(() => [])
  }
  async function forget(old: ExportState) {
    await api.removeExport(old.id).catch(() => undefined)
    if (job?.id === old.id) job = null
    await lookBack()
  }
  const labelOf = (which: string) => formats.find((f) => f.kind === which)?.label ?? which

  function save(url: string, name?: string) {
    const link = document.createElement('a')
    link.href = url
    link.download = name ?? ''
    document.body.append(link)
    link.click()
    link.remove()
  }
  async function start() {
    problem = ''
    if (kind === 'json') {
      const url = URL.createObjectURL(
        new Blob([JSON.stringify(draft.document, null, 1) + '\n'], { type: 'application/json' }),
      )
      save(url, `${draft.document.name.toLowerCase().replace(/[^a-z0-9]+/g, '-') || 'effect'}.json`)
      setTimeout(() => URL.revokeObjectURL(url), 10000)
      return
    }
    try {
      job = await api.startExport(draft.id, {
        kind,
        first,
        last,
        width,
        height,
        document: draft.document as unknown as { [key: string]: unknown },
      })
      follow()
    } catch (error) {
      job = null
      problem = inWords(error)
    }
  }
  function follow() {
    timer = setTimeout(async () => {
      if (!job) return
      try {
        job = await api.exportState(job.id)
      } catch {
        return follow()
      }
      if (job.state === 'done') {
        save(`/api/exports/${job.id}/file`)
        void lookBack()
      } else if (job.state === 'waiting' || job.state === 'running') follow()
    }, 150)
  }
  async function cancel() {
    if (job) job = await api.cancelExport(job.id)
    follow()
  }
</script>

<Panel bind:open title="Export" size="sm">
  <fieldset class="grid gap-1.5" disabled={running}>
    <legend class="sr-only">Format</legend>
    {#each formats as format (format.kind)}
      <label
        class="flex cursor-pointer items-baseline gap-3 rounded-md border px-3 py-2 {kind === format.kind
          ? 'border-paper bg-raised'
          : 'border-line hover:bg-raised/50'}"
      >
        <input
          type="radio"
          name="format"
          value={format.kind}
          bind:group={kind}
          class="h-3 w-3 self-center border-line bg-ink text-teal focus:ring-teal"
        />
        <span class="w-28 shrink-0">{format.label}</span><span class="text-xs text-quiet">{format.help}</span>
      </label>
    {/each}
  </fieldset>
  {#if kind !== 'json'}
    <div class="mt-4 flex flex-wrap items-center gap-2">
      <span class="text-quiet">Frames</span>
      <NumberField
        boxed
        value={first}
        unit={PLAIN}
        label="First frame to export"
        whole
        lowest={player.clip.first_frame}
        highest={last}
        drag={40}
        onset={(v) => (first = v)}
      />
      <span class="text-quiet">to</span>
      <NumberField
        boxed
        value={last}
        unit={PLAIN}
        label="Last frame to export"
        whole
        lowest={first}
        highest={player.clip.last_frame}
        drag={40}
        onset={(v) => (last = v)}
      />
      <span class="text-quiet" data-part="how-many"
        >{last - first + 1}
        {last === first
          ? takes === 'pictures'
            ? 'picture'
            : 'frame'
          : takes === 'pictures'
            ? 'pictures'
            : 'frames'}</span
      >
      {#if takes === 'pictures'}
        <span class="ml-3 text-quiet">Size</span>
        <NumberField
          boxed
          value={width}
          unit={PIXELS}
          label="Picture width"
          whole
          lowest={16}
          highest={3840}
          drag={400}
          onset={(v) => (width = v)}
        />
        <span class="text-quiet">by</span>
        <NumberField
          boxed
          value={height}
          unit={PIXELS}
          label="Picture height"
          whole
          lowest={16}
          highest={3840}
          drag={400}
          onset={(v) => (height = v)}
        />
      {/if}
    </div>
  {/if}
  {#if takes === 'pictures' && grounded.length}<p role="note" class="mt-4 text-amber" data-part="grounded">
      {grounded.join(', ')}: what is screened or multiplied leaves nothing in pictures with alpha. Lay it over or add
      it, or put it together with the backplate where that is known.
    </p>{/if}
  {#if problem}<p role="alert" class="mt-4 whitespace-pre-line text-amber">{problem}</p>{/if}
  {#if job}
    <div class="mt-4" aria-live="polite" data-part="export-state">
      {#if running}
        <Progressbar
          progress={job.total ? Math.round((job.done / job.total) * 100) : 0}
          size="h-1.5"
          class="bg-ink"
          classes={{ inside: 'bg-teal' }}
        />
        <p class="mt-1 text-quiet">
          {job.state === 'waiting' ? 'Waiting for another export' : `Frame ${job.done} of ${job.total}`}
        </p>
      {:else if job.state === 'done'}
        <p class="text-moss">
          Done: {job.total} frames.
          <a class="text-paper underline" href="/api/exports/{job.id}/file">Save the file again</a>{job.goes
            ? `; it stays here until ${day(job.goes)}.`
            : ''}
        </p>
        {#if job.message}<p role="alert" class="mt-1 whitespace-pre-line text-amber">{job.message}</p>{/if}
      {:else if job.state === 'cancelled'}
        <p class="text-quiet">Cancelled; nothing was kept.</p>
      {:else}
        <p role="alert" class="text-amber">{job.message}</p>
      {/if}
    </div>
  {/if}
  {#if earlier.filter((e) => e.id !== job?.id).length}
    <section class="mt-4 border-t border-line pt-3" aria-label="Earlier exports" data-part="earlier">
      <h3 class="mb-1 text-quiet">Still here</h3>
      {#each earlier.filter((e) => e.id !== job?.id).slice(0, 6) as old (old.id)}
        <p class="flex items-baseline gap-3 py-0.5 text-xs">
          <a class="underline decoration-dotted hover:text-teal" href="/api/exports/{old.id}/file" download
            >{labelOf(old.kind)}, frames {old.first} to {old.last}</a
          >
          <span class="mono text-quiet">{bytesText(old.bytes)}</span><span class="text-quiet"
            >until {day(old.goes)}</span
          >
          <button
            type="button"
            class="ml-auto text-quiet underline decoration-dotted hover:text-paper"
            aria-label="Remove {labelOf(old.kind)} of frames {old.first} to {old.last}"
            onclick={() => forget(old)}>remove</button
          >
        </p>
      {/each}
    </section>
  {/if}
  {#snippet footer()}
    {#if running}<Action kind="line" onclick={cancel}>Cancel export</Action>{/if}
    <Action kind="line" onclick={() => (open = false)}>Close</Action>
    <Action kind="chosen" onclick={start} disabled={running}>{kind === 'json' ? 'Save the effect' : 'Export'}</Action>
  {/snippet}
</Panel>
