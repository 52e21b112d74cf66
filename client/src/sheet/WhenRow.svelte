<!-- When births happen and how many: start, duration, again and again, at most; in seconds or frames as the clip has times shown. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import { useDesk } from '../effect/context'
  import { momentTimes, runsFrom, type When } from '../effect/moments'
  import { framesASecond } from '../effect/rate'
  import PlainRow from './PlainRow.svelte'

  const { draft, player, catalog } = useDesk()
  const births = $derived(draft.emitter.births as typeof draft.emitter.births & When)
  const moments = $derived(draft.document.moments ?? [])
  const rate = $derived(framesASecond(draft.document.clip))
  const unit = { symbol: 's', scale: 1, digits: 2 }
  const clipSeconds = $derived((player.clip.last_frame - player.clip.first_frame) / rate)
  const moving = $derived((draft.document.props ?? []).filter((p) => catalog.is(p, 'placed')))
  const onProp = $derived(moving.find((p) => p.uid === births.place.prop))
  const lasts = $derived.by(() => {
    const { from, to } = runsFrom(draft.emitter, momentTimes(draft.document))
    return (to ?? clipSeconds) - from
  })
  const at = (name: string) => draft.inEmitter(['births', name])
  const descended = $derived(catalog.is(draft.emitter, 'parted', 'births.place'))
  /** There are so many, each once: no rate says how many. */
  const counted = $derived(catalog.is(draft.emitter, 'counted', 'births.place'))
  const link = 'border-b border-dotted border-edge hover:border-paper'
  const less = 'text-xs text-quiet underline decoration-dotted hover:text-paper'
</script>

<PlainRow
  label="How many"
  help="Whether the rate counts by the second, the frame or the metre of a prop’s way, and how many births there are at most."
>
  {#if counted}<span>each part once</span>{:else}
    <span class="text-quiet">the rate is</span>
    <Segments
      label="The rate is"
      value={births.per ?? 'second'}
      options={[
        { value: 'second', label: 'per second' },
        { value: 'frame', label: 'per frame' },
        { value: 'metre', label: 'per metre' },
      ]}
      onpick={(per) =>
        draft.edit(`Count births by the ${per}`, draft.inEmitter(['births']), {
          ...births,
          per,
          going: per === 'metre' ? (births.going ?? (onProp ? null : (moving[0]?.uid ?? null))) : null,
        })}
    />
    {#if births.per === 'metre'}
      <span class="text-quiet">of the way of</span>
      <Choice
        label="Whose way counts"
        value={births.going ?? ''}
        options={[
          { value: '', name: onProp ? `${onProp.name}, where they are born` : 'choose one' },
          ...moving.map((p) => ({ value: p.uid, name: p.name })),
        ]}
        onpick={(uid) => draft.edit('Change whose way births count by', at('going'), uid || null)}
      />
    {/if}
  {/if}
  {#if births.limit == null}
    <button
      type="button"
      class={link}
      title="Click to set how many births there are at most"
      onclick={() => draft.edit('Limit the births', at('limit'), descended ? 10 : 500)}>no limit</button
    >
  {:else}
    <span class="text-quiet">at most</span>
    <NumberField
      value={births.limit}
      unit={{ symbol: descended ? 'from each' : 'in all', scale: 1, digits: 0 }}
      label="Most births"
      whole
      lowest={0}
      highest={5000000}
      drag={200}
      ondrag={(v) => draft.drag(at('limit'), v)}
      onset={(v) => draft.edit('Change how many births at most', at('limit'), v)}
    />
    <button type="button" class={less} onclick={() => draft.edit('Lift the limit', at('limit'), null)}>no limit</button>
  {/if}
</PlainRow>
<PlainRow label="When" help="From when to when the rate gives births. Bursts have frames of their own.">
  <span class="text-quiet">from</span>
  <NumberField
    value={births.start ?? 0}
    {unit}
    label="Start of births"
    lowest={births.after ? -100000 : 0}
    highest={100000}
    drag={2}
    reset={0}
    ondrag={(v) => draft.drag(at('start'), v)}
    onset={(v) => draft.edit('Change when births start', at('start'), v)}
  />
  {#if moments.length}
    <Choice
      label="Births start after"
      value={births.after ?? ''}
      options={[
        { value: '', name: 'the clip’s start' },
        ...moments.map((m) => ({ value: m.uid, name: `after ${m.name}` })),
      ]}
      onpick={(uid) =>
        draft.edit('Change what births start after', draft.inEmitter(['births']), {
          ...births,
          after: uid || null,
          start: 0,
        })}
    />
    <Choice
      label="Births end"
      value={births.until ?? (births.duration == null ? '' : 'for')}
      options={[
        { value: '', name: 'to the end' },
        { value: 'for', name: 'for a time' },
        ...moments.map((m) => ({ value: m.uid, name: `until ${m.name}` })),
      ]}
      onpick={(chosen) =>
        draft.edit('Change when births end', draft.inEmitter(['births']), {
          ...births,
          until: chosen && chosen !== 'for' ? chosen : null,
          duration: chosen === 'for' ? Math.max(lasts, 1 / rate) : null,
          every: chosen === 'for' ? (births.every ?? null) : null,
        })}
    />
  {/if}
  {#if !births.until && births.duration == null}
    {#if !moments.length}<button
        type="button"
        class={link}
        title="Births go on to the clip's end. Click to give them a duration."
        onclick={() =>
          draft.edit('Give births a duration', at('duration'), Math.max(clipSeconds - (births.start ?? 0), 1 / rate))}
        >to the end</button
      >{/if}
  {:else if !births.until && births.duration != null}
    {#if !moments.length}<span class="text-quiet">for</span>{/if}
    <NumberField
      value={births.duration}
      {unit}
      label="Duration of births"
      lowest={0.001}
      highest={100000}
      drag={2}
      ondrag={(v) => draft.drag(at('duration'), v)}
      onset={(v) => draft.edit('Change how long births last', at('duration'), v)}
    />
    {#if !moments.length}<button
        type="button"
        class={less}
        onclick={() => draft.edit('Let births go on to the end', at('duration'), null)}>to the end</button
      >{/if}
    {#if births.every == null}
      <button
        type="button"
        class={link}
        title="It runs once. Click to let it run again and again."
        onclick={() => draft.edit('Run again and again', at('every'), 2 * births.duration!)}>once</button
      >
    {:else}
      <span class="text-quiet">again every</span>
      <NumberField
        value={births.every}
        {unit}
        label="Again every"
        lowest={0.001}
        highest={100000}
        drag={2}
        ondrag={(v) => draft.drag(at('every'), v)}
        onset={(v) => draft.edit('Change how often it runs', at('every'), v)}
      />
      <button type="button" class={less} onclick={() => draft.edit('Run once', at('every'), null)}>once</button>
    {/if}
  {/if}
  {#if !descended}
    <Choice
      label="When each is born"
      value={births.when ?? 'rate'}
      options={[
        { value: 'rate', name: counted ? 'all at once' : 'as the rate has it' },
        { value: 'each', name: 'each at its own time' },
      ]}
      onpick={(when) =>
        draft.edit(when === 'each' ? 'Let each begin at its own time' : 'Let the rate say when', at('when'), when)}
    />
  {/if}
</PlainRow>
