<!-- Keys over the clip of what is looked at: rows that clip time drives, and the open dial. Drag them, with Ctrl a copy goes, Delete removes. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import { put } from '../effect/path'
  import { dialMoved, moved, timesOf } from '../effect/timekeys'
  import type { Dial, Effect, Emitter } from '../wire/types'

  let { width }: { width: number } = $props()
  const { draft, player, catalog, selection } = useDesk()
  const rate = $derived(1 / (2 * player.near))
  const span = $derived(Math.max(1, player.clip.last_frame - player.clip.first_frame))
  /** Pixels from the clip's first frame; what lies behind its last stands at its end, where it can be taken. */
  const X = (time: number) => Math.min(Math.max((time * rate) / span, 0), 1) * width
  const dial = $derived(
    selection.dials ? (draft.document.dials ?? []).find((d) => d.uid === selection.dial && d.keys?.length) : undefined,
  )
  /** Each frame that has keys, with what they are of. */
  const marks = $derived.by(() => {
    const found: Record<number, string[]> = {}
    const add = (time: number, name: string) => {
      const frame = Math.round(time * rate)
      if (!(found[frame] ??= []).includes(name)) found[frame].push(name)
    }
    if (dial) for (const key of dial.keys!) add(key.time, dial.name)
    else
      for (const row of catalog.rowsOf(draft.owner))
        for (const time of timesOf(row.row)) add(time, row.label.toLowerCase())
    return Object.entries(found).map(([frame, names]) => ({ time: Number(frame) / rate, names }))
  })
  let hand: { from: number; at: number; x: number; document: Effect; copies: boolean; moved: boolean } | null = null

  function changed(document: Effect, from: number, to: number | null, copies: boolean): Effect {
    if (dial) {
      const index = document.dials.findIndex((d) => d.uid === dial.uid)
      return put(document, ['dials', index], dialMoved(document.dials[index] as Dial, from, to, player.near, copies))
    }
    const path = draft.inEmitter([])
    let owner = path.reduce((at: unknown, step) => (at as never)[step], document) as Emitter
    for (const row of catalog.rowsOf(owner)) {
      const other = moved(row.row, from, to, player.near, copies)
      if (other !== row.row) owner = put(owner, row.path, other)
    }
    return put(document, path, owner)
  }
  const words = (names: string[]) =>
    names.slice(0, 3).join(', ') + (names.length > 3 ? ` and ${names.length - 3} more` : '')
  const frameOf = (time: number) => player.clip.first_frame + Math.round(time * rate)

  function down(event: PointerEvent, time: number) {
    if (event.button !== 0) return
    event.stopPropagation()
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    hand = { from: time, at: time, x: event.clientX, document: draft.document, copies: false, moved: false }
  }
  function move(event: PointerEvent) {
    if (!hand) return
    event.stopPropagation()
    const frames = Math.round(((event.clientX - hand.x) / width) * span)
    const to = Math.min(Math.max(hand.from + frames / rate, 0), span / rate)
    hand.copies = event.ctrlKey || event.metaKey
    if (Math.abs(to - hand.at) < player.near) return
    hand.at = to
    hand.moved = true
    draft.document = changed(hand.document, hand.from, to, hand.copies)
    draft.onchange(true)
  }
  function up(event: PointerEvent) {
    event.stopPropagation()
    const was = hand
    hand = null
    if (!was) return
    if (!was.moved) return player.go(frameOf(was.from))
    if (Math.abs(was.at - was.from) < player.near) {
      draft.document = was.document
      draft.onchange(false)
    } else draft.commit(`${was.copies ? 'Copy' : 'Move'} keys to frame ${frameOf(was.at)}`)
  }
  function press(event: KeyboardEvent, time: number, index: number) {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    const to = step && time + (step * (event.shiftKey ? 10 : 1)) / rate
    if (to !== undefined && to >= 0 && to <= span / rate)
      draft.replace(
        changed(draft.document, time, to, event.ctrlKey || event.metaKey),
        `Move keys to frame ${frameOf(to)}`,
      )
    else if (event.key === 'Delete' || event.key === 'Backspace')
      draft.replace(changed(draft.document, time, null, false), `Remove the keys at frame ${frameOf(time)}`)
    else if (event.key === 'Enter') player.go(frameOf(time))
    else return
    event.preventDefault()
    event.stopPropagation()
    const order = to === undefined ? index : marks.findIndex((m) => Math.abs(m.time - to) < player.near)
    requestAnimationFrame(() => document.querySelectorAll<HTMLElement>('[data-time-key]')[Math.max(order, 0)]?.focus())
  }
</script>

{#each marks as mark, i (mark.time)}
  <button
    type="button"
    data-time-key={frameOf(mark.time)}
    class="absolute bottom-[-1px] h-[11px] w-[11px] -translate-x-1/2 cursor-ew-resize touch-none rounded-full border-[1.6px] border-paper {Math.abs(
      mark.time - player.seconds,
    ) < player.near
      ? 'bg-vermilion'
      : 'bg-ink'}"
    style:left="{X(mark.time)}px"
    aria-label="Keys at frame {frameOf(mark.time)}: {words(mark.names)}"
    title="Frame {frameOf(mark.time)}: {words(
      mark.names,
    )}. Drag them, with Ctrl a copy goes; arrows move, Delete removes."
    onpointerdown={(e) => down(e, mark.time)}
    onpointermove={move}
    onpointerup={up}
    onkeydown={(e) => press(e, mark.time, i)}
  ></button>
{/each}
