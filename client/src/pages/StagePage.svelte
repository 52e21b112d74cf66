<!-- The stage alone in a window of its own, for a second monitor, in step with the Desk. -->
<script lang="ts">
  import { onDestroy, onMount, untrack } from 'svelte'
  import { display } from '../controls/display.svelte'
  import type { Catalog } from '../effect/catalog.svelte'
  import { provideDesk } from '../effect/context'
  import { Following, type Seen } from '../effect/instep'
  import { PickedLife } from '../effect/onelife.svelte'
  import { OpenEffect } from '../effect/open.svelte'
  import { Overlay } from '../effect/overlay.svelte'
  import { Player } from '../effect/player.svelte'
  import { Presets } from '../effect/presets.svelte'
  import { Room } from '../effect/room.svelte'
  import { Selection } from '../effect/selection.svelte'
  import Stage from '../stage/Stage.svelte'
  import type { Opened } from '../wire/types'

  let { opened, catalog }: { opened: Opened; catalog: Catalog } = $props()
  const draft = untrack(() => new OpenEffect(opened))
  const player = new Player(draft.document, draft.playable)
  untrack(() =>
    provideDesk({
      draft,
      player,
      catalog,
      overlay: new Overlay(),
      selection: new Selection(draft, catalog),
      presets: new Presets(),
      picked: new PickedLife(draft, player),
      room: new Room(),
    }),
  )
  untrack(() => (catalog.layout = opened.layout))
  $effect.pre(() => display.follow(draft.document.clip))
  let led = $state(false)

  function show(seen: Seen) {
    led = true
    if (seen.document !== draft.document && JSON.stringify(seen.document) !== JSON.stringify(draft.document)) {
      draft.document = seen.document
      player.change(seen.document, seen.dragging)
    } else if (player.dragging && !seen.dragging) player.change(draft.document, false)
    if (seen.shade !== player.shade) player.shadeBy(seen.shade)
    if (seen.field !== player.field) player.showField(seen.field)
    player.pick(seen.picked)
    if (seen.playing !== player.playing) {
      player.go(seen.frame)
      player.toggle()
    } else if (!seen.playing && seen.frame !== player.frame) player.go(seen.frame)
  }
  const following = new Following(draft.id, show)
  onMount(() => {
    player.frame = Math.round((player.clip.first_frame + player.clip.last_frame) / 2)
    player.change(draft.document, false)
  })
  onDestroy(() => {
    following.close()
    player.close()
  })
  function keys(event: KeyboardEvent) {
    const what = { ' ': 'toggle', ',': 'back', '.': 'on' }[event.key] as 'toggle' | 'back' | 'on' | undefined
    if (!what || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    following.ask(what)
  }
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>{draft.document.name}: stage · Kagero</title></svelte:head>
<main class="relative h-full" data-part="stage-page">
  <Stage bare />
  <span class="absolute right-3.5 bottom-3 text-xs text-quiet" role="status"
    >{led ? `frame ${player.frame}` : 'Waiting for the Desk of this effect in another window.'}</span
  >
</main>
