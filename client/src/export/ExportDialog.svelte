<!-- Taking files away: the effect itself, particle caches, pictures. Long work shows progress and can be cancelled. -->
<script lang="ts">
  import { Progressbar } from 'flowbite-svelte'
  import { onDestroy } from 'svelte'
  import Action from '../controls/Action.svelte'
  import Choice from '../controls/Choice.svelte'
  import KeepShape from '../controls/KeepShape.svelte'
  import { inProportion, shape } from '../controls/keepshape.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { bytesText, day } from '../controls/numbers'
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'
  import { attributesOf } from '../effect/attributes'
  import { api, inWords } from '../wire/api'
  import type { Estimate, ExportState, ExportWish, OptionSpec } from '../wire/types'
  import OptionField from './OptionField.svelte'
  import SheetPreview from './SheetPreview.svelte'

  let { open = $bindable() }: { open: boolean } = $props()
  const { draft, player, catalog } = useDesk()
  let kind = $state('json')
  let first = $state(0)
  let last = $state(0)
  let width = $state(1280)
  let height = $state(720)
  /** What was chosen of each format, by its kind and name; of pictures the camera and the emitter that are wanted. */
  let chosen = $state<Record<string, Record<string, unknown>>>({})
  let camera = $state('')
  let emitter = $state('')
  let estimate = $state.raw<Estimate | null>(null)
  let telling = $state(false)
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
      options: [] as OptionSpec[],
    },
    ...catalog.data.formats,
  ])
  const format = $derived(formats.find((f) => f.kind === kind)!)
  const takes = $derived(format.takes)
  const GROUPS = { effect: 'The effect', particles: 'Particles', pictures: 'Pictures and films' } as const
  const valueOf = (option: OptionSpec) => chosen[kind]?.[option.name] ?? option.default
  function choose(option: OptionSpec, value: unknown) {
    chosen[kind] = { ...chosen[kind], [option.name]: value }
  }
  /** What particles have that can go along as a pass; asked for once such a format is chosen. */
  let attributes = $state.raw<{ value: string; label: string }[]>([])
  $effect(() => {
    if (!open || !format.options.some((o) => o.kind === 'several' && !o.choices.length)) return
    void attributesOf(draft, player.frame)
      .catch(() => [])
      .then((found) => (attributes = found.map((c) => ({ value: c.key, label: c.label }))))
  })
  const cameras = $derived(draft.document.props.filter((p) => p.kind === 'camera'))
  const alone = $derived(
    format.options.some((o) => o.name === 'behind') &&
      valueOf(format.options.find((o) => o.name === 'behind')!) === 'nothing',
  )
  /** What is done to the picture that acts on what stands behind as well: with alpha it acts as if over black. */
  const onBehind = $derived(
    (draft.document.finish ?? [])
      .filter((part) => !part.muted && catalog.is(part, 'on_plate') && !catalog.is(part, 'linear'))
      .map((part) => part.name),
  )
  const wish = (): ExportWish => ({
    kind,
    first,
    last,
    width,
    height,
    options: {
      ...chosen[kind],
      ...(takes === 'pictures' ? { ...(camera && { camera }), ...(emitter && { emitter }) } : {}),
    },
    document: draft.document as unknown as { [key: string]: unknown },
  })
  /** What it will be, told by its middle frame, once nothing has been chosen for a while. */
  let requests = 0
  $effect(() => {
    void [kind, first, last, width, height, camera, emitter, JSON.stringify(chosen[kind] ?? {}), draft.document]
    estimate = null
    const mine = ++requests
    if (!open || takes !== 'pictures' || running) return
    const later = setTimeout(async () => {
      telling = true
      try {
        const answer = await api.estimateExport(draft.id, wish())
        if (mine === requests) [estimate, problem] = [answer, '']
      } catch (error) {
        if (mine === requests) problem = inWords(error)
      }
      if (mine === requests) telling = false
    }, 350)
    return () => clearTimeout(later)
  })
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
      width = draft.document.frame?.width ?? 1280
      height = draft.document.frame?.height ?? 720
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
      job = await api.startExport(draft.id, wish())
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

