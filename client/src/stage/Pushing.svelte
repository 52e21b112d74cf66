<!-- What pushes: arrows on the picked particle, a slice through it of one push or all; and the rails that rides go along. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { useDesk } from '../effect/context'
  import { api } from '../wire/api'
  import type { PushArrow, PushSlice } from './pushlayer'
  import type { StageScene } from './scene'

  let {
    scene,
    looks,
    quiet,
  }: {
    scene: StageScene | null
    /** Grows when one looks from elsewhere. */
    looks: number
    /** Nothing is shown: on a second stage, and where only the picture counts. */
    quiet: boolean
  } = $props()
  const { draft, player, catalog, selection, overlay } = useDesk()
  let slice = $state.raw<PushSlice | null>(null)
  const pushNames = $derived(
    new Map((draft.emitter.forces ?? []).map((f) => [f.uid, catalog.part(draft.emitter, `forces.#${f.uid}`)?.label])),
  )
  const arrows = $derived.by((): PushArrow[] => {
    const pushes = selection.arrows && player.picked ? player.one(player.picked.emitter)?.pushes : undefined
    if (!pushes) return []
    const result = Object.entries(pushes).map(([uid, vector]) => ({
      name: (pushNames.get(uid) ?? 'push').toLowerCase(),
      vector,
    }))
    const sum = [0, 1, 2].map((axis) => result.reduce((total, { vector }) => total + vector[axis], 0))
    return result.length > 1 ? [...result, { name: 'all', vector: sum, sum: true }] : result
  })
  let slicing = 0
  $effect(() => {
    const { picked: one, shown } = player
    if (quiet || selection.slice === null || !one || !shown || player.dragging) {
      slice = null
      return
    }
    void [looks, draft.document]
    const push = selection.slice
    const turn = ++slicing
    const later = setTimeout(async () => {
      const at = scene?.pickedPlace()
      if (!scene || !at) return
      const { across, up, distance } = scene.facing(at)
      const reach = 0.35 * distance
      try {
        const result = await api.slice(
          untrack(() => draft.plain()),
          {
            emitter: one.emitter,
            frame: shown.frame,
            key: one.key,
            push,
            across: across as [number, number, number],
            up: up as [number, number, number],
            reach,
            count: 21,
          },
        )
        if (turn === slicing) slice = { ...result, reach, flowing: false }
      } catch {
        if (turn === slicing) slice = null // it lives no more, or cannot be played now: the stage says that elsewhere
      }
    }, 120)
    return () => clearTimeout(later)
  })
  $effect(() => {
    void [player.shown, looks]
    scene?.pushed(quiet ? [] : arrows, slice && { ...slice, flowing: selection.flowing })
  })
  const rides = $derived((draft.emitter.rides ?? []).some((ride) => !ride.muted))
  let railing = 0
  $effect(() => {
    const { shown } = player
    if (quiet || !selection.rails || !rides || !shown) {
      scene?.rails([])
      return
    }
    if (player.playing || player.dragging) return // they wait until things rest
    void draft.document
    const turn = ++railing
    const later = setTimeout(async () => {
      try {
        const result = await api.rails(
          untrack(() => draft.plain()),
          untrack(() => draft.emitter.uid),
          shown.frame,
        )
        if (turn === railing) scene?.rails(result.flatMap((each) => each.lines))
      } catch {
        if (turn === railing) scene?.rails([])
      }
    }, 150)
    return () => clearTimeout(later)
  })
  function pushing(event: Event) {
    const forces = draft.emitter.forces ?? []
    overlay.openMenu(event.currentTarget, 'What pushes', [
      {
        label: selection.arrows ? 'No arrows on the picked particle' : 'Arrows on the picked particle',
        act: () => (selection.arrows = !selection.arrows),
      },
      {
        label: selection.rails ? 'No rails of rides' : 'Rails of rides',
        disabled: !rides,
        why: 'This emitter has no rides.',
        act: () => (selection.rails = !selection.rails),
      },
      null,
      { label: 'No slice', disabled: selection.slice === null, act: () => (selection.slice = null) },
      {
        label: selection.flowing ? 'Slices as arrows' : 'Slices as streamlines',
        act: () => {
          selection.flowing = !selection.flowing
          selection.slice ??= ''
        },
      },
      { label: 'A slice of all pushes', act: () => (selection.slice = '') },
      ...forces.map((f) => ({
        label: `A slice of ${(pushNames.get(f.uid) ?? f.kind).toLowerCase()}`,
        act: () => (selection.slice = f.uid),
      })),
    ])
  }
  const pushWords = $derived(
    selection.slice === null
      ? selection.arrows
        ? 'arrows'
        : ''
      : selection.slice
        ? `slice of ${(pushNames.get(selection.slice) ?? 'a push').toLowerCase()}`
        : 'slice of all',
  )
</script>

{#if draft.emitter.forces?.length || rides}<Action
    small
    kind="line"
    onclick={pushing}
    hint="Which push does what: arrows on the picked particle, a slice of one or all; the rails of rides"
    >Pushes{pushWords ? `: ${pushWords}` : ''}</Action
  >{/if}
{#if pushWords && !player.picked && !quiet}
  <span
    class="absolute top-11 left-3.5 rounded-md border border-line bg-ink/80 px-2 py-1 text-xs text-quiet"
    role="status"
    >Pick a particle: {pushWords === 'arrows' ? 'its pushes are shown on it' : 'the slice goes through it'}.</span
  >
{/if}
