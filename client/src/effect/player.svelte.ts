/** Frames of the open effect: asks for them, keeps them, plays them. The frame on screen is always asked for first. */
import { Refused, Unreachable } from '../wire/api'
import {
  complete,
  held,
  play,
  samePicture,
  type ClipPacket,
  type FramePacket,
  type Measure,
  type One,
  type Passing,
  type Portrait,
  type Profile,
} from '../wire/packets'
import type { Clip, Effect, Finding, Picked } from '../wire/types'
import { newUid } from './path'
import { framesASecond } from './rate'

const FACTS_MS = 700
const MEASURED_MS = 280
type Kept = { packet: FramePacket; version: number }

/** The same effect with no particle moved, or shown at another time, after the simulation. */
const unshaped = (effect: Effect): Effect => ({
  ...effect,
  retiming: null,
  loop: null,
  emitters: effect.emitters.map((emitter) => ({ ...emitter, shaping: [], retiming: null, loop: null })),
})

export class Player {
  /** The frame under the playhead. */
  frame = $state(0)
  playing = $state(false)
  loop = $state(true)
  /** What the stage draws: the newest packet of the current frame. */
  shown = $state.raw<FramePacket | null>(null)
  /** Live values of the current frame, or the nearest before it that has them. */
  measured = $state.raw<FramePacket | null>(null)
  clipFacts = $state.raw<ClipPacket | null>(null)
  /** Whether clipFacts tell of the whole clip as it is now. */
  clipComplete = $state(false)
  /** By frame: whether the frame as it is now is here. */
  cached = $state.raw<boolean[]>([])
  findings = $state.raw<Finding[]>([])
  unreachable = $state(false)
  clip = $state.raw<Clip>(null!)

  /** The particle whose values are shown everywhere, and the column by which particles are coloured. */
  picked = $state.raw<Picked | null>(null)
  shade = $state('')
  /** What is shown of every particle as lines: `velocity`, `axes` or nothing. */
  lines = $state('')
  /** How many frames were simulated for the document as it is; null before the first edit. */
  simulated = $state<number | null>(null)
  /** Whether particles are shown as they were before any shaping. */
  private before = false
  /** What props show besides themselves: mask:, keep:, begins:, density: or speed: and whose. */
  field = $state('')
  /** Pixels along the axis of the picture of a life. */
  private across = 594
  private redraw = false
  /** What the brush is at hand for, on the chosen prop: nothing, its form, or what is painted onto it. */
  brush = $state<'' | 'reshape' | 'paint'>('')

  private readonly window = newUid()
  private factsAt = 0
  private measuredAt = 0
  private frames = new Map<number, Kept>()
  private version = 0
  private document: Effect
  /** Whether a hand is moving something: more documents are about to come. */
  dragging = $state(false)
  private abort: AbortController | null = null
  private inFlight: 'frame' | 'clip' | null = null
  private outdated = false
  private startedAt = 0
  private startedFrame = 0
  private ticking = 0
  private retry: ReturnType<typeof setTimeout> | undefined

  /** The last document that could be played, and the version of the one that could not. */
  private playable: Effect | null
  private refusedVersion = -1
  private countedOf = -1
  private edited = false

  /** stream: how frames are asked for; the server's, where nothing else is said. */
  constructor(
    document: Effect,
    playable: Effect | null = null,
    private readonly stream: typeof play = play,
  ) {
    this.document = document
    this.playable = playable
    this.clip = document.clip
    this.frame = document.clip.first_frame
  }

  get seconds(): number {
    return (this.frame - this.clip.first_frame) / framesASecond(this.clip)
  }

  /** Half a frame, seconds: what is nearer is at this frame. */
  get near(): number {
    return 0.5 / framesASecond(this.clip)
  }

  /** Seconds from the clip's first frame to its last. */
  get length(): number {
    return (this.clip.last_frame - this.clip.first_frame) / framesASecond(this.clip)
  }

  measure(uid: string): Measure | undefined {
    const { emitters = [], props = [], picture = [] } = this.measured ?? {}
    return [...emitters, ...props, ...picture].find((each) => each.uid === uid)?.measure
  }

  profile(uid: string): Profile | undefined {
    return this.clipFacts?.emitters.find((e) => e.uid === uid)?.profile
  }

  portrait(uid: string): Portrait | undefined {
    return this.clipFacts?.emitters.find((e) => e.uid === uid)?.portrait
  }

