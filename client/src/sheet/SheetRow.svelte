<!-- A row as a sentence: name (its menu), base, its responses in order, what comes out. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  import Check from '@lucide/svelte/icons/check'
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import Pin from '@lucide/svelte/icons/pin'
  import Plus from '@lucide/svelte/icons/plus'
  import { inUse, isSourced, type PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { setBase, setResponses, shelve, toggleMuteRow } from '../effect/edits'
  import { carry, copied, copyPiece, pastePiece } from '../effect/pieces'
  import { keyed, settable } from '../effect/timekeys'
  import { dialItems } from '../dials/making'
  import { api } from '../wire/api'
  import Base from './Base.svelte'
  import Chip from './Chip.svelte'
  import Out from './Out.svelte'
  import Remark from './Remark.svelte'

  let {
    placed,
    inner = false,
    label,
    opens,
    open = false,
    onopen,
    onremove,
    removes,
    acts = [],
    under,
  }: {
    placed: PlacedRow
    /** A row of a force or place that stands under its summary. */
    inner?: boolean
    /** What it is called here, where what it belongs to is said above it. */
    label?: string
    /** What else opens under this row, in words. */
    opens?: string
    open?: boolean
    onopen?: () => void
    /** Takes away what the row belongs to, such as a force; what that is called. */
    onremove?: () => void
    removes?: string
    /** What else can be done with what the row belongs to. */
    acts?: Parameters<typeof overlay.openMenu>[2]
    /** What stands in small beneath its name. */
    under?: Snippet
  } = $props()
  const { draft, player, selection, overlay } = useDesk()

  const responses = $derived(placed.row.responses ?? [])
  const chosen = $derived(responses.some((r) => r.uid === selection.uid) || selection.base === placed.address)
  const wide = $derived(
    isSourced(placed.row.base)
      ? placed.row.base.source.kind === 'formula' || !placed.row.responses?.length
      : placed.spec.kind === 'vector',
  )
  const sheet = $derived(draft.owner.sheet)
  const pinned = $derived(sheet?.pinned?.includes(placed.address) ?? false)
  const soloed = $derived(
    selection.solo &&
      !('source' in selection.solo) &&
      selection.solo.row === placed.address &&
      !selection.solo.response,
  )
  const free = $derived(
    (typeof placed.row.base === 'number' ? ([-1] as const) : ([0, 1, 2] as const)).some(
      (which) => settable(placed.row, which) === 'free',
    ),
  )
  const marked = $derived(selection.marked.includes(placed.address))
  const name = $derived(placed.label.toLowerCase())
  let over = $state(false)

  let nameButton = $state<HTMLButtonElement>()
  const help = () => overlay.openCard(nameButton!, `row:${placed.spec.key}`, placed.address)
  function paste() {
    const kind = copied()?.kind
    void overlay.attempt(async () =>
      selection.select(
        (await pastePiece(draft, placed.address, `Paste ${kind === 'row' ? 'a sentence' : ''} onto ${name}`)).at(-1) ??
          selection.uid,
      ),
    )
  }
  function menu(event: Event) {
    const kind = copied()?.kind
    const anchor = event.currentTarget
    const optional = !placed.spec.always && !placed.address.startsWith('forces.') && !placed.host
    overlay.openMenu(event.currentTarget, placed.label, [
      ...acts,
      { label: 'What it does…', hint: '?', act: help },
      { label: 'Drive it…', hint: 'D', act: () => overlay.openPicker(anchor, placed) },
      ...(placed.spec.kind !== 'colour' && placed.spec.stage !== 'birth' && !placed.host
        ? [
            {
              label: 'Key it over the clip',
              hint: `frame ${player.frame}`,
              disabled: !free,
              why: 'Something drives it already.',
              act: () =>
                draft.edit(
                  `Key ${name} over the clip`,
                  draft.inEmitter(placed.path),
                  keyed(placed.row, player.seconds, player.length),
                ),
            },
          ]
        : []),
      {
        label: placed.row.muted ? 'Let its responses act' : 'Mute its responses',
        hint: 'M',
        disabled: !responses.length,
        act: () => toggleMuteRow(draft, placed),
      },
      {
        label: soloed ? 'End solo' : 'Solo: only this row',
        hint: 'S',
        disabled: !responses.length,
        act: () =>
          (selection.solo = soloed ? null : { emitter: draft.owner.uid, label: placed.label, row: placed.address }),
      },
      null,
      {
        label: 'Copy the sentence',
        hint: 'Ctrl C',
        act: () => void overlay.attempt(() => copyPiece(draft, { kind: 'row', address: placed.address })),
      },
      {
        label: kind === 'row' ? 'Paste the sentence' : 'Paste the response',
        hint: 'Ctrl V',
        disabled: kind !== 'row' && kind !== 'responses',
        why: 'Nothing was copied yet.',
        act: paste,
      },
      null,
      ...dialItems(placed, null, { draft, overlay, selection }),
      ...(placed.spec.kind === 'vector' && !placed.host
        ? [
            {
              label: 'Copy one axis to another…',
              act: () =>
                overlay.openList(anchor, `Axes of ${placed.label}`, [
                  ...(['xy', 'xz', 'yx', 'yz', 'zx', 'zy'] as const).map(([one, other]) => ({
                    label: `what ${one} has, to ${other}`,
                    group: 'its number and chips; formulas have the axes swapped',
                    act: () => copyAxis(one as 'x', other as 'y'),
                  })),
                ]),
            },
          ]
        : []),
      null,
      {
        label: marked ? 'Unmark' : 'Mark, to type into several at once',
        hint: 'Ctrl-click',
        act: () => selection.mark(placed.address),
      },
      {
        label: pinned ? 'Unpin' : 'Pin to the top',
        act: () => shelve(draft, 'pinned', placed.address, !pinned, `${pinned ? 'Unpin' : 'Pin'} ${name}`),
      },
      ...(sheet
        ? [
            {
              label: sheet.remarks?.some((each) => each.row === placed.address)
                ? 'Change the remark…'
                : 'Write a remark…',
              act: () => (selection.remarking = placed.address),
            },
          ]
        : []),
      { label: 'Hide in the sheet', act: () => shelve(draft, 'hidden', placed.address, true, `Hide ${name}`) },
      {
        label: 'Back to its default',
        disabled: !inUse(placed) || responses.length > 0,
        why: 'Remove its responses first.',
        act: () => setBase(draft, placed, placed.spec.default as never),
      },
      {
        label: 'Remove all responses',
        disabled: !responses.length,
        act: () => setResponses(draft, placed, [], `Clear ${name}`),
      },
      ...(onremove
        ? [null, { label: `Remove ${removes ?? name}`, act: onremove }]
        : optional && sheet?.added?.includes(placed.address) && !inUse(placed)
          ? [
              null,
              {
                label: `Take ${name} off the sheet`,
                act: () => shelve(draft, 'added', placed.address, false, `Take ${name} off the sheet`),
              },
            ]
          : []),
    ])
  }
  function keys(event: KeyboardEvent) {
    const ctrl = event.ctrlKey || event.metaKey
    if (ctrl && event.key === 'c')
      void overlay.attempt(() => copyPiece(draft, { kind: 'row', address: placed.address }))
    else if (ctrl && event.key === 'v') paste()
    else if (event.key === '?') help()
    else if (!ctrl && event.key === 'd') overlay.openPicker(event.currentTarget, placed)
    else if (!ctrl && event.key === 'm' && responses.length) toggleMuteRow(draft, placed)
    else if (!ctrl && event.key === 's' && responses.length)
      selection.solo = soloed ? null : { emitter: draft.owner.uid, label: placed.label, row: placed.address }
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function copyAxis(one: 'x' | 'y' | 'z', other: 'x' | 'y' | 'z') {
    void overlay.attempt(() =>
      draft.ask(
        (document) => api.copyAxis({ document, owner: draft.owner.uid, address: placed.address, one, other }),
        `Copy ${one} of ${name} to ${other}`,
      ),
    )
  }
  function drop(event: DragEvent) {
    over = false
    const [address, , moved] = (event.dataTransfer?.getData('application/x-kagero-response') ?? '').split('|')
    if (!moved) return
    event.preventDefault()
    const copies = event.ctrlKey || event.metaKey || event.altKey
    if (address === placed.address && !copies) return
    void overlay.attempt(async () =>
      selection.select(
        (await carry(draft, [moved], placed.address, copies, `${copies ? 'Copy' : 'Move'} a response to ${name}`))[0],
      ),
    )
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="group grid min-h-[29px] items-center px-3.5 py-px {over
    ? 'bg-raised outline-1 -outline-offset-1 outline-teal'
    : chosen
      ? 'bg-raised'
      : 'hover:bg-raised/50'} {wide
    ? 'grid-cols-[120px_auto_minmax(0,1fr)_auto]'
    : 'grid-cols-[120px_76px_minmax(0,1fr)_auto]'}"
  data-row={placed.address}
  data-marked={marked || undefined}
  ondragover={(e) => {
    if (e.dataTransfer?.types.includes('application/x-kagero-response')) {
      e.preventDefault()
      over = true
    }
  }}
  ondragleave={() => (over = false)}
  ondrop={drop}
>
  <span class="min-w-0">
    <span class="flex min-w-0 items-center gap-1 pr-1 leading-[15px]">
      <button
        bind:this={nameButton}
        type="button"
        aria-haspopup="menu"
        onclick={(e) => (e.ctrlKey || e.metaKey ? selection.mark(placed.address) : menu(e))}
        aria-pressed={marked || undefined}
        onkeydown={keys}
        title="{placed.spec
          .help} Click for what one can do with the row; Ctrl-click marks it, and a number typed into a marked row is typed into all of them."
        class="min-w-0 rounded text-left hover:underline hover:decoration-dotted {inner
          ? 'pl-3 text-quiet'
          : ''} {placed.row.muted ? 'line-through decoration-quiet' : ''}"
        data-name={placed.address}>{label ?? (placed.label.includes(': ') ? placed.spec.label : placed.label)}</button
      >
      {#if marked}<Check size={12} class="shrink-0 text-teal" aria-label="marked" />{/if}
      {#if pinned}<Pin size={11} class="shrink-0 text-quiet" aria-label="pinned" />{/if}
      {#if opens}
        <button
          type="button"
          onclick={onopen}
          aria-expanded={open}
          aria-label="{open ? 'Hide' : 'Show'} {opens}"
          title="{open ? 'Hide' : 'Show'} {opens}"
          class="rounded text-quiet hover:text-paper"
        >
          <ChevronRight size={13} class={open ? 'rotate-90' : ''} />
        </button>
      {/if}
    </span>
    {@render under?.()}</span
  >
  <span class="min-w-0"><Base {placed} /></span>
  <span class="flex flex-wrap items-center gap-x-1 gap-y-0.5 py-px">
    {#each responses as response, index (response.uid)}
      <Chip {placed} {response} {index} />
    {/each}
    <button
      type="button"
      aria-haspopup="dialog"
      aria-label="Drive {placed.label}"
      title="Vary {name}, or drive it from something"
      onclick={(e) => overlay.openPicker(e.currentTarget, placed)}
      class="flex h-[22px] w-[22px] shrink-0 items-center justify-center rounded border border-transparent text-quiet hover:border-line hover:text-paper"
      ><Plus size={14} /></button
    >
  </span>
  <Out {placed} />
</div>
<Remark address={placed.address} {name} />
