<!-- Where births happen: a shape of the emitter's own, a prop with how dense a picture makes them, or other particles. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { changeKind } from '../effect/edits'
  import OwnCurve from '../response/OwnCurve.svelte'
  import type { Part } from '../wire/types'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'

  let {
    open,
    onopen,
    radius,
  }: {
    open: boolean
    onopen: () => void
    /** The radius, where it can be changed here. */
    radius: PlacedRow | undefined
  } = $props()
  const { draft, player, catalog } = useDesk()
  const place = $derived(draft.emitter.births.place)
  const part = $derived(catalog.part(draft.emitter, 'births.place'))
  const density = $derived(place.density as Part | null | undefined)
  const densityPart = $derived(density ? catalog.part(draft.emitter, 'births.place.density') : undefined)
  const path = $derived(draft.inEmitter(['births', 'place']))
  const field = (name: string) => part?.fields.find((f) => f.offered.name === name)
  const on = $derived(field('on'))
  /** The pictures that can say how dense births are here. */
  const dense = $derived(field('density')?.offered)
  const parted = $derived(catalog.is(draft.emitter, 'parted', 'births.place'))

  function choose(kind: string) {
    const offer = part!.kinds.find((k) => k.kind === kind)!
    changeKind(draft, offer, `Place births: ${offer.label.toLowerCase()}`)
  }
  const setDensity = (change: Record<string, unknown> | null, label: string) =>
    draft.edit(
      label,
      [...path, 'density'],
      change && { channel: 'luminance', invert: false, curve: null, ...density, ...change },
    )
</script>

<PlainRow
  label="Place"
  help="The shape on or in which particles are born, a prop, or other particles."
  opens={catalog.is(draft.emitter, 'bears', 'births.place')
    ? 'offset'
    : parted
      ? 'what is inherited'
      : 'centre and extent'}
  {open}
  {onopen}
>
  {#if part}
    <Choice
      label="Place"
      value={place.kind}
      onpick={choose}
      options={part.kinds.filter((k) => k.kind === place.kind || !k.why).map((k) => ({ value: k.kind, name: k.label }))}
    />
    {#each part.fields.filter((f) => f.offered.name !== 'on' && f.offered.name !== 'density') as each (each.offered.name)}
      {#if parted}<span class="text-quiet">of</span>{/if}
      {#if ['number', 'whole'].includes(each.offered.kind)}<span class="flex items-center gap-1.5"
          ><span class="text-quiet">{each.offered.label.toLowerCase()}</span><FieldControl field={each} /></span
        >{:else}<FieldControl field={each} />{/if}
      {#if parted}<span class="text-xs text-quiet">the rate is of each</span>{/if}
    {/each}
    {#if on?.offered.options.length}
      <Choice
        label="Where on it"
        options={on.offered.options.map((o) => ({ value: String(o.value), name: o.label }))}
        value={String(place.on ?? on.offered.options[0].value)}
        onpick={(value) =>
          draft.edit(`Give birth ${on.offered.options.find((o) => o.value === value)!.label}`, path, {
            ...place,
            on: value,
            ...(density && value !== 'surface' && value !== 'points' ? { density: null } : {}),
          })}
      />
    {/if}
    {#if dense?.options.length}
      <span class="text-quiet">{dense.label}</span>
      <Choice
        label="Picture of how dense births are"
        value={density?.picture ?? ''}
        options={[
          { value: '', name: dense.nothing },
          ...dense.options.map((p) => ({ value: String(p.value), name: p.label })),
        ]}
        onpick={(uid) =>
          setDensity(uid ? { picture: uid } : null, uid ? 'Give birth by a picture' : 'Give birth everywhere alike')}
      />
      {#each (densityPart?.fields ?? []).filter((f) => f.offered.kind !== 'curve' && f.offered.kind !== 'reference') as each (each.offered.name)}<FieldControl
          field={each}
        />{/each}
    {/if}
    {#if place.prop}
      <button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        title="Colour the prop on the stage by where births are"
        onclick={() =>
          player.showField(
            player.field.endsWith(draft.emitter.uid) ? '' : `${density ? 'density' : 'keep'}:${draft.emitter.uid}`,
          )}>{player.field.endsWith(draft.emitter.uid) ? 'hide it' : 'show it'}</button
      >
    {/if}
  {/if}
  {#if radius}
    <span class="text-quiet">radius</span>
    <NumberField
      value={place.radius.base as number}
      unit={radius.spec.unit}
      label="Radius"
      lowest={radius.spec.lowest}
      highest={radius.spec.highest}
      drag={radius.spec.drag}
      reset={radius.spec.default as number}
      ondrag={(v) => draft.drag(draft.inEmitter([...radius.path, 'base']), v)}
      onset={(v) => draft.edit('Change radius', draft.inEmitter([...radius.path, 'base']), v)}
    />
  {/if}
</PlainRow>
{#if open && density}
  <PlainRow label="Density" help="From the channel's value to how dense births are." inner>
    <OwnCurve
      curve={density.curve}
      label="by the {density.channel}"
      across="the {density.channel}, from 0 to 1"
      ondrag={(curve) => draft.drag([...path, 'density', 'curve'], curve)}
      onset={(curve, label) => setDensity({ curve }, label)}
    />
  </PlainRow>
{/if}
