<!-- The sheet: the current emitter's rows as sentences, in working order. A band shows the rows in use; one list adds more. -->
<script lang="ts">
  import Segments from '../controls/Segments.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { withUnit } from '../controls/numbers'
  import { inUse, isSourced, sourceKey, type PlacedRow } from '../effect/catalog'
  import { useDesk } from '../effect/context'
  import { addDraw, addForce, addOwn, removeForce, shelve } from '../effect/edits'
  import { newUid } from '../effect/path'
  import Band from './Band.svelte'
  import BurstRows from './BurstRows.svelte'
  import DrawRows from './DrawRows.svelte'
  import LaunchRow from './LaunchRow.svelte'
  import OwnRows from './OwnRows.svelte'
  import PlaceRow from './PlaceRow.svelte'
  import PlainRow from './PlainRow.svelte'
  import RegionRow from './RegionRow.svelte'
  import SheetRow from './SheetRow.svelte'
  import ThinningRow from './ThinningRow.svelte'
  import WhenRow from './WhenRow.svelte'

  const { draft, player, catalog, selection } = useDesk()
  let opened = $state<Record<string, boolean>>({})
  let showHidden = $state<Record<string, boolean>>({})
  const rows = $derived(catalog.rowsOf(draft.emitter).filter((r) => !r.unused || r.spec.band === 'draws' || r.spec.band === 'own'))
  const find = (address: string) => rows.find((r) => r.address === address)
  const driven = (row: PlacedRow | undefined) => !!row && ((row.row.responses?.length ?? 0) > 0 || isSourced(row.row.base) || selection.found?.placed.address === row.address)
  const shelf = $derived({ added: draft.emitter.sheet?.added ?? [], pinned: draft.emitter.sheet?.pinned ?? [], hidden: draft.emitter.sheet?.hidden ?? [] })
  const pinned = $derived(shelf.pinned.map(find).filter((r): r is PlacedRow => !!r))
  const off = (row: PlacedRow) => shelf.hidden.includes(row.address) && !showHidden[row.spec.band]
  const hiddenIn = (band: string) => (showHidden[band] ? 0 : rows.filter((r) => r.spec.band === band && shelf.hidden.includes(r.address)).length)
  /** Whether an optional row stands in the sheet. */
  const stands = (row: PlacedRow | undefined) => !!row && !off(row) && (row.spec.always || inUse(row) || shelf.added.includes(row.address) || selection.found?.placed.address === row.address)
  const placeRows = $derived(rows.filter((r) => r.spec.key.startsWith('births.place.')))
  const launchRows = $derived(rows.filter((r) => r.spec.key.startsWith('births.launch.') && r.spec.key !== 'births.launch.speed'))
  const forces = $derived(
    (draft.emitter.forces ?? []).map((force) => {
      const own = rows.filter((r) => r.force?.uid === force.uid)
      return { force, first: own[0], rest: own.slice(1), label: catalog.data.forces.find((f) => f.kind === force.kind)!.label }
    }),
  )
  const lifespan = $derived(player.profile(draft.emitter.uid)?.lifespan)
  const toggle = (name: string) => (opened[name] = !opened[name])
  /** Rows that the loom's chosen column drives. */
  const filtered = $derived(selection.filter === null ? null : catalog.allRows(draft.emitter).filter((r) => (r.row.responses ?? []).some((x) => sourceKey(x.source) === selection.filter)))
  const filterName = $derived.by(() => {
    const response = filtered?.flatMap((r) => r.row.responses ?? []).find((r) => sourceKey(r.source) === selection.filter)
    return response ? catalog.sourceName(draft.emitter, response.source) : ''
  })

  const optional = (band: string) => rows.filter((r) => r.spec.band === band && !r.spec.always && !r.force && !r.spec.key.includes('place') && !r.spec.key.includes('launch') && !r.spec.key.startsWith('thinning') && r.spec.key !== 'births.begins' && !stands(r))
  const rowAdds = (band: string) =>
    optional(band).map((r) => ({ label: r.label, group: 'rows', help: r.spec.help, act: () => shelve(draft, 'added', r.address, true, `Add ${r.label.toLowerCase()}`) }))

  function addBurst() {
    const bursts = draft.emitter.births.bursts ?? []
    draft.edit('Add a burst', draft.inEmitter(['births', 'bursts']), [...bursts, { uid: newUid(), frame: player.frame, count: 50 }])
  }
