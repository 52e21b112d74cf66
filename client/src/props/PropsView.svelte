<!-- What the effect must fit: the props with their kind, size and who uses them; and the one that is chosen, with its rows. -->
<script lang="ts">
  import { dropOn } from '../controls/reorder'
  import Plus from '@lucide/svelte/icons/plus'
  import { onDestroy } from 'svelte'
  import Action from '../controls/Action.svelte'
  import FileAxes from './FileAxes.svelte'
  import Panel from '../controls/Panel.svelte'
  import { useDesk } from '../effect/context'
  import { copied, copyPiece, duplicateProp, pasteProp } from '../effect/pieces'
  import { framesASecond } from '../effect/rate'
  import { api } from '../wire/api'
  import type { BroughtIn, Prop } from '../wire/types'
  import { geometries } from './geometry.svelte'
  import { mend, referred } from './mend'
  import { addProp, newProp } from './props'
  import Thumb from './Thumb.svelte'
  import PropSheet from './PropSheet.svelte'

  const { draft, player, selection, catalog, overlay } = useDesk()
  const props = $derived(draft.document.props ?? [])
  let progress = $state<{ name: string; share: number } | null>(null)
  let over = $state(false)
  /** The file that is chosen next becomes a path. */
  let asPath = false
  let leaving = $state.raw<Prop | null>(null)
  let input = $state<HTMLInputElement>()
  const leavingUsers = $derived(leaving ? (catalog.layout.used[leaving.uid] ?? []) : [])

  const MOVED = 'application/x-kagero-prop'

  onDestroy(() => {
    draft.heldUid = null
    player.brush = ''
  })

  function choose(uid: string) {
    selection.select(null)
    draft.heldUid = draft.heldUid === uid ? null : uid
  }
  function add(event: Event) {
    const anchor = event.currentTarget
    const others = catalog.layout.addable.filter(
      (offer) => !offer.group.startsWith('mask') && !offer.group.startsWith('pictures'),
    )
    const menu = (shapes: boolean) =>
      others
        .filter((offer) => (offer.group === 'shapes') === shapes)
        .map((offer) => ({ label: offer.label, act: () => addProp(draft, newProp(draft.document, offer)) }))
    overlay.openMenu(anchor, 'Add a prop', [
      ...menu(true),
      null,
      ...menu(false),
      null,
      { label: 'Made picture…', act: () => addPicture(anchor) },
      { label: 'Mask…', act: () => addMask(anchor) },
      {
        label: 'Paste the copied prop',
        disabled: copied()?.kind !== 'prop',
        why: 'Copy a prop first, here or in another effect.',
        act: () => void overlay.attempt(() => pasteProp(draft, copied()!, 'Paste a prop')),
      },
      null,
      {
        label: 'A file: mesh, picture, film, drawing, points, cameras…',
        act: () => {
          asPath = false
          input?.click()
        },
      },
      {
        label: 'A path from a file: SVG, CSV…',
        act: () => {
          asPath = true
          input?.click()
        },
      },
    ])
  }
  function addPicture(anchor: EventTarget | null) {
    overlay.openList(
      anchor,
      'Add a picture',
      catalog.layout.addable
        .filter((offer) => offer.group.startsWith('pictures'))
        .map((offer) => ({
          label: offer.label,
          group: offer.group.replace('pictures ', ''),
          help: offer.help,
          act: () => addProp(draft, newProp(draft.document, offer)),
        })),
    )
  }
  function addMask(anchor: EventTarget | null) {
    overlay.openList(
      anchor,
      'Add a mask',
      catalog.layout.addable
        .filter((offer) => offer.group.startsWith('mask'))
        .map((mask) => ({
          label: mask.label,
          group: mask.group === 'masks' ? 'standing by themselves' : mask.group.replace('masks ', ''),
          help: mask.help,
          act: () => void overlay.attempt(async () => addProp(draft, newProp(draft.document, mask))),
        })),
    )
  }
  /** What the files of a prop hold. */
  const holds = (prop: Prop) =>
    catalog.part(prop, '')?.fields.find((field) => field.offered.kind.startsWith('file'))?.offered.holds ?? ''
  async function bring(files: FileList | File[] | null | undefined) {
    const several = [...(files ?? [])].sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }))
    const numbered =
      several.length > 1 &&
      several.every((f) => /\d+\.\w+$/.test(f.name)) &&
      new Set(several.map((f) => f.name.replace(/\d+(\.\w+)$/, '$1'))).size === 1
    if (numbered && !asPath) return bringSequence(several)
    for (const file of several) {
      await overlay.attempt(async () => {
        progress = { name: file.name, share: 0 }
        try {
          const missing = await api.missingFiles(referred(draft.document).map(({ ref }) => ref.content))
          const brought: BroughtIn = await api.bringFile(file, (share) => (progress = { name: file.name, share }))
          progress = null
          const mended = missing.length ? mend(draft, brought, missing, holds) : ''
          if (mended) {
            overlay.notice = mended
            geometries.retry()
            return player.change(draft.document, false)
          }
          const found = brought.cameras && !asPath ? await inItsUnits(brought) : brought
          if (!found) return
          const offers = found.props.filter((offer) => (offer.group === 'path') === asPath)
          if (!offers.length)
            throw new Error(asPath ? `${file.name} holds no line.` : `${file.name} holds nothing to fit.`)
          for (const offer of offers) addProp(draft, newProp(draft.document, offer))
        } finally {
          progress = null
        }
      })
    }
  }
  let asking = $state.raw<BroughtIn | null>(null)
  let answered: (axes: { unit: number; up: 'y' | 'z' } | null) => void = () => undefined
  /** Return a file that holds cameras with its units and upright axis as they are said to be; null when it is left. */
  async function inItsUnits(file: BroughtIn): Promise<BroughtIn | null> {
    asking = file
    const axes = await new Promise<{ unit: number; up: 'y' | 'z' } | null>((resolve) => (answered = resolve))
    asking = null
    return axes && (await api.offersOf(file.content, axes.unit, axes.up))
  }
  /** Numbered files of one name are a sequence: a mesh that moves, or pictures one after the other. */
  async function bringSequence(files: File[]) {
    await overlay.attempt(async () => {
      try {
        const found: BroughtIn[] = []
        for (const [i, file] of files.entries()) {
          progress = { name: `${file.name} (${i + 1} of ${files.length})`, share: i / files.length }
          found.push(await api.bringFile(file, () => undefined))
        }
        const name = files[0].name.replace(/[._-]*\d+\.\w+$/, '') || 'sequence'
        const pictures = found.every((f) => f.kind === 'picture')
        const whole = pictures
          ? found[0]
          : await api.joinFiles(
              found.map((f) => f.content),
              framesASecond(draft.document.clip),
            )
        const [offer] = whole.props
        const more = pictures ? { files: found.map((f) => ({ content: f.content, name: f.name })) } : {}
        addProp(draft, newProp(draft.document, { ...offer, value: { ...(offer.value as object), name, ...more } }))
      } finally {
        progress = null
      }
    })
  }
  const groups = $derived([...new Set(props.map((p) => p.group ?? ''))])
  /** By group, each in the order of its first prop. */
  const ordered = $derived(groups.flatMap((group) => props.filter((p) => (p.group ?? '') === group)))
  let dropAt = $state<string | null>(null)
  /** Put a prop before another, into its group. */
  function place(uid: string, before: string) {
    const prop = props.find((p) => p.uid === uid)
    const target = props.find((p) => p.uid === before)
    if (!prop || !target || prop === target) return
    const rest = props.filter((p) => p !== prop)
    const down = props.indexOf(prop) < props.indexOf(target)
    rest.splice(rest.indexOf(target) + (down ? 1 : 0), 0, { ...prop, group: target.group ?? '' })
    draft.edit(`Move ${prop.name}`, ['props'], rest)
  }
  function shift(prop: Prop, by: number) {
    const to = ordered[ordered.indexOf(prop) + by]
    if (to) place(prop.uid, to.uid)
  }
  function menu(event: Event, prop: Prop) {
    event.preventDefault()
    overlay.openMenu(event.currentTarget, prop.name, [
      { label: 'Duplicate', hint: 'Ctrl D', act: () => twice(prop) },
      { label: 'Copy, for other effects too', hint: 'Ctrl C', act: () => copy(prop) },
      null,
      { label: 'Earlier', hint: 'Alt ↑', disabled: ordered[0] === prop, act: () => shift(prop, -1) },
      { label: 'Later', hint: 'Alt ↓', disabled: ordered.at(-1) === prop, act: () => shift(prop, 1) },
      null,
      { label: 'Remove', hint: 'Delete', act: () => remove(prop) },
    ])
  }
  const twice = (prop: Prop) => void overlay.attempt(() => duplicateProp(draft, prop.uid, prop.name))
  const copy = (prop: Prop) => void overlay.attempt(() => copyPiece(draft, { kind: 'prop', uid: prop.uid }))
  function keys(event: KeyboardEvent, prop: Prop) {
    const ctrl = event.ctrlKey || event.metaKey
    if (ctrl && event.key === 'd') twice(prop)
    else if (ctrl && event.key === 'c') copy(prop)
    else if (event.altKey && event.key === 'ArrowUp') shift(prop, -1)
    else if (event.altKey && event.key === 'ArrowDown') shift(prop, 1)
    else if (event.key === 'Delete') remove(prop)
    else if (event.key === 'ContextMenu' || (event.shiftKey && event.key === 'F10')) menu(event, prop)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function remove(prop: Prop) {
    if (catalog.layout.used[prop.uid]?.length) leaving = prop
    else take(prop)
  }
  function take(prop: Prop) {
    leaving = null
    // what followed it stands by itself
    const left = props.filter((p) => p !== prop).map((p) => (p.follow?.prop === prop.uid ? { ...p, follow: null } : p))
    if (draft.heldUid === prop.uid) draft.heldUid = null
    draft.edit(`Remove ${prop.name}`, ['props'], left)
  }
  function size(prop: Prop): string {
    const form = geometries.of(prop)
    if (!form) return ''
    if (form.shape === 'path') return `${form.length?.toFixed(2)} m long`
    if (!form.low || !form.high) return ''
    return `${form.high.map((h, i) => (h - form.low![i]).toFixed(2)).join(' × ')} m`
  }
</script>

<input
  bind:this={input}
  type="file"
  multiple
  accept=".obj,.ply,.stl,.glb,.png,.jpg,.jpeg,.exr,.webm,.mp4,.svg,.csv,.usd,.usda,.usdc,.usdz"
  class="hidden"
  aria-label="Bring in a file"
  onchange={(e) => {
    void bring(e.currentTarget.files)
    e.currentTarget.value = ''
  }}
/>
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="flex min-h-0 flex-1 flex-col {over ? 'outline-2 -outline-offset-2 outline-teal' : ''}"
  data-part="props"
  ondragover={(e) => {
    if (e.dataTransfer?.types.includes('Files')) {
      e.preventDefault()
      over = true
    }
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    if (e.dataTransfer?.files.length) {
      e.preventDefault()
      over = false
      void bring(e.dataTransfer.files)
    }
  }}
>
  <div class="flex items-center gap-2 border-b border-line px-3.5 py-2">
    <Action small kind="line" onclick={add} hintAt="right" hint="A shape, words, a path, a camera, or a file"
      ><span class="flex items-center gap-1"><Plus size={13} /> prop</span></Action
    >
    <span class="text-xs text-quiet"
      >{progress
        ? `Bringing in ${progress.name}: ${progress.share < 1 ? `${Math.round(progress.share * 100)} % sent` : 'being read…'}`
        : 'or drop a mesh, picture, film, drawing, points or cameras here'}</span
    >
    {#if progress}<progress class="ml-auto h-1.5 w-28" max="1" value={progress.share} aria-label="Sent"></progress>{/if}
  </div>
  <div class="min-h-0 flex-1 overflow-y-auto">
    <datalist id="prop-groups"
      >{#each groups.filter(Boolean) as group (group)}<option value={group}></option>{/each}</datalist
    >
    {#each ordered as prop, i (prop.uid)}
      {@const using = catalog.layout.used[prop.uid] ?? []}
      {@const problem = geometries.problem(prop)}
      {#if groups.length > 1 && (prop.group ?? '') !== (i ? (ordered[i - 1].group ?? '') : null)}<h3
          class="px-3.5 pt-2 pb-1 text-xs text-quiet"
        >
          {prop.group || 'without a group'}
        </h3>{/if}
      <div
        class="border-b border-line {draft.heldUid === prop.uid ? 'bg-raised' : 'hover:bg-raised/50'} {dropAt ===
        prop.uid
          ? 'outline-1 -outline-offset-1 outline-teal'
          : ''}"
        data-prop={prop.uid}
        {...dropOn(
          MOVED,
          prop.uid,
          (uid) => (dropAt = uid),
          (uid) => place(uid, prop.uid),
        )}
      >
        <button
          type="button"
          class="grid w-full grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-3 px-3.5 py-1 text-left"
          aria-expanded={draft.heldUid === prop.uid}
          title="Drag it to another place; right-click for what one can do with it"
          draggable="true"
          ondragstart={(e) => e.dataTransfer?.setData(MOVED, prop.uid)}
          oncontextmenu={(e) => menu(e, prop)}
          onkeydown={(e) => keys(e, prop)}
          onclick={() => choose(prop.uid)}
        >
          <Thumb geometry={geometries.of(prop)} />
          <span class="flex min-w-0 items-baseline gap-2"
            ><b class="max-w-1/2 shrink-0 truncate {prop.shown === 'hidden' ? 'opacity-60' : ''}">{prop.name}</b><span
              class="min-w-0 text-xs text-quiet"
              title={using.length > 2 ? `Used by ${using.join(', ')}` : undefined}
              >{catalog.part(prop, '')?.summary ?? ''}{prop.shown === 'hidden' ? ', hidden' : ''}{using.length
                ? `; used by ${using.length > 2 ? `${using[0]} and ${using.length - 1} others` : using.join(' and ')}`
                : ''}</span
            ></span
          >
          <span class="mono text-[11px] whitespace-nowrap text-quiet">{size(prop)}</span>
        </button>
        {#if problem}<p class="px-3.5 pb-1.5 text-xs text-amber">{problem}</p>{/if}
        {#if draft.heldUid === prop.uid}<PropSheet {prop} onremove={() => remove(prop)} />{/if}
      </div>
    {:else}
      <div class="px-4 py-8 text-center text-quiet">
        <p class="text-paper">Nothing to fit yet.</p>
        <p>
          Add a shape, words, a path or a camera, or drop a mesh or a picture here. Rows and formulas can read where a
          prop is.
        </p>
      </div>
    {/each}
  </div>
</div>
<FileAxes file={asking} onanswer={(axes) => answered(axes)} />
<Panel
  bind:open={() => leaving !== null, (open) => open || (leaving = null)}
  title="Remove {leaving?.name ?? ''}?"
  size="xs"
>
  <p>It is used by {leavingUsers.join(', ')}.</p>
  <p class="text-quiet">What follows it will stand by itself; a row or formula that reads it will ask for another.</p>
  {#snippet footer()}
    <Action kind="line" onclick={() => (leaving = null)}>Keep it</Action>
    <Action kind="chosen" onclick={() => take(leaving!)}>Remove it</Action>
  {/snippet}
</Panel>
