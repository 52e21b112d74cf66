/** What is chosen on a Desk: the response in the editor, its key, what is soloed, and which view the sheet's place shows. */
import type { Effect, Emitter, Response } from '../wire/types'
import { isSourced, type Catalog, type PlacedRow } from './catalog.svelte'
import type { OpenEffect } from './open.svelte'
import { put } from './path'

export type View = 'sheet' | 'loom' | 'table' | 'one' | 'props' | 'finish'
/** Only what a solo names acts, for as long as it lasts; nothing of it is stored. */
export type Solo = { emitter: string; label: string } & (
  { response: string; row: string } | { row: string; response?: undefined } | { source: string }
)

type Vector = [number, number, number]

export class Selection {
  uid = $state<string | null>(null)
  /** The row whose base is a formula that is open in the editor. */
  base = $state<string | null>(null)
  /** Dials as somebody else turned them, looked at for a while; nothing of it is stored. */
  turned = $state.raw<{ name: string; values: Record<string, number> } | null>(null)
  /** Thinning by the effect's camera is seen from where one looks now instead; nothing of it is stored. */
  fromHere = $state(false)
  key = $state(0)
  /** The draw that was made last: its bounds stand open. */
  fresh = $state<string | null>(null)
  /** The row on which a remark is being written. */
  remarking = $state<string | null>(null)
  /** The one emitter that is shown while it is soloed; nothing of it is stored. */
  only = $state<string | null>(null)
  /** The effect as it would be with what is pointed at in the list of sources; nothing of it is stored. */
  preview = $state.raw<Effect | null>(null)
  /** Rows that are marked: a number typed into one of them is typed into all. */
  marked = $state.raw<readonly string[]>([])
  /** Whether the editor looks at the frame on screen or at the whole clip. */
  over = $state<'frame' | 'clip'>('frame')
  view = $state<View>('sheet')
  /** Show only rows that this source drives: a column of the loom. */
  filter = $state<string | null>(null)
  solo = $state.raw<Solo | null>(null)

  constructor(
    private effect: OpenEffect,
    private catalog: Catalog,
  ) {}

  readonly found = $derived.by((): { placed: PlacedRow; response: Response; index: number } | null => {
    if (!this.uid) return null
    for (const placed of this.catalog.allRows(this.effect.owner)) {
      const index = (placed.row.responses ?? []).findIndex((r) => r.uid === this.uid)
      if (index >= 0) return { placed, response: placed.row.responses![index], index }
    }
    return null
  })

  mark(address: string): void {
    this.marked = this.marked.includes(address)
      ? this.marked.filter((each) => each !== address)
      : [...this.marked, address]
  }

  select(uid: string | null): void {
    if (uid !== this.uid) this.key = 0
    this.uid = uid
    this.base = null
  }

  /** What pushes the picked particle, on the stage: arrows with their names, and a slice of one push (its uid) or of all (""), as arrows or
   * flowing, as streamlines. */
  arrows = $state(false)
  slice = $state<string | null>(null)
  flowing = $state(false)
  /** Whether the stage shows every living particle as a dot like any other, whatever its look: how one begins, and looks for who is lost. */
  dots = $state(false)
  /** Whether the rails of rides are drawn on the stage. */
  rails = $state(true)

  /** Whether the stage shows a second view beside the first. */
  beside = $state(false)
  /** Whether the transport shows when each emitter runs. */
  sequence = $state(false)

  /** Whether the drawer of dials is open, and the dial that stands open in it. */
  dials = $state(false)
  dial = $state<string | null>(null)

  showDials(uid: string | null = null): void {
    this.dials = true
    this.dial = uid ?? this.dial
  }

  /** Open the formula of a row's base. */
  selectBase(address: string): void {
    this.uid = null
    this.base = address
  }

  /** The row whose formula is open, as long as it has one. */
  readonly written = $derived.by((): PlacedRow | null => {
    const placed = this.base ? this.catalog.rowAt(this.effect.owner, this.base) : undefined
    return placed && isSourced(placed.row.base) && placed.row.base.source.kind === 'formula' ? placed : null
  })

  /** Return whether a response is heard: it acts, and a solo, if any, does not leave it out. */
  hears(emitter: Emitter, placed: PlacedRow, response: Response): boolean {
    return this.catalog.isActive(emitter, placed, response) && this.passes(emitter, placed, response)
  }

  private passes(emitter: Emitter, placed: PlacedRow, response: Response): boolean {
    const solo = this.solo
    if (!solo || solo.emitter !== emitter.uid || placed.host) return true
    if ('source' in solo) return this.catalog.columnOf(emitter, response) === solo.source
    if (solo.response) return placed.address !== solo.row || response.uid === solo.response
    return placed.address === solo.row
  }

  /**
   * Return the document as it plays under the solo, with dials as others turned them, and thinned as from where one looks now; the
   * document itself without any of these.
   */
  heard(document: Effect, standing: { position: number[]; target: number[] } | null = null): Effect {
    if (this.preview) document = this.preview
    const { turned } = this
    if (this.fromHere && standing && document.emitters.some((e) => e.thinning))
      document = {
        ...document,
        camera: { ...document.camera, ...(standing as { position: Vector; target: Vector }) },
        emitters: document.emitters.map((e) => (e.thinning ? { ...e, thinning: { ...e.thinning, prop: null } } : e)),
      }
    if (turned)
      document = {
        ...document,
        dials: (document.dials ?? []).map((d) =>
          d.uid in turned.values
            ? { ...d, keys: [], value: Math.min(Math.max(turned.values[d.uid], d.low), d.high) }
            : d,
        ),
      }
    const solo = this.solo
    const index = solo ? document.emitters.findIndex((e) => e.uid === solo.emitter) : -1
    if (index < 0) return document
    let emitter = document.emitters[index]
    for (const placed of this.catalog.rowsOf(emitter)) {
      const responses = placed.row.responses ?? []
      if (responses.every((r) => this.passes(emitter, placed, r))) continue
      emitter = put(
        emitter,
        [...placed.path, 'responses'],
        responses.map((r) => (this.passes(emitter, placed, r) ? r : { ...r, muted: true })),
      )
    }
    return put(document, ['emitters', index], emitter)
  }
}