</script>

<div class="flex min-h-0 flex-1 flex-col" data-part="rows">
  {#if filtered}
    <div class="flex shrink-0 items-center gap-2 border-b border-line bg-raised px-3.5 py-1.5">
      <span>Only what <b>{filterName}</b> drives: {filtered.length} {filtered.length === 1 ? 'row' : 'rows'}</span>
      <button type="button" class="ml-auto text-quiet underline decoration-dotted hover:text-paper" onclick={() => (selection.filter = null)}>show all rows</button>
    </div>
    <div class="min-h-0 flex-1 overflow-y-auto py-1">
      {#each filtered as row (row.address)}<SheetRow placed={row} />{/each}
    </div>
  {:else}
  {#if pinned.length}
    <div class="max-h-[40%] shrink-0 overflow-y-auto border-b border-line bg-ink/40 py-1" aria-label="Pinned rows" role="group">
      {#each pinned as row (row.address)}<SheetRow placed={row} />{/each}
    </div>
  {/if}
  <div class="min-h-0 flex-1 overflow-y-auto pb-1">
    <Band name="births" hidden={hiddenIn('births')} onshow={() => (showHidden.births = true)} adds={[{ label: 'Burst', group: 'births', help: 'Particles that are born together, at a frame of the clip.', act: addBurst }, ...rowAdds('births')]} />
    {#if !off(find('births.rate')!)}<SheetRow placed={find('births.rate')!} />{/if}
    <WhenRow />
    {#if draft.emitter.births.place.kind !== 'particles'}<BurstRows />{/if}
    <PlaceRow open={!!opened.place} onopen={() => toggle('place')} radius={!opened.place && !driven(find('births.place.radius')) ? find('births.place.radius') : undefined} />
    {#each placeRows as row (row.address)}
      {#if opened.place || driven(row)}<SheetRow placed={row} inner />{/if}
    {/each}
    {#if !off(find('births.lifespan')!)}<SheetRow placed={find('births.lifespan')!} />{/if}
    <LaunchRow open={!!opened.launch} onopen={() => toggle('launch')} />
    {#if find('births.launch.speed') && !off(find('births.launch.speed')!)}<SheetRow placed={find('births.launch.speed')!} />{/if}
    {#each launchRows as row (row.address)}
      {#if opened.launch || driven(row) || row.spec.key === 'births.launch.multiplier' || row.spec.key === 'births.launch.offset'}<SheetRow placed={row} inner />{/if}
    {/each}
    {#if find('births.begins')}<SheetRow placed={find('births.begins')!} />{/if}
    {#each ['births.keep', 'births.mass', 'births.rotation'] as address}
      {#if stands(find(address))}<SheetRow placed={find(address)!} />{/if}
    {/each}

    <Band name="motion" hidden={hiddenIn('motion')} onshow={() => (showHidden.motion = true)} adds={[...catalog.data.forces.map((f) => ({ label: f.label, group: 'forces', act: () => void (opened[addForce(draft, catalog, f.kind)] = f.kind === 'wind') })), ...rowAdds('motion')]} />
    {#each forces as { force, first, rest, label } (force.uid)}
      {#if !off(first)}<SheetRow placed={first} opens={rest.length ? `all of ${label.toLowerCase()}` : 'its region'} open={opened[force.uid]} onopen={() => toggle(force.uid)} onremove={() => removeForce(draft, force, label)} />{/if}
      {#each rest as row (row.address)}
        {#if opened[force.uid] || driven(row)}<SheetRow placed={row} inner />{/if}
      {/each}
      {#if opened[force.uid] || (draft.document.props ?? []).some((p) => p.kind === 'mask' && JSON.stringify(force).includes(`"mask":"${p.uid}"`))}
        <RegionRow placed={force.kind === 'wind' ? (rest.find((r) => r.spec.key.endsWith('.coupling')) ?? first) : first} {label} />
      {/if}
      {#if force.kind === 'curl_noise' && opened[force.uid]}
        <PlainRow label="Octaves" help="Finer swirls on top of the coarse ones, each half as strong." inner>
          <NumberField value={force.octaves ?? 1} unit={{ symbol: '', scale: 1, digits: 0 }} label="Octaves" whole lowest={1} highest={6} drag={6} reset={1}
            ondrag={(v) => draft.drag(draft.inEmitter(['forces', draft.emitter.forces!.indexOf(force), 'octaves']), v)}
            onset={(v) => draft.edit('Change octaves', draft.inEmitter(['forces', draft.emitter.forces!.indexOf(force), 'octaves']), v)} />
        </PlainRow>
      {/if}
    {:else}
      <p class="px-3.5 py-1 text-quiet">Nothing pushes these particles yet: they fly on as launched.</p>
    {/each}
    {#each ['motion.spin', 'motion.grip'] as address}
      {#if stands(find(address))}<SheetRow placed={find(address)!} />{/if}
    {/each}

    <Band name="look" hidden={hiddenIn('look')} onshow={() => (showHidden.look = true)} adds={[...(draft.emitter.thinning ? [] : [{ label: 'Thinning', group: 'rows', help: 'Fewer are shown further from a camera or prop, and none outside its view.', act: () => draft.edit('Thin out by distance', draft.inEmitter(['thinning']), structuredClone(catalog.data.thinning)) }]), ...rowAdds('look')]} />
    {#each ['look.size', 'look.stretch', 'look.opacity', 'look.colour'] as address}
      {#if stands(find(address))}<SheetRow placed={find(address)!} />{/if}
    {/each}
    <PlainRow label="Drawn" help="How a particle's picture meets what lies behind it.">
      <span class="text-quiet">as soft discs,</span>
      <Segments label="Blending" value={draft.emitter.look.blend ?? 'over'} options={[{ value: 'over', label: 'laid over', title: 'Covers what lies behind by its opacity' }, { value: 'add', label: 'adding light', title: 'Adds its light and covers nothing' }]}
        onpick={(blend) => draft.edit(blend === 'add' ? 'Add light' : 'Lay over', draft.inEmitter(['look', 'blend']), blend)} />
    </PlainRow>

    {#if draft.emitter.thinning}
      <ThinningRow />
      {#each ['thinning.outer', 'thinning.inner', 'thinning.margin'] as address}
        {#if find(address)}<SheetRow placed={find(address)!} inner />{/if}
      {/each}
    {/if}

    <Band name="endings" />
    <PlainRow label="At lifespan" help="A particle ends when its age reaches its lifespan.">
      <span class="text-quiet">always{lifespan ? `, after ${withUnit(lifespan[0], { symbol: 's', scale: 1, digits: 1 })} to ${withUnit(lifespan[2], { symbol: 's', scale: 1, digits: 1 })}` : ''}</span>
    </PlainRow>

    <Band name="draws" adds={catalog.data.draws.map((d) => ({ label: `Draw: ${d.label}`, group: 'random, once a particle', help: d.help, act: () => addDraw(draft, catalog, d.kind) }))} />
    <DrawRows rows={rows.filter((r) => r.spec.band === 'draws')} />
    <Band name="own attributes" adds={[
      { label: 'Counter', group: 'with memory', help: 'A number that grows or falls by so much a second.', act: () => addOwn(draft, 'number', true) },
      { label: 'Running place', group: 'with memory', help: 'Three numbers that change by so much a second.', act: () => addOwn(draft, 'vector', true) },
      { label: 'Number', group: 'set at birth', help: 'A number a particle keeps from its birth.', act: () => addOwn(draft, 'number', false) },
      { label: 'Vector', group: 'set at birth', help: 'Three numbers a particle keeps from its birth.', act: () => addOwn(draft, 'vector', false) },
      { label: 'Colour', group: 'set at birth', help: 'A colour a particle keeps from its birth.', act: () => addOwn(draft, 'colour', false) },
    ]} />
    <OwnRows rows={rows.filter((r) => r.spec.band === 'own')} />
  </div>
  {/if}
</div>
