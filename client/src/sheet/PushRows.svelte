<!-- A push, a ride, targets: its first row stands for it; its other rows, settings and region open under it. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import { inUse, isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { movePart, mutePart, onlyPart, removePart, shelve, standsIn, takeForm } from '../effect/edits'
  import { copyPiece, duplicateMover, MOVERS, type Mover } from '../effect/pieces'
  import { newUid, resolve } from '../effect/path'
  import type { FieldSpec, PartSpec } from '../wire/types'
  import Segments from '../controls/Segments.svelte'
  import CardButton from '../overlay/CardButton.svelte'
  import CueTest from './CueTest.svelte'
  import CueTimes from './CueTimes.svelte'
  import FieldControl from './FieldControl.svelte'
  import PlainRow from './PlainRow.svelte'
  import PushShare from './PushShare.svelte'
  import RegionRow from './RegionRow.svelte'
  import ShapingBox from './ShapingBox.svelte'
  import SheetRow from './SheetRow.svelte'

  let {
    part,
    rows,
    open,
    onopen,
    hidden,
  }: {
    part: PartSpec
    /** The rows of the sheet by address. */
    rows: Map<string, PlacedRow>
    open: boolean
    onopen: () => void
    hidden: (row: PlacedRow) => boolean
  } = $props()
  const { draft, overlay, player, selection } = useDesk()
  const own = $derived(part.rows.map((address) => rows.get(address)).filter((row): row is PlacedRow => !!row))
  const label = $derived(part.label)
  const name = $derived(label.toLowerCase())
  const driven = (row: PlacedRow) =>
    (row.row.responses?.length ?? 0) > 0 || isSourced(row.row.base) || selection.found?.placed.address === row.address
  const strength = $derived(rows.get(part.strength))
  /** Whether it acts within a mask, which shows at once. */
  const within = $derived(!!part.region?.mask)
  const more = $derived(own.length > 1 || part.fields.length > 0)
  const uid = $derived(String(part.path.at(-1)).startsWith('#') ? String(part.path.at(-1)).slice(1) : '')
  const mover = $derived<Mover | undefined>(uid ? (MOVERS as Record<string, Mover>)[String(part.path[0])] : undefined)
  /** Of a cue, what it does stands there once it does something; all else can be added. */
  const folds = $derived(mover === 'cue')
  const DOES = 'what it does'
  let opened = $state<Record<string, boolean>>({})
  const set = (field: FieldSpec) => {
    const value = draft.at(draft.inEmitter(resolve(draft.owner, field.path) ?? []))
    return value !== undefined && value !== null && value !== field.offered.default
  }
  const stands = (row: PlacedRow) => inUse(row) || (draft.emitter.sheet?.added ?? []).includes(row.address)
  /** Movers whose rows stand under their name, which they need not say again. */
  const SHORT: Mover[] = ['cue', 'contact', 'shaping']
  /** Its rows by what they say, without its own name before each. */
  const short = (row: PlacedRow) => {
    const head = folds ? `${row.label.split(': ')[0]}: ` : mover && SHORT.includes(mover) ? `${part.label} ` : ''
    const words = row.label.startsWith(head) ? row.label.slice(head.length) : row.label
    return words ? words[0].toUpperCase() + words.slice(1) : row.label
  }
  const deeds = $derived(
    [
      ...part.fields
        .filter((field) => field.offered.on_request && !opened[field.offered.name] && !set(field))
        .map((field) => ({
          label: field.offered.label,
          group: DOES,
          help: field.offered.help,
          act: () => {
            opened[field.offered.name] = true
            if (field.offered.kind === 'tick')
              draft.edit(field.offered.label, draft.inEmitter(resolve(draft.owner, field.path) ?? []), true)
          },
        })),
      ...own
        .slice(1)
        .filter((row) => !row.spec.always && !row.unused && !stands(row))
        .map((row) => ({
          label: short(row),
          group: part.headings[row.address] ?? '',
          help: row.spec.help,
          act: () => shelve(draft, 'added', row.address, true, `Add ${short(row).toLowerCase()}`),
        })),
    ].toSorted((a, b) => Number(a.group !== DOES) - Number(b.group !== DOES)),
  )
  /** To the frames at which a cue happens. */
  const jumps = $derived.by(() => {
    const frames = (player.fired(draft.emitter.uid, uid) ?? []).map(([frame]) => frame)
    const [before, after] = [frames.filter((f) => f < player.frame), frames.filter((f) => f > player.frame)]
    const to = (label: string, frame: number | undefined, why: string) => ({
      label: `To the ${label} time it happens`,
      disabled: frame === undefined,
      why,
      act: () => player.go(frame!),
    })
    const moment = { uid: newUid(), name, frame: frames[0] }
    return [
      {
        label: 'Put a moment where it first happens',
        disabled: !frames.length,
        why: 'It never happens in this clip.',
        act: () => draft.edit(`Put a moment at ${name}`, ['moments'], [...(draft.document.moments ?? []), moment]),
      },
      to('first', frames[0], 'It never happens in this clip.'),
      to('next', after[0], 'It does not happen after this frame.'),
      to('last', frames.at(-1), 'It never happens in this clip.'),
      to('previous', before.at(-1), 'It does not happen before this frame.'),
    ]
  })
  /** What can be done with all of it, in the menu of its first row. */
  const acts = $derived.by(() => {
    const stands = mover && standsIn(draft, part)
    if (!mover || !stands) return []
    const { at, list } = stands
    const alone = list.length > 1 && list.every((each, i) => each.muted === (i !== at))
    return [
      { label: part.muted ? `Let ${name} act` : `Mute ${name}`, act: () => mutePart(draft, part) },
      {
        label: alone ? 'Let all of them act' : `Only ${name}`,
        disabled: list.length < 2,
        why: 'There is no other.',
        act: () => onlyPart(draft, part),
      },
      ...(mover === 'push'
        ? [
            {
              label: selection.slice === uid ? 'Show no slice of it' : 'Show a slice of it on the stage',
              act: () => (selection.slice = selection.slice === uid ? null : uid),
            },
          ]
        : []),
      ...(mover === 'cue' ? jumps : []),
      null,
      { label: 'Earlier', disabled: at === 0, why: 'It is the first.', act: () => movePart(draft, part, -1) },
      {
        label: 'Later',
        disabled: at === list.length - 1,
        why: 'It is the last.',
        act: () => movePart(draft, part, 1),
      },
      {
        label: `Duplicate ${name}`,
        act: () => void overlay.attempt(() => duplicateMover(draft, mover, uid, name, at + 1)),
      },
      {
        label: `Copy ${name}, to put into another emitter`,
        act: () => void overlay.attempt(() => copyPiece(draft, { kind: mover, uid })),
      },
      null,
    ]
  })
</script>

{#snippet share()}<PushShare {uid} {label} />{/snippet}
{#snippet times()}<CueTimes {uid} {name} />{/snippet}

<div class={part.muted ? 'opacity-55' : ''} data-mover={uid || undefined}>
  {#if own[0] && !hidden(own[0])}<SheetRow
      placed={own[0]}
      opens={more ? `all of ${name}` : part.region ? 'its region' : 'what it is'}
      {open}
      {onopen}
      {acts}
      onremove={part.removable ? () => removePart(draft, part) : undefined}
      removes={name}
      under={part.muted ? undefined : mover === 'push' ? share : mover === 'cue' ? times : undefined}
    />{:else if !own.length}
    <PlainRow {label} help={part.help}>
      {#each part.fields as field (field.offered.name)}
        <span class="text-quiet">{field.offered.label}</span><FieldControl {field} />
      {/each}
      {#snippet out()}
        <span class="flex items-center gap-1.5">
          {#if part.card}<CardButton of={part.card} name={label} />{/if}
          {#if part.removable}<button
              type="button"
              class="rounded text-quiet hover:text-paper"
              aria-label="Remove {name}"
              title="Remove {name}"
              onclick={() => removePart(draft, part)}><X size={13} /></button
            >{/if}
        </span>
      {/snippet}
    </PlainRow>{/if}
  {#if part.lacks}<p class="px-3.5 pb-1 pl-6 text-xs text-amber" role="note">{part.lacks}</p>{/if}
  {#if open && part.forms.length}
    <PlainRow label="Points" help="How many it has along each axis." inner>
      <Segments
        label="Points of {name}"
        value={part.forms.find((form) => form.chosen)?.label ?? ''}
        options={part.forms.map((form) => ({ value: form.label, label: form.label }))}
        onpick={(label) => takeForm(draft, part, label)}
      />
    </PlainRow>
  {/if}
  {#if own.length && (open || (part.path.length === 1 && part.path[0] === 'target'))}
    {#each part.fields as field (field.offered.name)}
      {#if !folds || !field.offered.on_request || opened[field.offered.name] || set(field)}<PlainRow
          label={field.offered.label}
          help={field.offered.help}
          inner><FieldControl {field} /></PlainRow
        >{/if}
    {/each}
  {/if}
  {#each own.slice(1) as row (row.address)}
    {#if (open && (!folds || row.spec.always || stands(row))) || driven(row)}<SheetRow
        placed={row}
        inner
        label={mover && SHORT.includes(mover) ? short(row) : undefined}
      />{/if}
    {#if open && part.compares[row.address]}<CueTest {uid} of={part.compares[row.address]} against={row} />{/if}
  {/each}
  {#if open && mover === 'shaping' && part.rows.some((row) => row.endsWith('.middle'))}<ShapingBox {uid} {name} />{/if}
  {#if open && folds}
    <PlainRow label="And then" help="What it does when it happens: to the particle, and by whom." inner>
      <button
        type="button"
        aria-haspopup="dialog"
        class="rounded text-quiet underline decoration-dotted hover:text-paper"
        onclick={(e) => overlay.openList(e.currentTarget, `What ${name} does`, deeds)}>add what it does</button
      >
    </PlainRow>
  {/if}
  {#if strength && part.region && (open || within)}<RegionRow placed={strength} region={part.region} {label} />{/if}
  {#if open}
    <PlainRow {label} help={part.help} inner
      ><span class="text-quiet"
        >{part.help}{#if part.card}<span class="ml-1 inline-block align-middle"
            ><CardButton of={part.card} name={label} /></span
          >{/if}</span
      >{#if part.muted}<button
          type="button"
          class="underline decoration-dotted hover:text-paper"
          onclick={() => mutePart(draft, part)}>let it act</button
        >{/if}</PlainRow
    >
  {/if}
</div>
