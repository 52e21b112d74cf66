<!-- A plain setting of a part, by what the core says of it: one of a few, yes or no, a number, words, another thing, a curve. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import KeepShape from '../controls/KeepShape.svelte'
  import { inProportion, shape } from '../controls/keepshape.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import TextField from '../controls/TextField.svelte'
  import { useDesk } from '../effect/context'
  import { rename } from '../effect/edits'
  import { resolve } from '../effect/path'
  import OwnCurve from '../response/OwnCurve.svelte'
  import type { FieldSpec } from '../wire/types'
  import FileField from './FileField.svelte'
  import PointsField from './PointsField.svelte'

  let {
    field,
    of = '',
    live = false,
  }: {
    field: FieldSpec
    /** What it is a setting of, for those who cannot see where it stands. */
    of?: string
    /** A formula that shows what it does while it is written. */
    live?: boolean
  } = $props()
  const { draft, overlay } = useDesk()
  const offer = $derived(field.offered)
  const name = $derived(of ? `${offer.label} of ${of}` : offer.label)
  const path = $derived(draft.inEmitter(resolve(draft.owner, field.path) ?? []))
  const value = $derived(draft.at(path))
  const options = $derived(
    offer.options.map((o) => ({
      value: String(o.value ?? ''),
      name: o.label || String(o.value),
      label: o.label || String(o.value),
      title: o.why || o.help,
      disabled: !!o.why && o.value !== value,
    })),
  )
  const few = $derived(offer.kind === 'choice' && options.length <= 3)
  const listed = $derived(offer.nothing ? [{ value: '', name: offer.nothing }, ...options] : options)
  const chosen = $derived((value as string[] | undefined) ?? [])
  const shelfPicture = (of: string) => `/api/pictures/stock/${of}`
  /** The cue whose name this is: formulas that read it follow. */
  const cue = $derived(
    path.at(-3) === 'cues' && path.at(-1) === 'name' ? (draft.at(path.slice(0, -1)) as { uid: string }) : null,
  )
  const set = (to: unknown) =>
    cue
      ? void overlay.attempt(() => rename(draft, 'cue', cue.uid, String(value), String(to)))
      : draft.edit(`Change ${name}`, path, to)
  /** A number; of one of two sides whose shape is kept, the other with it. */
  function setSide(to: number, dragging: boolean) {
    const beside = offer.side && shape.kept ? [...path.slice(0, -1), offer.side] : null
    if (!beside) return dragging ? draft.drag(path, to) : set(to)
    const before = start ?? { value: value as number, other: draft.at(beside) as number }
    const other = inProportion(before.other, before.value, to, offer.lowest ?? 1, offer.highest ?? 1e9)
    draft.drag(beside, other)
    draft.drag(path, to)
    start = dragging ? before : null
    if (!dragging) draft.commit(`Change ${name}, its shape kept`)
  }
  /** Both sides as they were before a hand moved one. */
  let start: { value: number; other: number } | null = null
</script>

