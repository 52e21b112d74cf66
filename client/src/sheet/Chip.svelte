<!--
  A response in a sentence: its operation, its source's name, its curve over the live histogram of the source. Drag it to
  another place or row (with Ctrl a copy goes), or use its menu.
-->
<script lang="ts">
  import { tick } from 'svelte'
  import { css } from '../controls/colour'
  import { curvePath, ratioPath } from '../controls/curve'
  import { useDesk } from '../effect/context'
  import { moveResponse, removeResponse, setResponses, responsePath, toggleMute } from '../effect/edits'
  import { outgrown } from '../effect/fitted'
  import { leadsOf } from '../effect/leads'
  import { carry, copied, copyPiece, pastePiece } from '../effect/pieces'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import type { Response } from '../wire/types'

  let { placed, response, index }: { placed: PlacedRow; response: Response; index: number } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()

  const W = 54
  const H = 26
  const name = $derived(catalog.nameOf(draft.owner, response))
  const formula = $derived(response.source.kind === 'formula' ? response.source : null)
  const sign = $derived(catalog.signs.get(response.operation ?? 'multiply'))
  const uid = $derived(draft.owner.uid)
  const distribution = $derived(player.measure(uid)?.responses[response.uid])
  const quiet = $derived(player.clipComplete ? (player.profile(uid)?.responses[response.uid]?.quiet ?? '') : '')
  const outgrownHint = $derived(
    outgrown(response, catalog.fittedTo(draft.owner)) ? 'Its range was fitted to what has changed since.' : '',
  )
  const bars = $derived.by(() => {
    const bins = distribution?.bins
    if (!bins) return []
    const wide = Array.from({ length: 16 }, (_, i) => bins[i * 3] + bins[i * 3 + 1] + bins[i * 3 + 2])
    const top = Math.max(1, ...wide)
    return wide.map((n) => (n / top) * (H - 6))
  })
  /** Where the picked particle stands across the chip, in shares. */
  const mark = $derived.by(() => {
    const value = player.one(uid)?.sources[response.uid]
    if (value === undefined) return null
    const [low, high] =
      response.kind === 'ratio'
        ? [0, 2 * (typeof response.reference === 'number' ? response.reference : 1)]
        : response.input
    return high === low ? null : Math.min(Math.max((value - low) / (high - low), 0), 1)
  })
  /** A name that would be cut to a stump gets a wider chip. */
  const long = $derived(name.length > 8)
  const chosen = $derived(selection.uid === response.uid)
  const silent = $derived(!selection.hears(draft.owner, placed, response))
  const onlyBirth = $derived(response.read === 'once' && placed.spec.stage !== 'birth')
  const soloed = $derived(selection.solo && 'response' in selection.solo && selection.solo.response === response.uid)
  const driven = $derived(
    typeof response.amount === 'object' ||
      (response.kind === 'curve' &&
        [response.shift, response.exponent, ...response.output].some((s) => typeof s === 'object')) ||
      (response.kind === 'ratio' && (typeof response.reference === 'object' || typeof response.power === 'object')),
  )

  function toggleSolo() {
    selection.solo = soloed
      ? null
      : { emitter: uid, label: `${placed.label} from ${name}`, row: placed.address, response: response.uid }
  }
  function copy() {
    void overlay.attempt(() => copyPiece(draft, { kind: 'responses', uids: [response.uid] }))
  }
  function paste() {
    void overlay.attempt(async () =>
      selection.select(
        (await pastePiece(draft, placed.address, `Paste onto ${placed.label.toLowerCase()}`, { at: index + 1 })).at(
          -1,
        ) ?? selection.uid,
      ),
    )
  }
  async function duplicate() {
    await overlay.attempt(async () =>
      selection.select(
        (
          await carry(
            draft,
            [response.uid],
            placed.address,
            true,
            `Duplicate ${name} on ${placed.label.toLowerCase()}`,
            index + 1,
          )
        )[0],
      ),
    )
  }
  /** Carry it to the row above or below, and keep the keyboard on it. */
  async function toRow(when: number) {
    const rows = catalog.rowsOf(draft.owner).filter((r) => !r.unused)
    const to = rows[rows.findIndex((r) => r.address === placed.address) + when]
    if (!to) return
    await overlay.attempt(async () => {
      const [moved] = await carry(draft, [response.uid], to.address, false, `Move ${name} to ${to.label.toLowerCase()}`)
      selection.select(moved ?? null)
      void tick().then(() => document.querySelector<HTMLElement>(`[data-response="${moved}"]`)?.focus())
    })
  }
  function read(when: 'once' | 'live') {
    draft.edit(
      `Read ${placed.label.toLowerCase()} from ${name} ${when}`,
      draft.inEmitter([...responsePath(placed, index), 'read']),
      when,
    )
  }
  function menu(event: Event) {
    event.preventDefault()
    overlay.openMenu(event.currentTarget, `${placed.label} from ${name}`, [
      {
        label: response.muted ? 'Let it act' : 'Mute',
        hint: 'M',
        act: () => toggleMute(draft, catalog, placed, index),
      },
      { label: soloed ? 'End solo' : 'Solo in this row', hint: 'S', act: toggleSolo },
      {
        label: response.read === 'once' ? 'Read live' : 'Read once, at birth',
        disabled: placed.spec.stage !== 'live',
        why: 'This row has only one way to read.',
        act: () => read(response.read === 'once' ? 'live' : 'once'),
      },
      null,
      ...leadsOf(response.source, { draft, catalog, selection }).map((lead) => ({
        label: `Go to ${lead.label}`,
        act: lead.go,
      })),
      { label: 'Copy', hint: 'Ctrl C', act: copy },
      {
        label: 'Cut',
        hint: 'Ctrl X',
        act: () => {
          copy()
          removeResponse(draft, catalog, placed, index)
        },
      },
      { label: 'Paste behind it', hint: 'Ctrl V', disabled: copied()?.kind !== 'responses', act: paste },
      { label: 'Duplicate', hint: 'Ctrl D', act: duplicate },
      null,
      {
        label: 'Earlier',
        hint: 'Alt ←',
        disabled: index === 0,
        act: () => moveResponse(draft, placed, index, index - 1),
      },
      {
        label: 'Later',
        hint: 'Alt →',
        disabled: index === (placed.row.responses?.length ?? 0) - 1,
        act: () => moveResponse(draft, placed, index, index + 1),
      },
      { label: 'To the row above', hint: 'Alt ↑', act: () => toRow(-1) },
      { label: 'To the row below', hint: 'Alt ↓', act: () => toRow(1) },
      null,
      {
        label: 'Remove',
        hint: 'Delete',
        act: () =>
          setResponses(
            draft,
            placed,
            placed.row.responses!.filter((r) => r !== response),
            `Remove ${placed.label} from ${name}`,
          ),
      },
    ])
  }
  function keys(event: KeyboardEvent) {
    const ctrl = event.ctrlKey || event.metaKey
    if (event.key === 'Delete' || event.key === 'Backspace') removeResponse(draft, catalog, placed, index)
    else if (ctrl && event.key === 'c') copy()
    else if (ctrl && event.key === 'x') {
      copy()
      removeResponse(draft, catalog, placed, index)
    } else if (ctrl && event.key === 'v') paste()
    else if (ctrl && event.key === 'd') void duplicate()
    else if (!ctrl && event.key === 'm') toggleMute(draft, catalog, placed, index)
    else if (!ctrl && event.key === 's') toggleSolo()
    else if (event.altKey && event.key === 'ArrowLeft') moveResponse(draft, placed, index, index - 1)
    else if (event.altKey && event.key === 'ArrowRight') moveResponse(draft, placed, index, index + 1)
    else if (event.altKey && event.key === 'ArrowUp') void toRow(-1)
    else if (event.altKey && event.key === 'ArrowDown') void toRow(1)
    else if (event.key === 'ContextMenu' || (event.shiftKey && event.key === 'F10')) menu(event)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function drop(event: DragEvent) {
    const [address, from, moved] = (event.dataTransfer?.getData('application/x-kagero-response') ?? '').split('|')
    if (!moved) return
    event.preventDefault()
    event.stopPropagation()
    const copies = event.ctrlKey || event.metaKey || event.altKey
    if (address === placed.address && !copies) moveResponse(draft, placed, Number(from), index)
    else
      void overlay.attempt(async () =>
        selection.select(
          (
            await carry(
              draft,
              [moved],
              placed.address,
              copies,
              `${copies ? 'Copy' : 'Move'} a response to ${placed.label.toLowerCase()}`,
              index,
            )
          )[0],
        ),
      )
  }
</script>

<span class="mono w-2 shrink-0 text-center text-quiet" aria-hidden="true">{sign}</span>
<button
  type="button"
  draggable="true"
  onclick={() => selection.select(response.uid)}
  onkeydown={keys}
  oncontextmenu={menu}
  data-response={response.uid}
  ondragstart={(e) => {
    e.dataTransfer?.setData('application/x-kagero-response', `${placed.address}|${index}|${response.uid}`)
    e.dataTransfer!.effectAllowed = 'copyMove'
  }}
  ondragover={(e) => e.preventDefault()}
  ondrop={drop}
  aria-pressed={chosen}
  aria-label="{placed.label} {response.operation} from {name}, {response.read}{response.muted
    ? ', muted'
    : silent
      ? ', silent'
      : ''}{quiet ? `. ${quiet}` : ''}{outgrownHint ? `. ${outgrownHint}` : ''}"
  title="{quiet ? `${quiet}\n` : ''}{outgrownHint ? `${outgrownHint}\n` : ''}{formula
    ? formula.text
    : name}, read {response.read}{response.muted
    ? ', muted'
    : silent
      ? ', silent'
      : ''}. Right-click for all one can do with it."
  class="relative flex h-[26px] {long
    ? 'w-[142px]'
    : 'w-[106px]'} shrink-0 items-stretch overflow-hidden rounded-[5px] border bg-ink text-left {chosen
    ? 'border-vermilion'
    : 'border-line hover:border-quiet'} {silent ? 'border-dashed opacity-45' : ''}"