{#snippet options()}
  {#each format.options as option (`${kind} ${option.name}`)}
    {#if option.kind !== 'choice' || option.choices.length > 1}<OptionField
        {option}
        value={valueOf(option)}
        open={attributes}
        onset={(value) => choose(option, value)}
      />{/if}
  {/each}
{/snippet}

<Panel bind:open title="Export" size="md">
  <div class="grid grid-cols-[11rem_minmax(0,1fr)] gap-5">
    <fieldset class="flex flex-col gap-0.5" disabled={running}>
      <legend class="sr-only">Format</legend>
      {#each Object.entries(GROUPS) as [group, words] (group)}
        <span class="mt-2 mb-0.5 text-xs text-quiet first:mt-0">{words}</span>
        {#each formats.filter((f) => f.takes === group) as each (each.kind)}
          <label
            class="flex cursor-pointer items-center gap-2 rounded-md border px-2 py-1 {kind === each.kind
              ? 'border-paper bg-raised'
              : 'border-transparent hover:bg-raised/50'}"
          >
            <input
              type="radio"
              name="format"
              value={each.kind}
              bind:group={kind}
              class="h-3 w-3 border-line bg-ink text-teal focus:ring-teal"
            />{each.label}
          </label>
        {/each}
      {/each}
    </fieldset>
    <div class="flex min-w-0 flex-col gap-3">
      <p class="text-quiet">{format.help}</p>
      {#if kind !== 'json'}
        <div class="flex flex-wrap items-center gap-2">
          <span class="w-20 text-quiet">Frames</span>
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
        </div>
      {/if}
      {#if takes === 'pictures'}
        <div class="flex flex-wrap items-center gap-2">
          <span class="w-20 text-quiet">Size</span>
          <NumberField
            boxed
            value={width}
            unit={PIXELS}
            label="Picture width"
            whole
            lowest={16}
            highest={8192}
            drag={400}
            onset={(v) => {
              if (shape.kept) height = inProportion(height, width, v, 16, 8192)
              width = v
            }}
          />
          <span class="text-quiet">by</span>
          <NumberField
            boxed
            value={height}
            unit={PIXELS}
            label="Picture height"
            whole
            lowest={16}
            highest={8192}
            drag={400}
            onset={(v) => {
              if (shape.kept) width = inProportion(width, height, v, 16, 8192)
              height = v
            }}
          /><KeepShape />
        </div>
        {#if cameras.length}
          <div class="flex items-center gap-2">
            <span class="w-20 text-quiet">From</span><Choice
              label="Camera of the pictures"
              value={camera}
              options={[
                { value: '', name: "the frame's camera" },
                ...cameras.map((c) => ({ value: c.uid, name: c.name })),
              ]}
              onpick={(v) => (camera = v)}
            />
          </div>
        {/if}
        {#if draft.document.emitters.length > 1}
          <div class="flex items-center gap-2">
            <span class="w-20 text-quiet">Of</span><Choice
              label="Emitter in the pictures"
              value={emitter}
              options={[
                { value: '', name: 'all' },
                ...draft.document.emitters.map((e) => ({ value: e.uid, name: `${e.name} alone` })),
              ]}
              onpick={(v) => (emitter = v)}
            />
          </div>
        {/if}
        {@render options()}
        <p class="min-h-5 text-quiet" data-part="estimate" aria-live="polite">
          {#if estimate}{estimate.pictures}
            {estimate.pictures === 1 ? 'picture' : 'pictures'}, about {bytesText(estimate.bytes)}, about {estimate.seconds <
            90
              ? `${Math.max(1, Math.round(estimate.seconds))} s`
              : `${Math.round(estimate.seconds / 60)} min`}{:else if telling}looking at one frame…{/if}
        </p>
        {#if kind === 'sheet' && estimate}<SheetPreview wish={wish()} />{/if}
      {:else}
        {@render options()}
      {/if}
      {#if alone && (grounded.length || onBehind.length)}<p role="note" class="text-amber" data-part="grounded">
          {#if grounded.length}{grounded.join(', ')}: what is screened or multiplied leaves nothing in pictures with
            alpha.{/if}
          {#if onBehind.length}{onBehind.join(', ')}: with alpha it acts as if over black.{/if}
          Render over what stands behind all, or put it together with the backplate where that is known.
        </p>{/if}
    </div>
  </div>
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
