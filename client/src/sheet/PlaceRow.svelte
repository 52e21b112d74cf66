<!-- Where births happen: a shape of the emitter's own, a prop with how dense a picture makes them, or other particles. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog'
  import OwnCurve from '../response/OwnCurve.svelte'
  import PlainRow from './PlainRow.svelte'

  let { open, onopen, radius }: {
    open: boolean
    onopen: () => void
    /** The radius, where it can be changed here. */
    radius: PlacedRow | undefined
  } = $props()
  const { draft, player, catalog } = useDesk()
  const place = $derived(draft.emitter.births.place)
  const spec = $derived(catalog.data.places.find((p) => p.kind === place.kind)!)
  const bearers = $derived((draft.document.props ?? []).filter((p) => catalog.data.births_on[p.kind]?.length))
  const prop = $derived(place.kind === 'prop' ? (draft.document.props ?? []).find((p) => p.uid === place.prop) : undefined)
  const pictures = $derived((draft.document.props ?? []).filter((p) => p.kind === 'picture'))
  const parents = $derived(draft.document.emitters.filter((e) => e.uid !== draft.emitter.uid && !comesFrom(e.uid)))
  const on = $derived(place.kind === 'prop' ? (catalog.data.births_on[prop?.kind ?? ''] ?? []) : Object.keys(spec.on))
  const path = $derived(draft.inEmitter(['births', 'place']))
  const density = $derived(place.kind === 'prop' ? place.density : null)

  /** Whether an emitter's particles come from the current one's, through however many others. */
  function comesFrom(uid: string): boolean {
    for (let i = 0, at: string | undefined = uid; at && i < 8; i++) {
      const from = draft.document.emitters.find((e) => e.uid === at)?.births.place
      at = from?.kind === 'particles' ? from.emitter : undefined
      if (at === draft.emitter.uid) return true
    }
    return false
  }
  function choose(kind: string) {
    const template = structuredClone(catalog.data.places.find((p) => p.kind === kind)!.template) as Record<string, unknown>
    const old = place as unknown as Record<string, unknown>
    for (const name of Object.keys(template)) if (name !== 'kind' && old[name] !== undefined) template[name] = old[name]
    if (kind === 'prop') return draft.edit(`Give birth on ${bearers[0].name}`, path, { ...template, prop: bearers[0].uid, on: catalog.data.births_on[bearers[0].kind][0], density: null })
    if (kind === 'particles') {
      const births = { ...draft.emitter.births, place: { ...template, emitter: parents[0].uid }, bursts: [] }
      return draft.edit(`Give birth from ${parents[0].name}`, draft.inEmitter(['births']), births)
    }
    const where = catalog.data.places.find((p) => p.kind === kind)!.on
    draft.edit(`Give birth ${kind === 'point' ? 'at a point' : `on a ${kind}`}`, path, { ...template, ...(old.on && String(old.on) in where ? { on: old.on } : {}) })
  }
  function chooseProp(uid: string) {
    const next = bearers.find((p) => p.uid === uid)!
    const fits = catalog.data.births_on[next.kind]
    draft.edit(`Give birth on ${next.name}`, path, { ...place, prop: uid, on: fits.includes((place as { on: string }).on) ? (place as { on: string }).on : fits[0], ...(next.kind === 'path' || next.kind === 'points' ? { density: null } : {}) })
  }
  const setDensity = (change: Record<string, unknown> | null, label: string) => draft.edit(label, [...path, 'density'], change && { channel: 'luminance', invert: false, curve: null, ...density, ...change })
</script>

<PlainRow label="Place" help="The shape on or in which particles are born, a prop, or other particles." opens={place.kind === 'prop' ? 'offset' : place.kind === 'particles' ? 'what is inherited' : 'centre and extent'} {open} {onopen}>
  <Choice label="Place" value={place.kind} onpick={choose} options={catalog.data.places
    .filter((p) => p.kind === place.kind || (p.kind !== 'prop' && p.kind !== 'particles') || (p.kind === 'prop' ? bearers.length : parents.length))
    .map((p) => ({ value: p.kind, name: p.label }))} />
  {#if place.kind === 'prop'}
    <Choice label="Which prop" value={place.prop} options={[...(prop ? [] : [{ value: place.prop, name: 'missing prop' }]), ...bearers.map((p) => ({ value: p.uid, name: p.name }))]} onpick={chooseProp} />
  {:else if place.kind === 'particles'}
    <span class="text-quiet">of</span>
    <Choice label="Whose particles" value={place.emitter} options={draft.document.emitters.filter((e) => e.uid === place.emitter || parents.includes(e)).map((e) => ({ value: e.uid, name: e.name }))} onpick={(uid) => draft.edit('Give birth from others', [...path, 'emitter'], uid)} />
    <span class="text-xs text-quiet">the rate is of each</span>
  {/if}
  {#if 'on' in place && on.length}
    <Choice label="Where on it" options={on.map((value) => ({ value, name: spec.on[value] }))} value={place.on ?? 'inside'} onpick={(value) => draft.edit(`Give birth ${spec.on[value]}`, path, { ...place, on: value, ...('density' in place && value !== 'surface' && value !== 'points' ? { density: null } : {}) })} />
  {/if}
  {#if place.kind === 'prop' && (place.on === 'surface' || place.on === 'points') && prop?.kind !== 'path' && prop?.kind !== 'points' && pictures.length}
    <span class="text-quiet">as dense as</span>
    <Choice label="Picture of how dense births are" value={density?.picture ?? ''} options={[{ value: '', name: 'everywhere' }, ...pictures.map((p) => ({ value: p.uid, name: p.name }))]} onpick={(uid) => setDensity(uid ? { picture: uid } : null, uid ? 'Give birth by a picture' : 'Give birth everywhere alike')} />
    {#if density}
      <Choice label="Channel" value={density.channel ?? 'luminance'} options={['luminance', 'red', 'green', 'blue', 'alpha'].map((c) => ({ value: c, name: c }))} onpick={(channel) => setDensity({ channel }, 'Change the channel')} />
      <label class="flex items-center gap-1 text-xs"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={density.invert} onchange={(e) => setDensity({ invert: e.currentTarget.checked }, 'Invert the picture')} />inverted</label>
    {/if}
  {/if}
  {#if place.kind === 'prop'}
    <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" title="Colour the prop on the stage by where births are" onclick={() => player.showField(player.field.endsWith(draft.emitter.uid) ? '' : `${density ? 'density' : 'keep'}:${draft.emitter.uid}`)}>{player.field.endsWith(draft.emitter.uid) ? 'hide it' : 'show it'}</button>
  {/if}
  {#if 'radius' in place && radius}
    <span class="text-quiet">radius</span>
    <NumberField value={place.radius.base as number} unit={radius.spec.unit} label="Radius" lowest={radius.spec.lowest} highest={radius.spec.highest} drag={radius.spec.drag} reset={radius.spec.default as number}
      ondrag={(v) => draft.drag(draft.inEmitter([...radius.path, 'base']), v)} onset={(v) => draft.edit('Change radius', draft.inEmitter([...radius.path, 'base']), v)} />
  {/if}
</PlainRow>
{#if open && density}
  <PlainRow label="Density" help="From the channel's value to how dense births are." inner>
    <OwnCurve curve={density.curve} label="by the {density.channel}" across="the {density.channel}, from 0 to 1" ondrag={(curve) => draft.drag([...path, 'density', 'curve'], curve)} onset={(curve, label) => setDensity({ curve }, label)} />
  </PlainRow>
{/if}
