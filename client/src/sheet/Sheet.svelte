<!-- The sheet: the current emitter's rows as sentences, in working order. A band shows the rows in use; one list adds more. -->
<script lang="ts">
  import { tick } from 'svelte'
  import { withUnit } from '../controls/numbers'
  import { inUse, isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { addTo, setBase, shelve } from '../effect/edits'
  import { fitAgain, keepRanges, outgrownIn } from '../effect/fitted'
  import { keyHint } from '../effect/commands.svelte'
  import Action from '../controls/Action.svelte'
  import { copied, MOVERS, pasteMover } from '../effect/pieces'
  import { addShaping, fromOthers } from '../effect/shapings'
  import type { AddSpec } from '../wire/types'
  import Band from './Band.svelte'
  import BurstRows from './BurstRows.svelte'
  import DrawRows from './DrawRows.svelte'
  import { chooseEmitter } from './emitters'
  import EndingCues from './EndingCues.svelte'
  import LaunchRow from './LaunchRow.svelte'
  import LookRow from './LookRow.svelte'
  import OwnRows from './OwnRows.svelte'
  import PassingChecks from './PassingChecks.svelte'
  import PlaceRow from './PlaceRow.svelte'
  import PlainRow from './PlainRow.svelte'
  import PushRows from './PushRows.svelte'
  import Remark from './Remark.svelte'
  import SheetRow from './SheetRow.svelte'
  import ThinningRow from './ThinningRow.svelte'
  import WhenRow from './WhenRow.svelte'

  const desk = useDesk()
  const { draft, player, catalog, selection, overlay } = desk
  const others = $derived(fromOthers(draft))
  const fits = $derived(outgrownIn(draft, catalog))
  let opened = $state<Record<string, boolean>>({})
  let showHidden = $state<Record<string, boolean>>({})
  const bands = $derived(catalog.thing(draft.emitter)?.bands ?? [])
  const part = (path: string) => catalog.part(draft.emitter, path)
  const rows = $derived(
    catalog.rowsOf(draft.emitter).filter((r) => !r.unused || r.spec.band === 'draws' || r.spec.band === 'own'),
  )
  const byAddress = $derived(new Map(rows.map((r) => [r.address, r])))
  const find = (address: string) => byAddress.get(address)
  const driven = (row: PlacedRow | undefined) =>
    !!row &&
    ((row.row.responses?.length ?? 0) > 0 || isSourced(row.row.base) || selection.found?.placed.address === row.address)
  const shelf = $derived({
    added: draft.emitter.sheet?.added ?? [],
    pinned: draft.emitter.sheet?.pinned ?? [],
    hidden: draft.emitter.sheet?.hidden ?? [],
  })
  const pinned = $derived(shelf.pinned.map(find).filter((r): r is PlacedRow => !!r))
  const off = (row: PlacedRow) => shelf.hidden.includes(row.address) && !showHidden[row.spec.band]
  const hiddenIn = (band: string) =>
    showHidden[band] ? 0 : rows.filter((r) => r.spec.band === band && shelf.hidden.includes(r.address)).length
  /** Whether an optional row stands in the sheet. */
  const stands = (row: PlacedRow | undefined) =>
    !!row &&
    !off(row) &&
    (row.spec.always ||
      inUse(row) ||
      shelf.added.includes(row.address) ||
      selection.found?.placed.address === row.address)
  /** The rows of a part that open under it. */
  const rowsOfPart = (path: string) => (part(path)?.rows ?? []).map(find).filter((r): r is PlacedRow => !!r)
  const lifespan = $derived(player.profile(draft.emitter.uid)?.lifespan)
  const living = $derived(find('births.lifespan'))
  const lastsOut = $derived(!!living && isSourced(living.row.base) && living.row.base.source.kind === 'clip_left')
  const toggle = (name: string) => (opened[name] = !opened[name])
  /** Rows that the loom's chosen column drives. */
  const filtered = $derived(
    selection.filter === null
      ? null
      : catalog
          .allRows(draft.emitter)
          .filter((r) => (r.row.responses ?? []).some((x) => catalog.columnOf(draft.emitter, x) === selection.filter)),
  )
  const filterName = $derived.by(() => {
    const response = filtered
      ?.flatMap((r) => r.row.responses ?? [])
      .find((r) => catalog.columnOf(draft.emitter, r) === selection.filter)
    return response ? catalog.nameOf(draft.emitter, response) : ''
  })

  /** Rows of a band that could stand in the sheet and do not: they can be added. */
  const rowAdds = (items: readonly { row: string }[]) =>
    items
      .map((item) => find(item.row))
      .filter((r): r is PlacedRow => !!r && !r.spec.always && !stands(r) && !shelf.hidden.includes(r.address))
      .map((r) => ({
        label: r.label,
        group: 'rows',
        help: r.spec.help,
        act: () => shelve(draft, 'added', r.address, true, `Add ${r.label.toLowerCase()}`),
      }))
  /** A push or ride that was copied, to be put into this emitter. */
  function copiesHere(band: string) {
    const piece = copied()
    if (!piece || !(Object.values(MOVERS) as string[]).includes(piece.kind)) return []
    if ((piece.kind === 'shaping') !== (band === 'shaping')) return []
    const put = () =>
      overlay.attempt(async () => (awaited = (await pasteMover(draft, piece, `Paste a ${piece.kind}`))[0]))
    return [{ label: `The copied ${piece.kind}`, group: 'copied', act: () => void put() }]
  }
  let list = $state<HTMLElement>()
  /** A part that was just added: it comes into sight when the sheet has it. */
  let awaited = $state('')
  $effect(() => {
    const uid = awaited
    if (!uid || !bands.some((band) => band.items.some((item) => item.part.endsWith(`#${uid}`)))) return
    void tick().then(() => {
      list?.querySelector(`[data-mover="${uid}"]`)?.scrollIntoView({ block: 'nearest' })
      awaited = ''
    })
  })
  function add(what: AddSpec) {
    if (what.path[0] === 'shaping')
      return void overlay.attempt(async () => {
        awaited = await addShaping(draft, what, player.frame)
        opened[awaited] = true // its box, and where along it
      })
    const burst = what.path.at(-1) === 'bursts' ? { frame: player.frame } : {}
    const uid = addTo(draft, what, burst)
    const wide = Object.values(what.value as object).some((v) => Array.isArray((v as { base?: unknown })?.base))
    if (what.path[0] === 'rides' || (what.path[0] === 'forces' && wide)) opened[uid] = true // a vector stands open
    if (what.path[0] === 'draws') selection.fresh = uid
    if (what.path.join('.') === 'passing') opened.passing = true // all that it does at one look
    if (what.path[0] === 'cues') opened[uid] = true // when it happens, and what it does
    awaited = uid
  }
  /** From how long to how long, said once where both are the same. */
  function spanWords(low: number, high: number): string {
    const [from, to] = [low, high].map((seconds) => withUnit(seconds, { symbol: 's', scale: 1, digits: 1 }))
    return from === to ? from : `${from} to ${to}`
  }
</script>

{#snippet times(what: string, whole: boolean)}
  {#await import('./TimeRows.svelte') then { default: TimeRows }}<TimeRows {what} {whole} />{/await}
{/snippet}

<div class="flex min-h-0 flex-1 flex-col" data-part="rows">
  {#if filtered}
    <div class="flex shrink-0 items-center gap-2 border-b border-line bg-raised px-3.5 py-1.5">
      <span>Only what <b>{filterName}</b> drives: {filtered.length} {filtered.length === 1 ? 'row' : 'rows'}</span>
      <button
        type="button"
        class="ml-auto text-quiet underline decoration-dotted hover:text-paper"
        onclick={() => (selection.filter = null)}>show all rows</button
      >
    </div>
    <div class="min-h-0 flex-1 overflow-y-auto py-1">
      {#each filtered as row (row.address)}<SheetRow placed={row} />{/each}
    </div>
  {:else}
    {#if fits.length}
      <div
        class="flex shrink-0 items-center gap-3 border-b border-line bg-raised px-3.5 py-1.5"
        role="status"
        data-part="outgrown"
      >
        <span
          ><span class="text-amber"
            >{fits.length === 1
              ? `The range of ${catalog.nameOf(draft.owner, fits[0].response)} on ${fits[0].placed.label.toLowerCase()} was`
              : `${fits.length} ranges were`}</span
          > fitted to what has changed since.</span
        >
        <Action
          small
          kind="line"
          class="ml-auto shrink-0"
          disabled={!player.clipComplete}
          hint={player.clipComplete
            ? 'Set them to what the particles have over the clip now'
            : 'As soon as the whole clip is known'}
          onclick={() => fitAgain(draft, catalog, fits, (r) => player.profile(draft.owner.uid)?.responses[r.uid])}
          >Fit again</Action
        >
        <button
          type="button"
          class="shrink-0 text-quiet underline decoration-dotted hover:text-paper"
          title="Keep the ranges as they are"
          onclick={() => keepRanges(draft, catalog, fits)}>leave</button
        >
      </div>
    {/if}
    {#if pinned.length}
      <div
        class="max-h-[40%] shrink-0 overflow-y-auto border-b border-line bg-ink/40 py-1"
        aria-label="Pinned rows"
        role="group"
      >
        {#each pinned as row (row.address)}<SheetRow placed={row} />{/each}
      </div>
    {/if}
    <div bind:this={list} class="min-h-0 flex-1 overflow-y-auto pb-1">
      {#each bands as band (band.key)}
        <Band
          name={band.label}
          hidden={hiddenIn(band.key)}
          onshow={() => (showHidden[band.key] = true)}
          copies={['motion', 'shaping'].includes(band.key) ? () => copiesHere(band.key) : undefined}
          adds={[
            ...band.adds.map((what) => ({
              label: what.label,
              group: what.group,
              help: what.help,
              why: what.why || undefined,
              act: () => add(what),
            })),
            ...rowAdds(band.items),
          ]}
        />
        {#if band.key === 'shaping' && (band.items.length || others.length || draft.document.retiming || draft.document.loop)}<p
            class="px-3.5 py-1 text-quiet"
            data-part="simulated"
          >
            {player.simulated === null
              ? 'Frames are moved as they are stored.'
              : player.simulated
                ? `${player.simulated} frames were simulated for the last edit.`
                : 'Nothing was simulated for the last edit.'}
            {#if keyHint('before')}Hold {keyHint('before')} to see them as they were.{/if}
          </p>{/if}
        {#each band.items as item (item.row || item.part || item.panel)}
          {#if item.row}
            {@const row = find(item.row)}
            {#if row && stands(row)}<SheetRow placed={row} />{/if}
          {:else if item.panel === 'timing'}<WhenRow />
          {:else if item.panel === 'bursts'}<BurstRows />
          {:else if item.panel === 'lifespan'}
            <PlainRow label="At lifespan" help="A particle ends when its age reaches its lifespan.">
              <span class="text-quiet">always{lifespan ? `, after ${spanWords(lifespan[0], lifespan[2])}` : ''}</span>
              {#if living && !lastsOut}<button
                  type="button"
                  class="text-xs text-quiet underline decoration-dotted hover:text-paper"
                  title="Whoever is born lives until the clip's last frame is over"
                  onclick={() => setBase(draft, living, { source: { kind: 'clip_left' }, read: 'once' })}
                  >last to the clip’s end</button
                >{:else if lastsOut}<span class="text-quiet">to the clip’s end</span>{/if}
            </PlainRow>
          {:else if item.panel === 'ending cues'}<EndingCues />
          {:else if item.panel === 'passing checks'}<PassingChecks adds={band.adds} />
          {:else if item.part === 'births.place'}
            <PlaceRow
              open={!!opened.place}
              onopen={() => toggle('place')}
              radius={!opened.place && !driven(find('births.place.radius')) ? find('births.place.radius') : undefined}
            />
            <Remark address="births.place" name="place" />
            {#each rowsOfPart(item.part) as row (row.address)}
              {#if opened.place || driven(row)}<SheetRow placed={row} inner />{/if}
            {/each}
          {:else if item.part === 'births.launch'}
            <LaunchRow open={!!opened.launch} onopen={() => toggle('launch')} />
            {#each rowsOfPart(item.part).filter((r) => r.spec.always) as row (row.address)}{#if !off(row)}<SheetRow
                  placed={row}
                />{/if}{/each}
            {#each rowsOfPart(item.part).filter((r) => !r.spec.always) as row (row.address)}
              {#if opened.launch || driven(row) || !(find('births.launch.speed') || row.spec.key.endsWith('.cone') || row.spec.key.endsWith('.origin') || row.spec.key.endsWith('.inherit'))}<SheetRow
                  placed={row}
                  inner
                />{/if}
            {/each}
          {:else if item.part === 'look' || item.part.startsWith('also.')}
            {@const laid = part(item.part)}
            {#if laid}<LookRow part={laid} rows={item.part === 'look' ? [] : rowsOfPart(item.part)} hidden={off} />{/if}
          {:else if item.part === 'retiming' || item.part === 'loop'}{@render times(item.part, false)}
          {:else if item.part === 'thinning'}
            <ThinningRow />
            {#each rowsOfPart(item.part) as row (row.address)}<SheetRow placed={row} inner />{/each}
          {:else if band.key === 'draws'}
            {@const laid = part(item.part)}
            {#if laid}<DrawRows part={laid} rows={rowsOfPart(item.part)} />{/if}
          {:else if band.key === 'own'}
            {@const laid = part(item.part)}
            {#if laid}<OwnRows part={laid} rows={rowsOfPart(item.part)} />{/if}
          {:else}
            {@const laid = part(item.part)}
            {#if laid}<PushRows
                part={laid}
                rows={byAddress}
                open={!!opened[item.part.split('#')[1] ?? item.part]}
                onopen={() => toggle(item.part.split('#')[1] ?? item.part)}
                hidden={off}
              />{/if}
          {/if}
        {/each}
        {#if band.key === 'shaping'}
          {#if others.length}<PlainRow
              label="Moved also by"
              help="Shapings of other emitters that move all, after its own."
            >
              {#each others as { of, shaping } (shaping.uid)}<button
                  type="button"
                  class="text-xs text-quiet underline decoration-dotted hover:text-paper"
                  title="Go there"
                  onclick={() => chooseEmitter(desk, of.uid)}
                  >{catalog.part(of, `shaping.#${shaping.uid}`)?.label} of {of.name}</button
                >{/each}
            </PlainRow>{/if}
          {#if draft.document.retiming}{@render times('retiming', true)}{/if}
          {#if draft.document.loop}{@render times('loop', true)}{/if}
        {/if}
        {#if band.key === 'motion' && !band.items.some((item) => item.part)}<p class="px-3.5 py-1 text-quiet">
            Nothing pushes these particles yet: they fly on as launched.
          </p>{/if}
      {/each}
    </div>
  {/if}
</div>