  /** The frames at which a cue of an emitter happened, and how often, as far as the clip is known; undefined: not known. */
  fired(uid: string, cue: string): [frame: number, count: number][] | undefined {
    return this.clipFacts?.emitters.find((e) => e.uid === uid)?.fired[cue]
  }

  /** Who pops and who lives unseen, as far as the clip is known. */
  passing(uid: string): Passing | null {
    return this.clipFacts?.emitters.find((e) => e.uid === uid)?.passing ?? null
  }

  /** What the picked particle has at the frame on screen. */
  one(uid: string): One | undefined {
    return this.measured?.emitters.find((e) => e.uid === uid)?.one
  }

  pick(picked: Picked | null): void {
    if (picked?.key === this.picked?.key && picked?.emitter === this.picked?.emitter) return
    this.picked = picked
    this.sendAnew()
  }

  shadeBy(column: string): void {
    this.shade = column
    this.sendAnew()
  }

  showLines(lines: string): void {
    this.lines = lines
    this.sendAnew()
  }

  showField(field: string): void {
    this.field = field
    this.sendAnew()
  }

  /** Have the pictures of lives drawn so many pixels long. */
  drawAcross(pixels: number): void {
    if (Math.round(pixels) === this.across) return
    this.across = Math.round(pixels)
    if (this.inFlight === null) this.refine()
    else this.redraw = true
  }

  /** Every frame is to be sent anew, though none changed. */
  private sendAnew(): void {
    this.version++
    this.countedOf = this.version // it is no edit
    this.cached = []
    this.dragging = false
    this.fetch()
  }

  /** A new document: everything is to be fetched again; while dragging only the frame on screen. */
  change(document: Effect, dragging: boolean): void {
    this.edited ||= document !== this.document
    this.document = document
    this.dragging = dragging
    this.version++
    this.clipComplete = false
    if (document.clip !== this.clip) {
      this.clip = document.clip
      for (const number of this.frames.keys())
        if (number > this.clip.last_frame || number < this.clip.first_frame) this.frames.delete(number)
      this.frame = Math.min(Math.max(this.frame, this.clip.first_frame), this.clip.last_frame)
    }
    this.cached = []
    this.fetch()
  }

  go(frame: number): void {
    this.frame = Math.min(Math.max(Math.round(frame), this.clip.first_frame), this.clip.last_frame)
    if (this.playing) this.resumeFrom(this.frame)
    this.showFrame()
    const here = this.frames.get(this.frame)
    if (!here || here.version !== this.version) this.fetch()
    else if (!here.packet.emitters.every((e) => e.measure) && !this.playing) this.refine()
  }

  toggle(): void {
    if (this.playing) return this.pause()
    if (this.frame >= this.clip.last_frame) this.frame = this.clip.first_frame
    this.playing = true
    this.resumeFrom(this.frame)
    this.ticking = requestAnimationFrame(this.tick)
  }

  pause(): void {
    this.playing = false
    cancelAnimationFrame(this.ticking)
    this.go(this.frame)
  }

  close(): void {
    this.playing = false
    cancelAnimationFrame(this.ticking)
    clearTimeout(this.retry)
    this.abort?.abort()
  }

  private resumeFrom(frame: number): void {
    this.startedAt = performance.now()
    this.startedFrame = frame
  }

  private tick = (now: number): void => {
    if (!this.playing) return
    this.ticking = requestAnimationFrame(this.tick)
    const { first_frame: first, last_frame: last } = this.clip
    const rate = framesASecond(this.clip)
    let next = this.startedFrame + Math.floor(((now - this.startedAt) / 1000) * rate)
    if (next > last) {
      if (!this.loop) {
        this.frame = last
        this.showFrame()
        return this.pause()
      }
      next = first
      this.resumeFrom(first)
    }
    if (next === this.frame) return
    if (!this.frames.has(next)) return this.resumeFrom(this.frame) // wait for it rather than skip
    this.frame = next
    this.showFrame()
  }

  private showFrame(): void {
    const kept = this.frames.get(this.frame)
    if (!kept) return
    this.shown = kept.packet
    if (kept.packet.emitters.every((e) => e.measure)) this.measured = kept.packet
  }

  private fetch(): void {
    clearTimeout(this.retry)
    if (this.inFlight === 'frame') {
      this.outdated = true // its picture is as good as here: let it come, then ask for the newest
      return
    }
    this.abort?.abort()
    void this.run(!this.dragging)
  }

