<!-- The 3D view: particles, the ground, where births happen; orbit by dragging. -->
<script lang="ts">
  import { display, symbolOf } from '../controls/display.svelte'
  import { onMount, untrack } from 'svelte'
  import Action from '../controls/Action.svelte'
  import { css, decode } from '../controls/colour'
  import { picking } from '../controls/picking.svelte'
  import { shown as words, withUnit } from '../controls/numbers'
  import { isSourced, placeInWords } from '../effect/catalog.svelte'
  import { showRow } from '../effect/leads'
  import { keyHint } from '../effect/commands.svelte'
  import { useDesk } from '../effect/context'
  import { geometries } from '../props/geometry.svelte'
  import { LINES } from './linelayer'
  import { Sheets } from './sheets.svelte'
  import { attributesOf } from '../effect/attributes'
  import { put, resolve } from '../effect/path'
  import { addProp, freeName, newProp } from '../props/props'
  import type { Mode } from './handles'
  import { basePath } from '../effect/edits'
  import { gripped, marksOf, type Grip } from './marks'
  import CostPanel from './CostPanel.svelte'
  import { expose } from './probe'
  import { api } from '../wire/api'
  import { settable, valueAt, withValue } from '../effect/timekeys'
  import type { Row, Unit } from '../wire/types'
  import Happening from './Happening.svelte'
  import Pushing from './Pushing.svelte'
  import { Renders, WHOLE } from './render.svelte'
  import { RAMP_STOPS } from './ramp'
  import { StageScene } from './scene'
  import BrushPanel from './BrushPanel.svelte'

  let {
    bare = false,
    second = false,
    preparing = '',
  }: {
    /** Only to look at: nothing of the effect is changed here. */
    bare?: boolean
    /** The view beside the first: with a camera of its own. */
    second?: boolean
    /** What the server compiles beside serving, in words. */
    preparing?: string
  } = $props()
  const { draft, player, catalog, selection, overlay, picked, room } = useDesk()
  let canvas: HTMLCanvasElement
  let frame: HTMLDivElement
  let scene = $state.raw<StageScene | null>(null)
  let free = $state(false)
  const GROUNDS = ['ink', 'grey', 'paper'] as const
  const WORDS = { ink: 'Ink ground', grey: 'Grey ground', paper: 'Paper ground' }
  const background = $derived(draft.document.clip.background ?? 'ink')
  const alive = $derived(player.shown?.emitters.reduce((sum, e) => sum + e.count, 0) ?? 0)
  const faults = $derived(
    (player.shown?.emitters ?? []).flatMap((e) =>
      [...e.faults, ...(e.look_faults ?? [])].map((fault) => ({ ...fault, uid: e.uid })),
    ),
  )

  const marks = $derived(bare ? [] : marksOf(catalog, draft.emitter))
  /** Where the props are that marks stand in the space of. */
  const standingAt = $derived(
    new Map(marks.some((mark) => mark.space) ? (player.shown?.props ?? []).map((p) => [p.uid, p.place] as const) : []),
  )
  const grips = $derived(marks.flatMap((mark) => mark.grips))
  /** The camera that is looked through: a prop, or nothing for the effect's own. */
  let through = $state<string | null>(null)
  let mode = $state<Mode>('translate')
  const WORLD = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  const MODES: { mode: Mode; label: string }[] = [
    { mode: 'translate', label: 'Move' },
    { mode: 'rotate', label: 'Turn' },
    { mode: 'scale', label: 'Size' },
  ]
  const stood = $derived(draft.document.props ?? [])
  const cameras = $derived(stood.filter((p) => catalog.is(p, 'camera')))
  const chosen = $derived(bare ? undefined : draft.prop)
  const propIndex = $derived(chosen ? stood.indexOf(chosen) : -1)
  const FIELD = { translate: 'position', rotate: 'rotation', scale: 'scale' } as const
  /** Numbers that a handle may move: those that stand, and those that the clip alone drives, which get a key at this frame. */
  const standing = $derived(!!chosen?.position)
  const EVERY = [0, 1, 2] as const
  const movable = $derived(
    !!chosen && standing && EVERY.every((which) => settable(chosen[FIELD[mode]]! as Row, which) !== null),
  )
  /** The row in which its three numbers are others at this frame: keys where the clip drives them. */
  const setAll = (row: Row, values: readonly number[]): Row =>
    EVERY.reduce(
      (result, which) =>
        Math.abs(valueAt(result, which, player.seconds) - values[which]) < 1e-9
          ? result
          : withValue(result, which, player.seconds, values[which], player.near),
      row,
    )
  /** How many of all births are simulated while one works. */
  const SHARES = [
    { share: 1, label: 'all of them' },
    { share: 0.5, label: 'a half of them' },
    { share: 0.25, label: 'a quarter of them' },
    { share: 0.1, label: 'a tenth of them' },
  ]
  const preview = $derived(draft.document.clip.preview ?? 1)
  let costing = $state(false)
  /** Whether the core's own picture lies over the stage. */
  let rendering = $state(false)
  /** Grows when the stage is of another size. */
  let sizes = $state(0)
  let ring = $state.raw<{ x: number; y: number; r: number } | null>(null)
  let columns = $state.raw<{ key: string; label: string; unit: Unit; group: string; alike: boolean }[]>([])
  /** The brush: what it does, its radius (metres) and strength. */
  const STROKES = {
    reshape: { kind: 'pull', radius: 0.25, strength: 0.1 },
    paint: { kind: 'paint', radius: 0.2, strength: 1 },
  }
  let strokes = $state({ ...STROKES })
  const painting = $derived(player.brush === 'paint')
  const stroke = $derived(strokes[painting ? 'paint' : 'reshape'])
  /** The list of strokes that the brush adds to. */
  const layer = $derived(painting ? 'paint' : 'strokes')
  const brushing = $derived(
    player.brush &&
      !second &&
      !bare &&
      !through &&
      chosen &&
      (painting ? catalog.is(chosen, 'paintable') : !!chosen.strokes)
      ? chosen
      : null,
  )
  let pressed: { x: number; y: number } | null = null
  const shadeName = $derived(columns.find((c) => c.key === player.shade))
  /** What the colours span: what was seen of the attribute over the frames here, so that it does not flicker. */
  let range = $state.raw<[number, number] | null>(null)
  let rangeOf = ''
  $effect(() => {
    const shown = player.shown
    if (!player.shade || !shown) {
      range = null
      rangeOf = ''
      return
    }
    const seen = shown.emitters.flatMap((e) => e.shade ?? [])
    if (!seen.length) return
    const [low, high] = [Math.min(...seen), Math.max(...seen)]
    const known = untrack(() => range)
    if (rangeOf !== player.shade || !known) range = [low, high]
    else if (low < known[0] || high > known[1]) range = [Math.min(low, known[0]), Math.max(high, known[1])]
    rangeOf = player.shade
  })

  async function chooseShade(event: Event) {
    const anchor = event.currentTarget
    await overlay.attempt(async () => {
      columns = await attributesOf(draft, player.frame)
      overlay.openList(anchor, 'Show on the stage', [
        {
          label: 'the look',
          group: 'as it is',
          act: () => {
            selection.dots = false
            show('', '')
          },
        },
        {
          label: selection.dots ? 'no dots' : 'dots',
          group: 'as it is',
          help: 'Every living particle as a dot like any other, whatever its size and opacity; coloured by an attribute if one is shown.',
          act: () => (selection.dots = !selection.dots),
        },
        ...LINES.map(({ lines, label, help }) => ({
          label: player.lines === lines ? `no ${label}` : label,
          group: 'as lines',
          help,
          act: () => player.showLines(player.lines === lines ? '' : lines),
        })),
        ...SHARES.map(({ share, label }) => ({
          label,
          group: 'how many',
          detail: share === preview ? 'now' : '',
          help: 'Of all births while you work: each is where it would be among all. What is handed over, and the render, has all of them.',
          act: () => draft.edit(`Show ${label}`, ['clip', 'preview'], share),
        })),
        ...catalog.layout.showable.map(({ label, shade, field, help }) => ({
          label,
          group: 'on props and particles',
          detail: '%',
          help,
          act: () => show(shade, field),
        })),
        // what differs between particles comes first: of what is the same for all nothing is seen
        ...columns
          .toSorted((a, b) => Number(a.alike) - Number(b.alike))
          .map((c) => ({
            label: c.label,
            group: c.alike ? 'the same for all now' : c.group,
            detail: symbolOf(c.unit),
            act: () => player.shadeBy(c.key),
          })),
      ])
    })
  }
  function show(shade: string, field: string) {
    player.field = field
    player.shadeBy(shade)
  }
  const fieldName = $derived(
    player.field ? catalog.layout.showable.find((f) => f.field === player.field)?.label : undefined,
  )
  const fieldSpan = $derived(player.shown?.props?.find((p) => p.field)?.field)
  const fieldSpeed = $derived(player.field.startsWith('speed:'))
  let strokeFrom: object[] = []
  const stagePlace = (event: PointerEvent, box: DOMRect): [number, number] => [
    ((event.clientX - box.left) / box.width) * 2 - 1,
    1 - ((event.clientY - box.top) / box.height) * 2,
  ]
  function up(event: PointerEvent) {
    if (scene?.brush.stroking) {
      const line = scene.brush.release()
      if (line && brushing) {
        const label = `${stroke.kind[0].toUpperCase()}${stroke.kind.slice(1)} ${brushing.name}`
        const result = [...strokeFrom, { ...stroke, points: line }]
        // what is painted can be read as soon as there is a mask of it
        if (painting && !stood.some((p) => p.shape === 'painted' && p.of === brushing.uid)) {
          const offer = catalog.layout.addable.find((each) => (each.value as { shape?: string })?.shape === 'painted')
          const mask = offer && newProp(draft.document, offer, { of: brushing.uid })
          const props = put(stood, [propIndex, layer], result)
          draft.edit(
            label,
            ['props'],
            mask ? [...props, { ...mask, name: freeName(draft.document, `${brushing.name} paint`) }] : props,
          )
        } else draft.edit(label, ['props', propIndex, layer], result)
      }
      pressed = null
      return
    }
    const was = pressed
    pressed = null
    if (scene?.handles.busy) {
      const box = canvas.getBoundingClientRect()
      return scene.handles.release(event.clientX - box.left, event.clientY - box.top)
    }
    if (
      scene?.handles.busy ||
      bare ||
      !was ||
      Math.hypot(event.clientX - was.x, event.clientY - was.y) > 3 ||
      event.button !== 0
    )
      return
    const box = canvas.getBoundingClientRect()
    if (event.altKey) return followHere(event, box)
    const hit = scene?.nearest(event.clientX - box.left, event.clientY - box.top)
    if (!hit) return player.pick(null)
    player.pause()
    const index = draft.document.emitters.findIndex((e) => e.uid === hit.emitter)
    if (index >= 0) draft.emitterIndex = index
    void picked.pickAt(hit.emitter, hit.index)
  }

  onMount(() => {
    const result = new StageScene(canvas)
    result.background(catalog.data.backgrounds[background])
    result.lookFrom(draft.document.camera)
    if (second) {
      // from the first camera there is, else from the side
      if (cameras.length) through = cameras[0].uid
      else {
        const {
          position: [x, y, z],
          target: [a, b, c],
        } = draft.document.camera
        result.lookFrom({
          ...draft.document.camera,
          position: [a - (z - c), y, c + (x - a) || c + 0.001],
          target: [a, b, c],
        })
        free = true
      }
    }
    let held = false // a press alone picks a particle; only a movement leaves the effect's camera
    result.controls.addEventListener('start', () => (held = true))
    result.controls.addEventListener('end', () => {
      held = false
      if (!second && free) room.standing = result.viewpoint()
    })
    result.controls.addEventListener('change', () => {
      free ||= held
      looks++
    })
    if (!second && room.standing) {
      result.lookFrom({
        ...draft.document.camera,
        ...(room.standing as { position: [number, number, number]; target: [number, number, number] }),
      })
      free = true
    }
    if (!bare) result.guide(marks)
    result.handles.onplace = (placing, done) => {
      if (!chosen || propIndex < 0) return
      const field = FIELD[mode]
      const path = ['props', propIndex, field]
      const result = setAll(chosen[field] as Row, placing[field])
      if (done) draft.edit(`${MODES.find((m) => m.mode === mode)!.label} ${chosen.name}`, path, result)
      else draft.drag(path, result)
    }
    let taken: Grip | undefined
    result.handles.onpoint = (index, to, done) => {
      const grip = chosen ? undefined : (taken ?? grips[index])
      const row = grip && catalog.rowAt(draft.emitter, grip.address)
      const plain = grip?.path && resolve(draft.owner, grip.path)
      if (!row && !plain && chosen?.kind !== 'path') return
      const path = row || plain ? draft.inEmitter(plain ?? basePath(row!)) : ['props', propIndex, 'points', index]
      taken = done ? undefined : grip // as it was when the hand took it
      const result = grip ? gripped(grip, to) : to
      const words = row ? row.label.toLowerCase() : `a point of ${chosen?.name ?? 'the lattice'}`
      if (done) draft.edit(`Move ${words}`, path, result)
      else draft.drag(path, result)
    }
    result.ondraw = () => (ring = result.pickedAt())
    if (!second) expose(result, player, sheets)
    const observer = new ResizeObserver(([entry]) => {
      result.resize(entry.contentRect.width, entry.contentRect.height)
      sizes++
    })
    observer.observe(frame)
    scene = result
    return () => {
      observer.disconnect()
      result.dispose()
    }
  })

  const sheets = new Sheets()
  /** The emitters, only the soloed one visible while one is. */
  const seenOf = $derived(
    draft.document.emitters.some((e) => e.uid === selection.only)
      ? draft.document.emitters.map((e) => ({ ...e, visible: e.uid === selection.only }))
      : draft.document.emitters,
  )
  // the scene is no part of Svelte: these hand it what changed
  $effect(() => {
    void sheets.arrived
    if (!scene || !player.shown) return
    scene.marksLamps = player.lines === 'lamps'
    scene.particles(sheets.ready(player.shown), seenOf, sheets.of, range)
    void sheets.ask(draft.document, player.shown)
  })
  let framedBy: string | null = null
  /** What of the stage the frame is, as one looks through its camera: its lines in shares of the stage, and what is beside the matte. */
  const framed = $derived.by(() => {
    const result = draft.document.frame
    void sizes
    if (!result || free || (!result.safe && !result.matte) || !scene) return null
    const [width, height] = scene.size
    const aspect = (result.width * Number(result.pixel ?? 1)) / result.height
    const across = (height * aspect) / width
    const box = (share: number, tall = share) => ({
      x: 50 - (across * share * 100) / 2,
      y: 50 - (tall * 100) / 2,
      w: across * share * 100,
      h: tall * 100,
    })
    const seen = result.matte
      ? result.matte > aspect
        ? box(1, aspect / result.matte)
        : box(result.matte / aspect, 1)
      : null
    return { edge: box(1), safe: result.safe ? [box(0.93), box(0.9)] : [], seen }
  })
  /** The colour behind all, linear light: the clip's ground, or one of its own. */
  const ground = $derived.by(() => {
    const own = player.shown?.picture?.find((each) => each.uid === 'frame')?.own
    return draft.document.frame?.behind === 'colour' && own
      ? [0, 1, 2].map((c) => Number(own[`plate_colour.${c}`]))
      : catalog.data.backgrounds[background]
  })
  /** What is done to the picture; what of it the core alone can show. */
  const done = $derived((draft.document.finish ?? []).filter((part) => !part.muted))
  const rendered = $derived(
    done.some((part) => catalog.is(part, 'rendered')) ||
      draft.document.frame?.behind === 'plate' ||
      draft.document.props.some((p) => catalog.is(p, 'throws') || p.catches),
  )
  $effect(() => {
    const uniforms = new Map((player.shown?.picture ?? []).map((each) => [each.uid, each.own]))
    const items = done
      .filter((part) => uniforms.has(part.uid))
      .map((part) => ({ part, uniforms: uniforms.get(part.uid)! }))
    scene?.finish(selection.dots || range ? [] : items, draft.document.frame?.height ?? 720)
  })
  /** The core's picture in place of the stage's own while nothing moves. */
  const rests = new Renders()
  let restsAs = $state('')
  $effect(() => {
    const [document, frame, still] = [
      selection.heard(draft.document),
      player.frame,
      !player.playing && !player.dragging,
    ]
    void [looks, room.width, room.height, rendered, rendering, scene, player.shown?.picture]
    untrack(() => {
      rests.stop()
      scene?.stand(null)
      restsAs = ''
      if (!scene || !rendered || !still || rendering || selection.dots || range) return
      const [width, height] = scene.size
      // what the stage does not show while things move, it does not show at rest either
      const props = document.props?.map((p) => (p.shown === 'hidden' ? { ...p, in_pictures: false } : p))
      const seen = { ...document, props }
      rests.rest({ document: seen, frame, width, height, eye: scene.eye(), region: WHOLE, name: '' }, (shot) => {
        scene?.stand(shot)
        restsAs = `${frame}`
      })
    })
  })
  $effect(() => () => rests.stop())
  $effect(() => {
    void geometries.arrived
    const frame = player.shown?.frame ?? player.frame
    if (scene) scene.layer.load = (prop) => api.propPicture(draft.document, prop.uid, frame)
    scene?.layer.set(
      stood,
      player.shown?.props ?? [],
      (prop, fine) => geometries.of(prop, fine),
      chosen?.uid ?? null,
      scene.lineColour,
      brushing?.uid ?? null,
    )
    void background
  })
  $effect(() => {
    const place = chosen && player.shown?.props?.find((p) => p.uid === chosen.uid)?.place
    const numbers = (row: Row) =>
      isSourced(row.base as never)
        ? [0, 0, 0]
        : EVERY.map((which) => valueAt(row, which, player.shown?.seconds ?? player.seconds))
    const own =
      chosen && movable && !through && !second
        ? {
            position: numbers(chosen.position as Row),
            rotation: numbers(chosen.rotation as Row),
            scale: numbers(chosen.scale as Row),
          }
        : null
    scene?.handles.show(brushing ? null : (place ?? null), own, mode)
    if (!chosen && grips.length && !through && !second)
      scene?.handles.path(
        WORLD,
        grips.map((grip) => [...grip.at]),
      )
    else
      scene?.handles.path(
        chosen?.kind === 'path' && !chosen.formula && place ? place : null,
        chosen?.kind === 'path' ? (chosen.points as number[][]) : [],
      )
  })
  $effect(() => scene?.brush.hold(brushing?.uid ?? null, stroke.radius))
  $effect(() => {
    const at = through ? player.shown?.props?.find((p) => p.uid === through) : undefined
    if (at && !free) scene?.lookThrough(at.place, at.field_of_view ?? 0.7)
  })
  $effect(() => scene?.hurry(player.dragging))
  $effect(() => scene?.moves(player.dragging || player.playing))
  $effect(() => {
    const { life } = picked
    scene?.path(life && life.key === player.picked?.key ? life.path : null)
  })
  $effect(() => {
    scene?.asDots(selection.dots)
  })
  $effect(() => {
    scene?.background(ground)
    if (scene) scene.figure = room.figure
    void display.lengths // written on the grid
    if (!bare) scene?.guide(marks, standingAt)
  })
  $effect(() => {
    const camera = draft.document.camera
    if (scene && !free && !through) scene.lookFrom(camera)
  })
  $effect(() => {
    // pictures are taken by the frame's camera: so does one look at first, and whenever another is chosen
    const camera = draft.document.frame?.camera ?? null
    if (second) return
    untrack(() => {
      if (camera === framedBy) return
      framedBy = camera
      if (!free) through = camera
    })
  })
  $effect(() => scene?.plain(room.plain || rendering))
  $effect(() => {
    const wish = room.eye
    if (!scene || second || !wish) return
    untrack(() => {
      if (wish.to === 'camera') {
        through = draft.document.frame?.camera ?? null
        free = false
        if (!through) scene!.lookFrom(draft.document.camera)
        return
      }
      const chosenOne = chosen ? { prop: chosen.uid } : { emitter: draft.emitter.uid }
      const side = wish.to === 'all' || wish.to === 'chosen' ? undefined : wish.to
      if (scene!.frame(wish.to === 'chosen' ? chosenOne : {}, side)) {
        through = null
        free = true
      }
      room.standing = free ? scene!.viewpoint() : null
    })
  })

  /** Grows when one looks from elsewhere. */
  let looks = $state(0)
  /** Why nothing is seen of the current emitter, and where to go. */
  const unseen = $derived.by(() => {
    const { emitter } = draft
    const drawn = player.shown?.emitters.find((e) => e.uid === emitter.uid)
    if (bare || second || !drawn || draft.prop || player.dragging) return null
    if (selection.only && selection.only !== emitter.uid)
      return { words: 'another emitter is soloed.', label: 'End solo', go: () => (selection.only = null) }
    if (emitter.visible === false) return null // its eye says so
    if (drawn.unseen) {
      const [words, row] = drawn.unseen
      return {
        words,
        label: catalog.rowAt(emitter, row)?.label ?? 'Go there',
        go: () => showRow(row, { selection }),
      }
    }
    void [free, through, looks]
    if (drawn.count && scene && !scene.sees(drawn))
      return {
        words: `All ${drawn.count} are out of view.`,
        label: 'Frame them',
        go: () => (room.eye = { to: 'all' }),
      }
    return null
  })
  /** A row's name for people, with its emitter where there are several. */
  function rowWords(uid: string, address: string): string {
    const emitter = draft.document.emitters.find((e) => e.uid === uid)
    const label =
      (emitter && catalog.rowAt(emitter, address)?.label) ??
      { motion: 'moving and slowing', previous: 'what is remembered' }[address] ??
      'one of its rows'
    return draft.document.emitters.length > 1 ? `${emitter?.name}, ${label}` : label
  }
  const numberWords = (value: number) => words(value, shadeName?.unit ?? { symbol: '', scale: 1, digits: 2 }, false)
  function back() {
    free = false
    room.standing = null
    if (!through) scene?.lookFrom(draft.document.camera)
  }
  function views(event: Event) {
    const look = (uid: string | null) => () => {
      through = uid
      free = false
      if (!uid) scene?.lookFrom(draft.document.camera)
    }
    overlay.openMenu(event.currentTarget, 'Look from', [
      { label: "The effect's camera", act: look(null) },
      ...cameras.map((c) => ({ label: c.name, act: look(c.uid) })),
      null,
      { label: 'A new camera here', act: () => addCamera() },
      ...cameras.map((c) => ({ label: `Put ${c.name} here`, act: () => moveCamera(c.uid) })),
    ])
  }
  function more(event: Event) {
    overlay.openMenu(event.currentTarget, 'Views', [
      { label: 'Frame all', hint: keyHint('frame'), act: () => (room.eye = { to: 'all' }) },
      { label: 'Frame what is chosen', hint: keyHint('frame-chosen'), act: () => (room.eye = { to: 'chosen' }) },
      { label: 'From the front', hint: keyHint('front'), act: () => (room.eye = { to: 'z' }) },
      { label: 'From the side', hint: keyHint('side'), act: () => (room.eye = { to: 'x' }) },
      { label: 'From above', hint: keyHint('above'), act: () => (room.eye = { to: 'y' }) },
      { label: "From the effect's camera", hint: keyHint('camera'), act: () => (room.eye = { to: 'camera' }) },
      {
        label: `A figure ${withUnit(1.7, { symbol: 'm', scale: 1, digits: 2 })} tall`,
        hint: keyHint('figure'),
        act: () => (room.figure = !room.figure),
      },
      {
        label: room.happenings ? 'No marks of cues and touches' : 'Marks of cues and touches',
        act: () => room.showHappenings(!room.happenings),
      },
      { label: 'Grid, handles and outlines', hint: keyHint('plain'), act: () => (room.plain = !room.plain) },
      null,
      { label: 'Two views beside each other', hint: keyHint('beside'), act: () => (selection.beside = true) },
      { label: 'The stage alone', hint: keyHint('stage'), act: () => room.toggle('stage') },
      { label: 'The stage in its own window', hint: keyHint('window'), act: () => room.openStage(draft.id) },
    ])
  }
  const plainRow = (base: unknown) => ({ base, responses: [], muted: false })
  function addCamera() {
    const { position, rotation, view } = scene!.standpoint()
    const offer = catalog.layout.addable.find((each) => each.group === 'camera')!
    const result = newProp(draft.document, offer, {
      field_of_view: plainRow(view),
      position: plainRow(position),
      rotation: plainRow(rotation),
    })
    addProp(draft, result)
    if (selection.view !== 'props') draft.heldUid = null
    through = result.uid
    free = false
  }
  function moveCamera(uid: string) {
    const { position, rotation, view } = scene!.standpoint()
    // where keys over the clip say where it is, it is here at this frame alone
    const put = (row: Row, values: readonly number[]) =>
      EVERY.every((which) => settable(row, which) !== null) ? setAll(row, values) : plainRow(values)
    const moved = (p: (typeof stood)[number]) => ({
      ...p,
      follow: null,
      field_of_view:
        settable(p.field_of_view as Row, -1) === null
          ? plainRow(view)
          : withValue(p.field_of_view as Row, -1, player.seconds, view, player.near),
      position: put(p.position as Row, position),
      rotation: put(p.rotation as Row, rotation),
    })
    draft.edit(
      `Put ${cameras.find((c) => c.uid === uid)!.name} here`,
      ['props'],
      stood.map((p) => (p.uid === uid ? moved(p) : p)),
    )
    through = uid
    free = false
  }
  /** Let the chosen prop follow a place on the one under the pointer, or with Shift one more point of it. */
  function followHere(event: PointerEvent, box: DOMRect) {
    const hit = scene?.layer.hit(
      ((event.clientX - box.left) / box.width) * 2 - 1,
      1 - ((event.clientY - box.top) / box.height) * 2,
      scene.camera,
    )
    if (!hit || !chosen || hit.uid === chosen.uid) return
    const before = chosen.follow?.prop === hit.uid ? chosen.follow : null
    const points = event.shiftKey
      ? [...new Set([...(before?.at === 'points' ? (before.points ?? []) : []), hit.point])]
      : []
    const follow = {
      prop: hit.uid,
      at: event.shiftKey ? 'points' : 'surface',
      face: hit.face,
      bary: hit.bary,
      points,
      turns: before?.turns ?? true,
    }
    draft.edit(
      `Let ${chosen.name} follow ${stood.find((p) => p.uid === hit.uid)?.name}`,
      ['props', propIndex, 'follow'],
      follow,
    )
  }
  function down(event: PointerEvent) {
    if (picking.wish && scene) {
      const box = canvas.getBoundingClientRect()
      const seen = scene.mean((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height, 0, 0)
      event.stopPropagation()
      picking.give(seen.map((c) => Number(decode(c / 255).toFixed(5))) as [number, number, number])
      return
    }
    pressed = { x: event.clientX, y: event.clientY }
    const box = canvas.getBoundingClientRect()
    if (brushing && event.button === 0 && !event.altKey && scene) {
      strokeFrom = (brushing[layer] as object[] | undefined) ?? []
      event.stopPropagation()
      canvas.setPointerCapture(event.pointerId)
      const line = scene.brush.press(...stagePlace(event, box))
      if (line) draft.drag(['props', propIndex, layer], [...strokeFrom, { ...stroke, points: [...line] }])
      return
    }
    if (event.button === 0 && scene?.handles.press(event.clientX - box.left, event.clientY - box.top))
      canvas.setPointerCapture(event.pointerId)
  }
  /** A double click puts a point into the chosen path: between two where it lies on the line, else at its end. */
  function doubled(event: MouseEvent) {
    if (chosen?.kind !== 'path' || chosen.formula) return
    const box = canvas.getBoundingClientRect()
    const result = scene?.handles.insert(event.clientX - box.left, event.clientY - box.top)
    if (!result) return
    const points = [...chosen.points]
    points.splice(result.at, 0, result.point)
    draft.edit(`Add a point to ${chosen.name}`, ['props', propIndex, 'points'], points)
  }
  function moved(event: PointerEvent) {
    const box = canvas.getBoundingClientRect()
    if (brushing && scene) {
      const line = scene.brush.over(...stagePlace(event, box))
      if (line) draft.drag(['props', propIndex, layer], [...strokeFrom, { ...stroke, points: [...line] }])
      if (scene.brush.stroking) return
    }
    scene?.handles.drag(event.clientX - box.left, event.clientY - box.top)
  }
  /** Keep where one looks from: as a camera of its own, or in place of one; the effect's camera never moves by itself. */
  function keep(event: Event) {
    overlay.openMenu(event.currentTarget, 'Keep this view', [
      { label: 'As a new camera', act: () => addCamera() },
      ...cameras.map((c) => ({ label: `In place of ${c.name}`, act: () => moveCamera(c.uid) })),
      null,
      {
        label: "In place of the effect's camera",
        hint: 'renders use it',
        act: () => {
          const { field_of_view } = draft.document.camera
          draft.edit("Move the effect's camera", ['camera'], { ...scene!.viewpoint(), field_of_view })
          back()
        },
      },
    ])
  }
  function nextGround() {
    const next = GROUNDS[(GROUNDS.indexOf(background) + 1) % GROUNDS.length]
    draft.edit(`Judge against ${next}`, ['clip', 'background'], next)
  }
</script>

<div
  bind:this={frame}
  class="relative h-full min-h-0 overflow-hidden bg-[#0f1418]"
  data-part={second ? 'stage-beside' : 'stage'}
  data-rests={restsAs}
>
  <canvas
    bind:this={canvas}
    onpointerdowncapture={down}
    onpointermove={moved}
    onpointerup={up}
    ondblclick={doubled}
    class="absolute inset-0 h-full w-full touch-none {picking.wish ? 'cursor-crosshair' : ''}"
    tabindex={second ? -1 : 0}
    aria-label="Stage, arrows walk: {alive} particles at frame {player.frame}"
  ></canvas>
  {#if framed}
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true" data-part="framing">
      {#if framed.seen}
        {@const { x, y, w, h } = framed.seen}
        {#each [[0, 0, 100, y], [0, y + h, 100, 100 - y - h], [0, y, x, h], [x + w, y, 100 - x - w, h]] as [left, top, wide, tall], i (i)}
          {#if wide > 0 && tall > 0}<rect
              x="{left}%"
              y="{top}%"
              width="{wide}%"
              height="{tall}%"
              fill="black"
              opacity="0.6"
            />{/if}
        {/each}
      {/if}
      {#each [framed.edge, ...framed.safe] as { x, y, w, h }, i (i)}
        <rect
          x="{x}%"
          y="{y}%"
          width="{w}%"
          height="{h}%"
          fill="none"
          stroke="var(--color-paper)"
          stroke-opacity={i ? 0.45 : 0.7}
          stroke-dasharray={i === 2 ? '4 4' : undefined}
        />
      {/each}
    </svg>
  {/if}
  {#if ring && !room.plain}
    <svg
      class="pointer-events-none absolute overflow-visible"
      style:left="{ring.x}px"
      style:top="{ring.y}px"
      width="1"
      height="1"
      aria-hidden="true"
      data-part="ring"
      ><circle
        r={Math.max(8, Math.min(ring.r + 4, 60))}
        fill="none"
        stroke="var(--color-ink)"
        stroke-width="4"
        opacity="0.75"
      /><circle
        r={Math.max(8, Math.min(ring.r + 4, 60))}
        fill="none"
        stroke="var(--color-paper)"
        stroke-width="1.6"
        stroke-dasharray="4 3"
      /></svg
    >
  {/if}
  {#if rendering && scene}{#await import('./RenderView.svelte') then { default: RenderView }}<RenderView
        eye={() => scene!.eye()}
        size={() => scene!.size}
        looks={[looks, sizes, through, free]}
        onclose={() => (rendering = false)}
      />{/await}{/if}
  <div class="absolute top-3 left-3.5 flex max-w-[calc(100%-310px)] flex-wrap gap-1.5">
    {#if free}
      <Action small kind="line" onclick={back} hint="Look from the camera again">Back to camera</Action>
      {#if !bare}<Action small kind="line" onclick={views} hint="Look from another camera, or make one of this view"
          >Cameras</Action
        >{/if}
      {#if !bare && !second}<Action small kind="line" onclick={keep} hint="As a new camera, or in place of one"
          >Keep this view</Action
        >{/if}
    {:else if !bare}
      <Action small kind="line" onclick={views} hint="Look from another camera, or make one of this view"
        >{through ? (cameras.find((c) => c.uid === through)?.name ?? 'Camera') : "Effect's camera"}</Action
      >
    {/if}
    {#if !bare && !second && !selection.beside}<Action
        small
        kind="line"
        onclick={nextGround}
        hint="Judge against ink, mid grey or paper">{WORDS[background]}</Action
      >
      <Action small kind="line" onclick={chooseShade} hint="Show any attribute as colour"
        >Show: {player.shade
          ? (shadeName?.label ?? player.shade)
          : player.field
            ? (fieldName ?? 'field')
            : selection.dots
              ? 'dots'
              : 'look'}{selection.dots && (player.shade || player.field) ? ', as dots' : ''}</Action
      >
      <Pushing {scene} {looks} quiet={bare || second} />
      <Happening {scene} quiet={bare || second} />{/if}
  </div>
  {#if brushing}
    <BrushPanel
      bind:stroke={() => stroke, (result) => (strokes = { ...strokes, [painting ? 'paint' : 'reshape']: result })}
      name={brushing.name}
      paints={painting}
      ondone={() => (player.brush = '')}
    />
  {:else if chosen && standing && !through && !second && !rendering}
    <div class="absolute bottom-3 left-3.5 flex gap-1" role="radiogroup" aria-label="Handles">
      {#each MODES as m}<Action
          small
          kind="line"
          pressed={mode === m.mode}
          onclick={() => (mode = m.mode)}
          hint="{m.label} {chosen.name} by its handles">{m.label}</Action
        >{/each}
      {#if !movable && !selection.beside}<span
          class="flex h-6 items-center rounded-md border border-line bg-ink/80 px-2 text-xs text-quiet"
          >{FIELD[mode]} is driven: change it in its row</span
        >{/if}
    </div>
  {/if}
  {#if player.shade && range}
    <div
      class="absolute top-11 left-3.5 flex items-center gap-2 rounded-md border border-line bg-ink/80 px-2 py-1"
      data-part="legend"
    >
      <span class="mono text-[11px]">{numberWords(range[0])}</span>
      <span
        class="h-2 w-28 rounded"
        style:background="linear-gradient(to right, {RAMP_STOPS.map((c) => css(c)).join(', ')})"
      ></span>
      <span class="mono text-[11px]">{numberWords(range[1])} {shadeName ? symbolOf(shadeName.unit) : ''}</span>
    </div>
  {/if}
  {#if player.field && fieldSpan && !second}
    <div
      class="absolute {player.shade && range
        ? 'top-[74px]'
        : 'top-11'} left-3.5 flex items-center gap-2 rounded-md border border-line bg-ink/80 px-2 py-1"
      data-part="field-legend"
    >
      <span class="text-[11px] text-quiet">{fieldName ?? 'on props'}</span>
      <span class="mono text-[11px]">{fieldSpeed ? fieldSpan[0].toFixed(2) : '0 %'}</span>
      <span
        class="h-2 w-20 rounded"
        style:background="linear-gradient(to right, {RAMP_STOPS.map((c) => css(c)).join(', ')})"
      ></span>
      <span class="mono text-[11px]">{fieldSpeed ? `${fieldSpan[1].toFixed(2)} m/s` : '100 %'}</span>
      <button
        type="button"
        class="text-[11px] text-quiet underline decoration-dotted hover:text-paper"
        onclick={() => show('', '')}>hide</button
      >
    </div>
  {/if}
  <div class="absolute top-3 right-3.5 flex gap-1.5">
    {#if catalog.data.engine.name !== 'native'}<span
        class="flex h-6 items-center rounded-md border border-amber bg-ink/80 px-2 text-xs text-amber"
        title={catalog.data.engine.reason}
        data-part="engine">NumPy engine</span
      >{/if}
    {#if second}<Action small kind="line" onclick={() => (selection.beside = false)} hint="Only the first view again"
        >One view</Action
      >
    {:else if !bare}
      {#if !selection.beside}<Action
          small
          kind="line"
          onclick={more}
          hint="Frame, look from a side, two views, the stage alone or in a window">Views</Action
        >{/if}
      {#if !selection.beside}<Action
          small
          kind="line"
          pressed={rendering}
          onclick={() => (rendering = !rendering)}
          hint="The core's own picture of this frame, compared with the stage or with one that you keep">Render</Action
        >{/if}
      <Action small kind="line" onclick={() => (costing = true)} hint="Where the milliseconds of a frame go, row by row"
        >Time</Action
      >{/if}
    {#if !second}<span
        class="mono flex h-6 items-center rounded-md border bg-ink/80 px-2 {preview < 1
          ? 'border-amber text-amber'
          : 'border-line text-quiet'}"
        title={preview < 1 ? 'A preview: what is handed over has all births' : undefined}
        data-part="alive">{alive} alive{preview < 1 ? ` · ${Math.round(preview * 100)} %` : ''}</span
      >{/if}
  </div>
  {#if preparing && !second}<div
      role="status"
      class="absolute top-11 right-3.5 rounded-md border border-line bg-ink/80 px-2 py-1 text-xs text-quiet"
      title="The first start compiles what is fast later. Everything works meanwhile; what needs a part that is not ready yet takes longer."
      data-part="preparing"
    >
      Compiling: {preparing}
    </div>{/if}
  {#if second}<!-- said in the first view -->
  {:else if player.findings.length}
    <div
      role="alert"
      class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber"
    >
      <b>The last good picture stays until this is corrected.</b>
      {#each player.findings.slice(0, 3) as finding}
        <div class="text-paper">
          {finding.where ? `${placeInWords(catalog, draft.document, finding.where)}: ` : ''}{finding.message}
          <span class="text-quiet">{finding.remedy}</span>
        </div>
      {/each}
    </div>
  {:else if player.unreachable}
    <div
      role="alert"
      class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber"
    >
      The server does not answer. Trying again every two seconds; your edits are kept here.
    </div>
  {:else if unseen && !faults.length && !brushing && !(chosen && standing)}
    <div
      role="status"
      class="absolute bottom-3 left-3.5 max-w-[calc(100%-28px)] rounded-md border border-line bg-ink/95 px-3 py-1.5"
      data-part="unseen"
    >
      <b>{draft.emitter.name}:</b>
      {unseen.words}
      <button type="button" class="ml-1.5 text-paper underline decoration-dotted" onclick={unseen.go}
        >{unseen.label}</button
      >
    </div>
  {:else if faults.length}
    <div
      role="status"
      class="absolute right-3.5 bottom-3 left-3.5 rounded-md border border-amber bg-ink/95 px-3 py-2 text-amber"
    >
      {#each faults.slice(0, 2) as fault}
        <div>
          {fault.count === 1 ? '1 number was' : `${fault.count} numbers were`} not finite and {fault.count === 1
            ? 'was'
            : 'were'} replaced: {rowWords(fault.uid, fault.row)}{fault.key === '-1'
            ? ', over the clip'
            : `, frame ${player.shown?.frame}`}
          {#if fault.key !== '-1'}<button
              type="button"
              class="ml-1 text-paper underline decoration-dotted"
              onclick={() => player.pick({ emitter: fault.uid, key: fault.key })}>show the first particle</button
            >{/if}
        </div>
      {/each}
    </div>
  {/if}
</div>
<CostPanel bind:open={costing} />
