<!-- The sheet: the current emitter's rows as sentences, in working order. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import Segments from '../controls/Segments.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { withUnit } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog'
  import { useDesk } from '../effect/context'
  import { addForce, removeForce } from '../effect/edits'
  import { newUid } from '../effect/path'
  import Band from './Band.svelte'
  import BurstRows from './BurstRows.svelte'
  import PlainRow from './PlainRow.svelte'
  import SheetRow from './SheetRow.svelte'
  import WhenRow from './WhenRow.svelte'

  const { draft, player, catalog, selection } = useDesk()
  let opened = $state<Record<string, boolean>>({})
  const rows = $derived(catalog.rowsOf(draft.emitter))
  const find = (address: string) => rows.find((r) => r.address === address)
  const driven = (row: PlacedRow | undefined) => !!row && ((row.row.responses?.length ?? 0) > 0 || selection.found?.placed.address === row.address)
  const place = $derived(draft.emitter.births.place)
  const placeSpec = $derived(catalog.data.places.find((p) => p.kind === place.kind)!)
  const placeRows = $derived(rows.filter((r) => r.spec.key.startsWith('births.place.')))
  const launchRows = $derived(rows.filter((r) => r.spec.key === 'births.launch.direction' || r.spec.key === 'births.launch.cone'))
  const forces = $derived(
    (draft.emitter.forces ?? []).map((force) => {
      const own = rows.filter((r) => r.force?.uid === force.uid)
      return { force, first: own[0], rest: own.slice(1), label: catalog.data.forces.find((f) => f.kind === force.kind)!.label }
    }),
  )
  const lifespan = $derived(player.profile(draft.emitter.uid)?.lifespan)
  const toggle = (name: string) => (opened[name] = !opened[name])

  function choosePlace(kind: string) {
    const template = structuredClone(catalog.data.places.find((p) => p.kind === kind)!.template) as Record<string, unknown>
    const old = place as unknown as Record<string, unknown>
    for (const name of Object.keys(template)) if (name !== 'kind' && old[name] !== undefined) template[name] = old[name]
    draft.edit(`Give birth ${kind === 'point' ? 'at a point' : `on a ${kind}`}`, draft.inEmitter(['births', 'place']), { ...template, ...(old.on && kind !== 'point' ? { on: old.on } : {}) })
  }
  function addBurst() {
    const bursts = draft.emitter.births.bursts ?? []
    draft.edit('Add a burst', draft.inEmitter(['births', 'bursts']), [...bursts, { uid: newUid(), frame: player.frame, count: 50 }])
  }
</script>

<section class="flex h-full min-h-0 flex-col bg-panel" aria-label="Sheet" data-part="sheet">
  <div class="flex h-10 shrink-0 items-end gap-0.5 border-b border-line px-3" role="tablist" aria-label="Emitters">
    {#each draft.document.emitters as emitter, i (emitter.uid)}
      <button
        role="tab" aria-selected={emitter === draft.emitter} onclick={() => (draft.emitterIndex = i)}
        class="px-3 pt-2 pb-[9px] {emitter === draft.emitter ? 'text-paper shadow-[inset_0_-2px_var(--color-paper)]' : 'text-quiet hover:text-paper'}"
      >{emitter.name} <span class="mono ml-1 text-[11px] text-quiet">{player.shown?.emitters.find((e) => e.uid === emitter.uid)?.count ?? 0}</span></button>
    {/each}
  </div>
  <div class="min-h-0 flex-1 overflow-y-auto pb-1">
    <Band name="births" adds={[{ label: 'Burst', add: addBurst }]} />
    <SheetRow placed={find('births.rate')!} />
    <WhenRow />
    <BurstRows />
    <PlainRow label="Place" help="The shape on or in which particles are born." opens="centre and extent" open={opened.place} onopen={() => toggle('place')}>
      <Choice label="Place" options={catalog.data.places.map((p) => ({ value: p.kind, name: p.label }))} value={place.kind} onpick={choosePlace} />
      {#if 'on' in place}
        <Choice label="Where on it" options={Object.entries(placeSpec.on).map(([value, name]) => ({ value, name }))} value={place.on ?? 'inside'} onpick={(on) => draft.edit(`Give birth ${placeSpec.on[on]}`, draft.inEmitter(['births', 'place', 'on']), on)} />
      {/if}
      {#if 'radius' in place && !opened.place && !driven(find('births.place.radius'))}
        {@const radius = find('births.place.radius')!}
        <span class="text-quiet">radius</span>
        <NumberField value={place.radius.base} unit={radius.spec.unit} label="Radius" lowest={radius.spec.lowest} highest={radius.spec.highest} drag={radius.spec.drag} reset={radius.spec.default as number}
          ondrag={(v) => draft.drag(draft.inEmitter([...radius.path, 'base']), v)} onset={(v) => draft.edit('Change radius', draft.inEmitter([...radius.path, 'base']), v)} />
      {/if}
    </PlainRow>
    {#each placeRows as row (row.address)}
      {#if opened.place || driven(row)}<SheetRow placed={row} inner />{/if}
    {/each}
    <SheetRow placed={find('births.lifespan')!} />
    <SheetRow placed={find('births.launch.speed')!} opens="direction and cone" open={opened.launch} onopen={() => toggle('launch')} />
    {#each launchRows as row (row.address)}
      {#if opened.launch || driven(row)}<SheetRow placed={row} inner />{/if}
    {/each}

    <Band name="motion" adds={catalog.data.forces.map((f) => ({ label: f.label, add: () => void (opened[addForce(draft, catalog, f.kind)] = f.kind === 'wind') }))} />
    {#each forces as { force, first, rest, label } (force.uid)}
      <SheetRow placed={first} opens={rest.length ? `all of ${label.toLowerCase()}` : undefined} open={opened[force.uid]} onopen={() => toggle(force.uid)} onremove={() => removeForce(draft, force, label)} />
      {#each rest as row (row.address)}
        {#if opened[force.uid] || driven(row)}<SheetRow placed={row} inner />{/if}
      {/each}
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

    <Band name="look" />
    <SheetRow placed={find('look.size')!} />
    <SheetRow placed={find('look.opacity')!} />
    <SheetRow placed={find('look.colour')!} />
    <PlainRow label="Drawn" help="How a particle's picture meets what lies behind it.">
      <span class="text-quiet">as soft discs,</span>
      <Segments label="Blending" value={draft.emitter.look.blend ?? 'over'} options={[{ value: 'over', label: 'laid over', title: 'Covers what lies behind by its opacity' }, { value: 'add', label: 'adding light', title: 'Adds its light and covers nothing' }]}
        onpick={(blend) => draft.edit(blend === 'add' ? 'Add light' : 'Lay over', draft.inEmitter(['look', 'blend']), blend)} />
    </PlainRow>

    <Band name="endings" />
    <PlainRow label="At lifespan" help="A particle ends when its age reaches its lifespan.">
      <span class="text-quiet">always{lifespan ? `, after ${withUnit(lifespan[0], { symbol: 's', scale: 1, digits: 1 })} to ${withUnit(lifespan[2], { symbol: 's', scale: 1, digits: 1 })}` : ''}</span>
    </PlainRow>
  </div>
</section>