{#if offer.pictured}
  {@const now = listed.find((o) => o.value === String(value ?? offer.default))}
  <button
    type="button"
    aria-haspopup="dialog"
    aria-label="{name}: {now?.name}"
    title={offer.help}
    class="flex h-[30px] items-center gap-1.5 rounded-md border border-line bg-ink px-1.5 hover:border-quiet"
    onclick={(e) =>
      overlay.openList(
        e.currentTarget,
        name,
        options.map((o) => ({
          label: o.name,
          group: offer.label,
          picture: shelfPicture(o.value),
          act: () => set(o.value),
        })),
      )}
    ><img
      src={shelfPicture(String(value ?? offer.default))}
      alt=""
      class="h-6 w-6 rounded bg-[#0f1418] object-contain"
    />{now?.name}</button
  >
{:else if few}
  <Segments label={name} value={String(value ?? offer.default)} {options} onpick={set} />
{:else if offer.kind === 'choice' || offer.kind === 'reference'}
  {#if options.length || offer.nothing}<Choice
      label={name}
      value={String(value ?? '')}
      options={listed}
      onpick={(v) => set(v === '' && offer.nothing ? null : v)}
    />{/if}
{:else if offer.kind === 'tick'}
  <label class="flex items-center gap-1" title={offer.help}
    ><input
      type="checkbox"
      class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
      aria-label={name}
      checked={!!value}
      onchange={(e) => set(e.currentTarget.checked)}
    />{offer.label}</label
  >
{:else if offer.kind === 'whole' || offer.kind === 'number'}
  <NumberField
    value={(value ?? offer.default ?? 0) as number}
    unit={offer.kind === 'whole' ? { ...offer.unit, digits: 0 } : offer.unit}
    label={name}
    whole={offer.kind === 'whole'}
    lowest={offer.lowest ?? -1e9}
    highest={offer.highest ?? 1e9}
    drag={Math.min((offer.highest ?? 4) - (offer.lowest ?? 0), 100)}
    reset={offer.default as number}
    ondrag={(v) => setSide(v, true)}
    onset={(v) => setSide(v, false)}
  />{#if offer.side}<KeepShape />{/if}
{:else if offer.kind === 'references'}
  {#each offer.options as other (other.value)}
    <label class="flex items-center gap-1"
      ><input
        type="checkbox"
        class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
        aria-label="{name}: {other.label}"
        checked={chosen.includes(String(other.value))}
        onchange={(e) =>
          set(e.currentTarget.checked ? [...chosen, other.value] : chosen.filter((uid) => uid !== other.value))}
      />{other.label}</label
    >
  {:else}<span class="text-xs text-amber">there is no other yet</span>{/each}
{:else if offer.kind === 'formula'}
  <textarea
    rows="3"
    maxlength="4000"
    value={String(value ?? '')}
    aria-label={name}
    spellcheck="false"
    class="mono w-full rounded border border-line bg-ink px-2 py-1 text-paper focus:border-teal focus:ring-0"
    oninput={(e) => live && e.currentTarget.value.trim() && draft.drag(path, e.currentTarget.value)}
    onchange={(e) => e.currentTarget.value.trim() && set(e.currentTarget.value)}></textarea>
{:else if offer.kind === 'lines'}
  <textarea
    rows="1"
    maxlength="400"
    value={String(value ?? '')}
    aria-label={name}
    oninput={(e) => e.currentTarget.value.trim() && draft.drag(path, e.currentTarget.value)}
    class="min-h-[28px] min-w-0 flex-1 rounded border border-line bg-ink px-2 py-1 text-[13px] text-paper focus:border-teal focus:ring-0"
    onchange={(e) => e.currentTarget.value.trim() && set(e.currentTarget.value)}></textarea>
{:else if offer.kind === 'colour'}
  <Swatch
    value={(value ?? offer.default) as [number, number, number]}
    label={name}
    brightness={false}
    ondrag={(v) => draft.drag(path, v)}
    onset={set}
  />
{:else if offer.kind === 'vectors'}
  <PointsField
    points={value as number[][]}
    {path}
    unit={{ ...offer.unit, symbol: '', digits: 3 }}
    label={name}
    words={['x', 'y', 'z']}
  />
{:else if offer.kind === 'pairs'}
  <PointsField
    points={value as number[][]}
    {path}
    unit={offer.unit}
    label={name}
    words={['Radius', 'Height']}
    least={2}
  />
{:else if offer.kind === 'file'}
  <FileField {field} {name} files={[value as { name: string }]} />
{:else if offer.kind === 'files'}
  <FileField {field} {name} files={value as { name: string }[]} />
{:else if offer.kind === 'text'}
  <TextField value={String(value ?? '')} label={name} onset={set} />
{:else if offer.kind === 'curve'}
  <OwnCurve
    curve={value as never}
    label={offer.label.toLowerCase()}
    across={offer.help}
    ondrag={(curve) => draft.drag(path, curve)}
    onset={(curve, label) => draft.edit(label, path, curve)}
  />
{/if}
