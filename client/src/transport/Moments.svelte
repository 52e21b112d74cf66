<!-- The clip's moments as flags along it: drag one and all that hangs on it moves; click it for its name, what it comes after, and to take it away. -->
<script lang="ts">
  import Flag from '@lucide/svelte/icons/flag'
  import NameInput from '../controls/NameInput.svelte'
  import { useDesk } from '../effect/context'
  import { withUids } from '../effect/path'
  import { before, momentTimes, placed } from '../effect/moments'
  import { framesASecond } from '../effect/rate'
  import { api } from '../wire/api'
  import type { Moment } from '../wire/types'

  const { draft, player, overlay } = useDesk()
  let width = $state(600)
  let naming = $state<string | null>(null)
  const moments = $derived(draft.document.moments ?? [])
  const times = $derived(momentTimes(draft.document))
  const rate = $derived(framesASecond(player.clip))
  const span = $derived(Math.max(1, player.clip.last_frame - player.clip.first_frame) / rate)
  const X = (seconds: number) => (Math.min(Math.max(seconds, 0), span) / span) * width
  let hand: { index: number; x: number; at: number; moved: boolean } | null = null

  function add() {
    const taken = new Set(moments.map((m) => m.name))
    let number = moments.length + 1
    while (taken.has(`Moment ${number}`)) number++
    const result = withUids({ uid: 'new', name: `Moment ${number}`, frame: player.frame }) as Moment
    draft.edit(`Add ${result.name.toLowerCase()}`, ['moments'], [...moments, result])
    naming = result.uid
  }
  const tell = (moment: Moment) => {
    const at = times.get(moment.uid) ?? 0
    const from = moments.find((each) => each.uid === moment.after)
    const here = `frame ${Number((player.clip.first_frame + at * rate).toFixed(1))}`
    return from
      ? `${moment.name}: ${Number((moment.seconds ?? 0).toFixed(3))} s after ${from.name}, ${here}`
      : `${moment.name}: ${here}`
  }
  function down(event: PointerEvent, index: number) {
    if (event.button !== 0) return
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    hand = { index, x: event.clientX, at: times.get(moments[index].uid) ?? 0, moved: false }
  }
  function moved(event: PointerEvent): Moment | null {
    if (!hand) return null
    const seconds = hand.at + ((event.clientX - hand.x) / width) * span
    return placed(draft.document, moments[hand.index], Math.min(Math.max(Math.round(seconds * rate) / rate, 0), span))
  }
  function move(event: PointerEvent) {
    if (!hand || Math.abs(event.clientX - hand.x) < 3) return
    hand.moved = true
    draft.drag(['moments', hand.index], moved(event))
  }
  function up(event: PointerEvent) {
    const was = hand
    const result = moved(event)
    hand = null
    if (!was) return
    if (was.moved) draft.edit(`Move ${moments[was.index].name}`, ['moments', was.index], result)
    else menu(event, was.index)
  }
  function keys(event: KeyboardEvent, index: number) {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const moment = moments[index]
    if (by) {
      const at = (times.get(moment.uid) ?? 0) + by / rate
      draft.edit(`Move ${moment.name}`, ['moments', index], placed(draft.document, moment, at))
    } else if (event.key === 'Enter') menu(event, index)
    else if (event.key === 'Delete') remove(moment)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const remove = (moment: Moment) =>
    void overlay.attempt(() => draft.ask((document) => api.deleteMoment(document, moment.uid), `Remove ${moment.name}`))
  const rename = (moment: Moment, name: string) =>
    void overlay.attempt(() =>
      draft.ask(
        (document) => api.rename({ document, kind: 'moment', uid: moment.uid, name, emitter: '' }),
        `Rename ${moment.name}`,
      ),
    )
  function menu(event: Event, index: number) {
    const moment = moments[index]
    const at = times.get(moment.uid) ?? 0
    const path = ['moments', index] as const
    overlay.openMenu(event.currentTarget, moment.name, [
      { label: 'Rename…', act: () => (naming = moment.uid) },
      { label: 'Go there', act: () => player.go(Math.round(player.clip.first_frame + at * rate)) },
      {
        label: `Move it to frame ${player.frame}`,
        act: () =>
          draft.edit(
            `Move ${moment.name}`,
            path,
            placed(draft.document, moment, (player.frame - player.clip.first_frame) / rate),
          ),
      },
      null,
      {
        label: 'Stands at a frame',
        disabled: !moment.after,
        why: 'It does already.',
        act: () =>
          draft.edit(
            `Let ${moment.name} stand at a frame`,
            path,
            placed(draft.document, { ...moment, after: null }, at),
          ),
      },
      ...before(draft.document, moment)
        .filter((each) => each.uid !== moment.after)
        .map((each) => ({
          label: `Comes after ${each.name}`,
          act: () =>
            draft.edit(
              `Let ${moment.name} come after ${each.name}`,
              path,
              placed(draft.document, { ...moment, after: each.uid }, at),
            ),
        })),
      null,
      { label: `Remove ${moment.name}`, act: () => remove(moment) },
    ])
  }
</script>

<div class="grid h-[22px] grid-cols-[302px_minmax(0,1fr)_416px] items-center gap-4 px-4" data-part="moments">
  <span class="flex items-baseline gap-3 text-quiet"
    ><span>Moments</span><button
      type="button"
      class="text-xs underline decoration-dotted hover:text-paper"
      title="Starts, ends, bursts, rows and props can hang on a moment: moving it moves them all"
      onclick={add}>add one at frame {player.frame}</button
    ></span
  >
  <div class="relative h-[22px]" bind:clientWidth={width}>
    <span class="absolute inset-x-0 top-[10px] h-px bg-line"></span>
    {#each moments as moment, index (moment.uid)}
      {@const at = times.get(moment.uid) ?? 0}
      {#if naming === moment.uid}
        <span class="absolute top-0 z-10" style:left="{X(at)}px"
          ><NameInput
            value={moment.name}
            label="Name of the moment"
            onset={(name) => rename(moment, name)}
            onclose={() => (naming = null)}
            class="h-[20px] w-28 text-[11px]"
          /></span
        >
      {:else}
        <button
          type="button"
          class="absolute top-[2px] flex h-[18px] cursor-ew-resize touch-none items-center gap-1 rounded-sm border-l-2 border-amber bg-panel pr-1.5 pl-1 text-[11px] text-paper hover:bg-raised"
          style:left="{X(at)}px"
          title="{tell(moment)}. Drag it; click for what one can do with it"
          aria-label={tell(moment)}
          aria-haspopup="menu"
          data-moment={moment.uid}
          onpointerdown={(e) => down(e, index)}
          onpointermove={move}
          onpointerup={up}
          onkeydown={(e) => keys(e, index)}
          ><Flag size={10} class="text-amber" />{moment.name}{#if moment.after}<span class="text-quiet"
              >+{Number((moment.seconds ?? 0).toFixed(2))} s</span
            >{/if}</button
        >
      {/if}
    {/each}
  </div>
  <span></span>
</div>