>
  <span class="flex min-w-0 flex-1 flex-col justify-center gap-0 pl-[5px]">
    <span class="truncate text-xs {onlyBirth ? 'leading-[13px]' : 'leading-[15px]'}">{name}</span>
    {#if onlyBirth}<span class="text-[10px] leading-[11px] text-quiet">once</span>{/if}
  </span>
  <svg width={W} height={H} class="shrink-0" aria-hidden="true">
    {#if response.kind === 'gradient'}
      <defs>
        <linearGradient id="chip-{response.uid}">
          {#each response.gradient.stops as stop}<stop offset={stop.x} stop-color={css(stop.colour)} />{/each}
        </linearGradient>
      </defs>
      <rect width={W} height={H} fill="url(#chip-{response.uid})" />
    {:else}
      {#each bars as height, i}
        <rect x={(i * W) / 16} y={H - height} width={W / 16 - 0.6} {height} fill="var(--color-teal)" opacity="0.35" />
      {/each}
      <path
        d={response.kind === 'curve'
          ? curvePath(response.curve.keys, W, H, 0, 1, 3)
          : ratioPath(typeof response.power === 'number' ? response.power : 1, W, H, 3)}
        fill="none"
        stroke="var(--color-paper)"
        stroke-width="1.4"
      />
    {/if}
    {#if mark !== null}<line
        x1={mark * W}
        x2={mark * W}
        y1="0"
        y2={H}
        stroke="var(--color-vermilion)"
        stroke-width="1.4"
      />{/if}
  </svg>
  {#if formula?.draft}<span
      class="absolute top-[2px] right-[2px] h-[6px] w-[6px] rounded-full bg-amber"
      title="What is being written cannot run yet"
    ></span>{/if}
  {#if driven}<span
      class="absolute right-[55px] bottom-[1px] h-[3px] w-[3px] rounded-full bg-teal"
      title="One of its own settings is driven"
    ></span>{/if}
  {#if (quiet || outgrownHint) && !silent}<span
      class="absolute top-[2px] right-[2px] h-[6px] w-[6px] rounded-full bg-amber"
    ></span>{/if}
  {#if soloed}<span class="absolute inset-x-0 bottom-0 h-[2px] bg-vermilion"></span>{/if}
</button>
