<!-- The main screen of one effect. -->
<script lang="ts">
  import { Pane, PaneGroup } from 'paneforge'
  import { onDestroy, onMount, tick, untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import Panel from '../controls/Panel.svelte'
  import Segments from '../controls/Segments.svelte'
  import { ground } from '../controls/theme.svelte'
  import { picking } from '../controls/picking.svelte'
  import { display } from '../controls/display.svelte'
  import type { Catalog } from '../effect/catalog.svelte'
  import { Commands, keyName, keyWords } from '../effect/commands.svelte'
  import { provideDesk } from '../effect/context'
  import { lastSeen } from '../effect/lastseen'
  import { Leading } from '../effect/instep'
  import { OpenEffect } from '../effect/open.svelte'
  import { PickedLife } from '../effect/onelife.svelte'
  import { shelve } from '../effect/edits'
  import { Overlay } from '../effect/overlay.svelte'
  import { Player } from '../effect/player.svelte'
  import { Presets } from '../effect/presets.svelte'
  import { Room } from '../effect/room.svelte'
  import { Selection } from '../effect/selection.svelte'
  import { Warming } from '../effect/warming.svelte'
  import LifeStrip from '../life/LifeStrip.svelte'
  import ResponseEditor from '../response/ResponseEditor.svelte'
  import Overlays from '../overlay/Overlays.svelte'
  import SheetPlace from '../sheet/SheetPlace.svelte'
  import Stage from '../stage/Stage.svelte'
  import Transport from '../transport/Transport.svelte'
  import { api } from '../wire/api'
  import type { Opened } from '../wire/types'
  import Edge from './Edge.svelte'
  import { FirstEffect } from '../first/first.svelte'
  import { stepsToGo } from '../effect/steps'
  import TopBar from './TopBar.svelte'

  let {
    opened,
    catalog,
    onlibrary,
    onopen,
  }: { opened: Opened; catalog: Catalog; onlibrary: () => void; onopen: (id: number) => void } = $props()

  const draft = untrack(() => new OpenEffect(opened))
  const player = new Player(draft.document, draft.playable)
  const selection = new Selection(
    draft,
    untrack(() => catalog),
  )
  const overlay = new Overlay()
  const presets = new Presets()
  const picked = new PickedLife(draft, player)
  const room = new Room()
  const warming = new Warming(api.warming)
  room.standing = lastSeen.of(untrack(() => opened.id))?.standing ?? null
  untrack(() => provideDesk({ draft, player, catalog, selection, overlay, presets, picked, room }))
  untrack(() => {
    catalog.layout = opened.layout
    draft.onlayout = (layout) => (catalog.layout = layout)
  })
  $effect(() => {
    // the rows of a prop are looked at in the view of props alone
    if (selection.view !== 'props' && selection.view !== 'finish' && draft.heldUid)
      untrack(() => {
        draft.heldUid = null
        selection.select(null)
      })
  })
  let down = $state<PaneGroup>()
  let across = $state<PaneGroup>()
  let left = $state<PaneGroup>()
  let response = $state<Pane>()
  $effect.pre(() => display.follow(draft.document.clip))
  const main = $derived(room.shows('stage') || room.shows('sheet'))
  const shaping = $derived(selection.found !== null || selection.written !== null)
  $effect(() => {
    // nothing to shape: the room belongs to the sheet and the stage
    const open = shaping || (room.narrow && room.one === 'response')
    if (!response) return
    if (open && response.isCollapsed()) response.expand()
    else if (!open && !response.isCollapsed()) response.collapse()
  })
  const getTall = () => tall
  let tall = $state(false)
  function setTall(on: boolean) {
    tall = on
    const share = on ? Math.min(room.lifeShare * 1.9, 62) : room.lifeShare
    left?.setLayout([100 - share, share])
  }
  let exporting = $state(false)
  let helping = $state(false)
  let clipping = $state(false)
  const conflict = $derived(draft.saveState === 'conflict')

  const heard = () => selection.heard(draft.document, room.standing)
  draft.onchange = (dragging) => player.change(heard(), dragging)
  let heardBefore: unknown[] = [null, null, false, false, null]
  $effect(() => {
    // what is heard changes with the solo, dials as others turned them and the view, though the document does not
    const now = [
      selection.solo,
      selection.turned,
      selection.fromHere,
      selection.fromHere && room.standing,
      selection.preview,
    ]
    if (now.every((part, i) => part === heardBefore[i])) return
    heardBefore = now
    untrack(() => player.change(heard(), false))
  })
  $effect(() => {
    void [draft.document, player.picked]
    // a life is long to follow: not while a hand is dragging
    if (draft.saveState !== 'changed' || !player.picked) untrack(() => void picked.refresh())
  })
  onMount(() => {
    void overlay.attempt(() => presets.load())
    // a good first look: the middle of the clip, and the response that shapes size most often
    const clip = draft.document.clip
    const left = lastSeen.of(draft.id)
    const emitter = draft.document.emitters.findIndex((each) => each.uid === left?.emitter)
    draft.emitterIndex = Math.max(emitter, 0)
    const middle = Math.round((clip.first_frame + clip.last_frame) / 2)
    player.frame = Math.min(Math.max(left?.frame ?? middle, clip.first_frame), clip.last_frame)
    if (left) selection.view = left.view
    selection.select(left ? left.response : (draft.emitter.look.size.responses?.[0]?.uid ?? null))
    player.change(draft.document, false)
  })
  $effect(() => {
    // where one was is found again after a reload or a way back, in this window
    lastSeen.keep(draft.id, {
      frame: player.frame,
      emitter: draft.emitter.uid,
      view: selection.view,
      response: selection.uid,
      standing: room.standing,
    })
  })
  const leading = new Leading(
    draft.id,
    () => ({
      document: heard(),
      dragging: player.dragging,
      frame: player.frame,
      playing: player.playing,
      picked: player.picked,
      shade: player.shade,
      field: player.field,
    }),
    (what) => (what === 'toggle' ? player.toggle() : player.go(player.frame + (what === 'on' ? 1 : -1))),
  )
  $effect(() => {
    // every frame while it stands still; of a clip that plays only that it does
    void [draft.document, selection.solo, selection.turned, player.dragging, player.playing, player.picked]
    void [player.shade, player.field, player.playing || player.frame]
    untrack(() => leading.tell())
  })
  onDestroy(() => {
    leading.close()
    player.close()
    warming.close()
  })

  /** A list of the rows, to go to one by its name. */
  function findRow() {
    const sheet = document.querySelector('[data-part=sheet]')
    overlay.openList(
      sheet,
      'Go to a row',
      catalog
        .rowsOf(draft.emitter)
        .filter((r) => !r.unused && !r.path.includes('place') && !/launch.(direction|cone)/.test(r.address))
        .map((r) => ({ label: r.label, group: r.spec.band, help: r.spec.help, act: () => goTo(r.address) })),
    )
  }
  function goTo(address: string) {
    selection.view = 'sheet'
    selection.filter = null
    const row = catalog.rowAt(draft.emitter, address)!
    if (!document.querySelector(`[data-name="${address}"]`) && !row.spec.always)
      shelve(draft, 'added', address, true, `Add ${row.label.toLowerCase()}`)
    void tick().then(() => {
      const name = document.querySelector<HTMLElement>(`[data-name="${address}"]`)
      name?.focus()
      name?.scrollIntoView({ block: 'nearest' })
    })
  }

  /** Where Space means what it means there; everywhere else it plays, and Enter presses what has the focus. */
  const OWN_SPACE = '[role=menu], [role=listbox], [role=dialog], [type=checkbox], [type=radio]'
  const TEXT = 'input:not([type=range], [type=checkbox], [type=radio]), select, textarea, .cm-editor'
  const VIEWS = {
    sheet: 'Sheet',
    loom: 'Loom',
    table: 'Table',
    one: 'One life',
    props: 'Props',
    finish: 'Finish',
  } as const
  const commands = new Commands([
    { id: 'play', label: 'Play, pause', group: 'time', key: 'Space', act: () => player.toggle(), yields: OWN_SPACE },
    { id: 'back', label: 'One frame back', group: 'time', key: ',', act: () => player.go(player.frame - 1) },
    { id: 'on', label: 'One frame on', group: 'time', key: '.', act: () => player.go(player.frame + 1) },
    {
      id: 'first',
      label: 'To the first frame',
      group: 'time',
      key: '<',
      act: () => player.go(player.clip.first_frame),
    },
    { id: 'last', label: 'To the last frame', group: 'time', key: '>', act: () => player.go(player.clip.last_frame) },
    { id: 'loop', label: 'Loop', group: 'time', key: 'L', act: () => (player.loop = !player.loop) },
    {
      id: 'seconds',
      label: 'Times, lengths and rates: in what they are shown',
      group: 'time',
      key: '',
      act: () => (clipping = true),
    },
    {
      id: 'ground',
      label: 'Light or dark ground of the application',
      group: 'help',
      key: '',
      act: () => ground.choose(ground.now === 'day' ? 'night' : 'day'),
    },
    {
      id: 'clip',
      label: 'Frame rate, length, seed, steps in a frame',
      group: 'time',
      key: '',
      act: () => (clipping = true),
    },
    {
      id: 'sequence',
      label: 'Sequence: when each emitter runs',
      group: 'time',
      key: 'S',
      act: () => (selection.sequence = !selection.sequence),
      yields: '[data-name], [data-chip]',
    },
    { id: 'undo', label: 'Undo', group: 'edit', key: 'Ctrl+Z', act: () => void draft.undo() },
    { id: 'redo', label: 'Redo', group: 'edit', key: 'Ctrl+Shift+Z', act: () => void draft.redo() },
    { id: 'history', label: 'Steps: go back or forward to any', group: 'edit', key: 'H', act: showHistory },
    { id: 'row', label: 'Go to a row by its name', group: 'edit', key: '/', act: findRow },
    {
      id: 'dials',
      label: 'Dials',
      group: 'edit',
      key: 'D',
      act: () => (selection.dials = !selection.dials),
      yields: '[data-name]',
    },
    {
      id: 'solo',
      label: 'End solo',
      group: 'edit',
      key: '',
      act: () => (selection.solo = null),
    },
    ...Object.entries(VIEWS).map(([view, label], i) => ({
      id: `view-${view}`,
      label,
      group: 'view',
      key: String(i + 1),
      act: () => (selection.view = view as keyof typeof VIEWS),
      yields: '[data-key], [data-handle]',
    })),
    { id: 'stage', label: 'The stage alone, and back', group: 'view', key: 'W', act: () => room.toggle('stage') },
    { id: 'alone', label: 'The sheet alone, and back', group: 'view', key: 'Shift+W', act: () => room.toggle('sheet') },
    { id: 'beside', label: 'Two views', group: 'view', key: 'B', act: () => (selection.beside = !selection.beside) },
    {
      id: 'window',
      label: 'The stage in a window of its own',
      group: 'view',
      key: 'Shift+B',
      act: () => room.openStage(draft.id),
    },
    {
      id: 'before',
      label: 'Hold: as it was before shaping',
      group: 'view',
      key: 'A',
      act: () => player.showBefore(true),
      release: () => player.showBefore(false),
    },
    { id: 'frame', label: 'Frame all', group: 'eye', key: 'F', act: () => (room.eye = { to: 'all' }) },
    {
      id: 'frame-chosen',
      label: 'Frame what is chosen',
      group: 'eye',
      key: 'Shift+F',
      act: () => (room.eye = { to: 'chosen' }),
    },
    { id: 'front', label: 'Look from the front', group: 'eye', key: 'Z', act: () => (room.eye = { to: 'z' }) },
    { id: 'side', label: 'Look from the side', group: 'eye', key: 'X', act: () => (room.eye = { to: 'x' }) },
    {
      id: 'figure',
      label: 'A figure 1.7 m tall, to judge scale',
      group: 'eye',
      key: '',
      act: () => (room.figure = !room.figure),
    },
    { id: 'above', label: 'Look from above', group: 'eye', key: 'Y', act: () => (room.eye = { to: 'y' }) },
    {
      id: 'camera',
      label: "Look from the effect's camera",
      group: 'eye',
      key: 'Q',
      act: () => (room.eye = { to: 'camera' }),
    },
    {
      id: 'plain',
      label: 'Hide grid, handles and outlines, and back',
      group: 'eye',
      key: 'G',
      act: () => (room.plain = !room.plain),
    },
    { id: 'export', label: 'Export', group: 'effect', key: 'E', act: () => (exporting = true) },
    { id: 'library', label: 'To the library', group: 'effect', key: '', act: () => onlibrary() },
    {
      id: 'turn',
      label: 'The page of dials, for others to turn',
      group: 'effect',
      key: '',
      act: () => void window.open(`/effects/${draft.id}/dials`),
    },
    { id: 'first-effect', label: 'A first effect in six steps', group: 'help', key: '', act: firstEffect },
    { id: 'help', label: 'Keys and gestures', group: 'help', key: '?', act: () => (helping = true) },
    { id: 'commands', label: 'All that can be done', group: 'help', key: 'Ctrl+K', act: findCommand },
  ])
  function firstEffect() {
    helping = false
    void overlay.attempt(async () => onopen(await FirstEffect.start()))
  }
  /** Every state of the draft by what led to it, the newest first. */
  function showHistory() {
    void overlay.attempt(async () => {
      const steps = stepsToGo(await api.history(draft.id), (number) => void draft.walk(number))
      overlay.openList(document.querySelector('[data-part=history]'), 'Steps', steps)
    })
  }
  /** Everything there is, searched by name, with its key. */
  function findCommand() {
    overlay.openList(
      document.querySelector('[data-part=commands]'),
      'All that can be done',
      commands.list
        .filter((each) => each.id !== 'commands')
        .map((each) => ({
          label: each.label,
          group: each.group,
          detail: keyWords(commands.keyOf(each)),
          act: each.act,
        })),
    )
  }
  function keys(event: KeyboardEvent) {
    const target = event.target as HTMLElement
    if (target.closest('dialog')) return
    if (target.closest(TEXT) && keyName(event) !== 'Ctrl+K') return
    if (event.key === 'Escape') {
      if (picking.wish) picking.give(null)
      else if (selection.marked.length) selection.marked = []
      else if (selection.solo) selection.solo = null
      else if (player.picked) player.pick(null)
      else if (room.alone) room.alone = ''
      else return
    } else if (keyName(event) === 'Ctrl+Y') void draft.redo()
    else if (keyName(event) === 'Ctrl+A')
      window.getSelection()?.removeAllRanges() // the words of the screen are no text to be marked
    else if (!commands.press(event)) return
    event.preventDefault()
  }
</script>

<svelte:window
  bind:innerWidth={room.width}
  bind:innerHeight={room.height}
  onkeydown={keys}
  onblur={() => commands.release()}
  onkeyup={(event) => {
    commands.release()
    const target = event.target as HTMLElement
    if (event.key === ' ' && target.closest('button, [role=radio]') && !target.closest(OWN_SPACE))
      event.preventDefault()
  }}
  onbeforeunload={(event) => {
    if (draft.unsaved && draft.saveState !== 'refused') event.preventDefault()
  }}
/>
<svelte:head><title>{draft.document.name} · Kagero</title></svelte:head>

<div class="flex h-full min-w-0 flex-col">
  <TopBar
    onexport={() => (exporting = true)}
    onhelp={() => (helping = true)}
    oncommands={findCommand}
    onhistory={showHistory}
    {onlibrary}
  />
  {#if room.narrow && !room.alone}
    <div class="flex shrink-0 justify-center border-b border-line bg-panel py-1.5">
      <Segments
        label="What is seen"
        value={room.one}
        options={[
          { value: 'stage', label: 'Stage' },
          { value: 'sheet', label: 'Sheet' },
          { value: 'response', label: 'Response' },
        ]}
        onpick={(one) => (room.one = one)}
      />
    </div>
  {/if}
  <PaneGroup direction="vertical" autoSaveId="kagero.desk" keyboardResizeBy={2} class="min-h-0 flex-1" bind:this={down}>
    <Pane defaultSize={100 - room.responseShare} minSize={25} class={main ? '' : 'hidden'}>
      <main class="h-full min-h-0">
        <PaneGroup direction="horizontal" autoSaveId="kagero.main" keyboardResizeBy={2} bind:this={across}>
          <Pane defaultSize={100 - room.sheetShare} minSize={15} class={room.shows('stage') ? '' : 'hidden'}>
            <PaneGroup direction="vertical" autoSaveId="kagero.left" keyboardResizeBy={2} bind:this={left}>
              <Pane defaultSize={100 - room.lifeShare} minSize={25}>
                <div class="relative grid h-full min-h-0 {selection.beside ? 'grid-cols-2 gap-px bg-line' : ''}">
                  <Stage preparing={warming.words} />{#if selection.beside}<Stage second />{/if}
                  {#await import('../first/FirstSteps.svelte') then { default: FirstSteps }}<FirstSteps />{/await}
                </div>
              </Pane>
              <Edge
                across
                hidden={room.alone === 'stage'}
                label="Edge between the stage and the strip of a life"
                onreset={() => left?.setLayout([100 - room.lifeShare, room.lifeShare])}
              />
              <Pane defaultSize={room.lifeShare} minSize={8} class={room.alone === 'stage' ? 'hidden' : ''}>
                <LifeStrip bind:tall={getTall, setTall} />
              </Pane>
            </PaneGroup>
          </Pane>
          <Edge
            hidden={!room.shows('stage') || !room.shows('sheet')}
            label="Edge between the stage and the sheet"
            onreset={() => across?.setLayout([100 - room.sheetShare, room.sheetShare])}
          />
          <Pane defaultSize={room.sheetShare} minSize={25} class={room.shows('sheet') ? '' : 'hidden'}>
            <div class="relative h-full min-h-0 min-w-0">
              <SheetPlace
              />{#if selection.dials}{#await import('../dials/DialsDrawer.svelte') then { default: DialsDrawer }}<DialsDrawer
                  />{/await}{/if}
            </div>
          </Pane>
        </PaneGroup>
      </main>
    </Pane>
    <Edge
      across
      hidden={!main || !room.shows('response') || !shaping}
      label="Edge above the response"
      onreset={() => down?.setLayout([100 - room.responseShare, room.responseShare])}
    />
    <Pane
      defaultSize={room.responseShare}
      minSize={18}
      collapsible
      collapsedSize={0}
      bind:this={response}
      class={room.shows('response') ? '' : 'hidden'}
    >
      <div class="h-full min-h-0 overflow-x-hidden overflow-y-auto"><ResponseEditor /></div>
    </Pane>
  </PaneGroup>
  {#if selection.sequence && !room.alone}{#await import('../transport/Sequence.svelte') then { default: Sequence }}<Sequence
      />{/await}{/if}
  <Transport onclip={() => (clipping = true)} />
</div>

<Overlays />
{#if exporting}{#await import('../export/ExportDialog.svelte') then { default: ExportDialog }}<ExportDialog
      bind:open={exporting}
    />{/await}{/if}
{#if clipping}{#await import('../transport/ClipDialog.svelte') then { default: ClipDialog }}<ClipDialog
      bind:open={clipping}
    />{/await}{/if}
{#if helping}{#await import('./HelpSheet.svelte') then { default: HelpSheet }}<HelpSheet
      bind:open={helping}
      {commands}
      onfirst={firstEffect}
    />{/await}{/if}
<Panel open={conflict} title="Changed in another window" size="sm" dismissable={false}>
  <p>
    This effect was changed elsewhere since you opened it. Your edit is still here and nothing has been overwritten.
  </p>
  {#snippet footer()}
    <Action kind="line" onclick={() => draft.takeTheirs()}>Open the newer state</Action>
    <Action kind="chosen" onclick={async () => onopen(await draft.keepCopy())}>Keep mine as a copy</Action>
  {/snippet}
</Panel>