  /** Ask for live values of the frame on screen without giving up a clip that is complete. */
  private refine(): void {
    if (this.inFlight === null) void this.run(false)
  }

  private async run(whole: boolean): Promise<void> {
    const version = this.version
    const abort = (this.abort = new AbortController())
    this.inFlight = 'frame'
    this.outdated = false
    let ended = false
    let refused = false
    // where the document cannot be played, the last one that could goes on showing, over the clip as it is now
    const fallback = this.refusedVersion === version && this.playable !== null
    const played = fallback ? { ...this.playable!, clip: this.clip } : this.document
    const requested = this.before ? unshaped(played) : played
    let counted = 0 // frames simulated in this turn
    try {
      // while a hand is dragging, numbers come less often than pictures
      const facts = !this.dragging || performance.now() - this.factsAt > FACTS_MS
      const measured = facts || performance.now() - this.measuredAt > MEASURED_MS
      if (facts) this.factsAt = performance.now()
      if (measured) this.measuredAt = performance.now()
      const wish = {
        window: this.window,
        now: this.frame,
        whole,
        facts,
        measured,
        picked: this.picked,
        shade: this.shade,
        lines: this.lines,
        field: this.field,
        across: this.across,
        coarse: this.dragging,
        held: held(this.known(whole)),
      }
      for await (const packet of this.stream(requested, wish, abort.signal)) {
        if (this.abort !== abort) return
        this.unreachable = false
        if (!fallback) {
          if (this.findings.length) this.findings = []
          this.playable = played
        }
        if (packet.type === 'frame') {
          this.count(packet.simulated ?? 0, version, counted)
          counted = packet.simulated ?? 0
          this.keep(packet, version)
          if (this.outdated && !measured && !facts) break
        } else {
          this.clipFacts = packet
          const complete = packet.emitters.every((e) => e.counts.every((count) => count !== null))
          this.clipComplete = complete && version === this.version
          if (this.inFlight === 'frame') {
            this.inFlight = 'clip'
            if (this.outdated) break
          }
        }
      }
      ended = true
    } catch (problem) {
      if (abort.signal.aborted) return
      if (problem instanceof Refused && problem.status < 500 && problem.status !== 401) {
        if (fallback) return // neither can: what is wrong has been said
        this.findings = problem.findings
        this.refusedVersion = version
        refused = this.playable !== null
      } else if (problem instanceof Unreachable || problem instanceof Refused || problem instanceof TypeError) {
        this.unreachable = true
        this.retry = setTimeout(() => this.fetch(), 2000)
      } else throw problem
    } finally {
      if (this.abort === abort) {
        this.inFlight = null
        if (this.outdated || refused || (ended && version !== this.version)) void this.run(!this.dragging)
        else if (this.redraw) {
          this.redraw = false
          this.refine()
        }
      }
    }
  }

  /** Note how many frames were simulated for the document as it is by what is asked beside the frames. */
  alsoSimulated(frames: number): void {
    if (frames) this.simulated = (this.simulated ?? 0) + frames
  }

  /** Note how many frames a turn has simulated by now, for this version of the document; before: by the packet before. */
  private count(now: number, version: number, before: number): void {
    if (!this.edited) return
    this.simulated = (version === this.countedOf ? (this.simulated ?? 0) : 0) + now - before
    this.countedOf = version
  }

  /** Show particles as they were before any shaping, or as they are. */
  showBefore(before: boolean): void {
    if (before === this.before) return
    this.before = before
    this.version++
    this.countedOf = this.version // it is no edit
    this.cached = []
    this.fetch()
  }

  /** The frames that are here and will be asked for, in order. */
  private known(whole: boolean): FramePacket[] {
    const kept = whole ? [...this.frames.values()] : [this.frames.get(this.frame)]
    return kept.flatMap((each) => (each ? [each.packet] : [])).sort((a, b) => a.frame - b.frame)
  }

  private keep(packet: FramePacket, version: number): void {
    const older = this.frames.get(packet.frame)?.packet
    if (!complete(packet, older)) return // given up meanwhile: it will be asked for again
    this.frames.set(packet.frame, { packet, version })
    if (version === this.version) {
      const cached = this.cached.slice()
      cached[packet.frame - this.clip.first_frame] = true
      this.cached = cached
    }
    if (packet.frame !== this.frame) return
    if (this.shown?.frame !== packet.frame || !samePicture(this.shown, packet)) this.showFrame()
    else if (packet.emitters.every((e) => e.measure)) this.measured = packet
  }
}
