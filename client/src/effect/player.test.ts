import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Refused, Unreachable } from '../wire/api'
import type { ClipPacket, FramePacket, play, PlayRequest } from '../wire/packets'
import type { Effect } from '../wire/types'
import { Player } from './player.svelte'

/** A made-up stream: the test says what comes, and how it ends. */
class Stream {
  static all: Stream[] = []
  private queue: (FramePacket | ClipPacket)[] = []
  private wake: () => void = () => {}
  private ended = false
  private problem: unknown = null
  constructor(
    readonly document: Effect,
    readonly wish: PlayRequest,
    readonly signal: AbortSignal,
  ) {
    Stream.all.push(this)
    signal.addEventListener('abort', () => this.fail(new DOMException('gone', 'AbortError')))
  }
  static get last(): Stream {
    return Stream.all.at(-1)!
  }
  send(...packets: (FramePacket | ClipPacket)[]): Promise<void> {
    this.queue.push(...packets)
    this.wake()
    return settled()
  }
  end(): Promise<void> {
    this.ended = true
    this.wake()
    return settled()
  }
  fail(problem: unknown): Promise<void> {
    this.problem = problem
    this.wake()
    return settled()
  }
  async *packets() {
    for (;;) {
      if (this.problem) throw this.problem
      if (this.queue.length) yield this.queue.shift()!
      else if (this.ended) return
      else await new Promise<void>((wake) => (this.wake = wake))
    }
  }
}
const stream = ((document: Effect, wish: PlayRequest, signal: AbortSignal) =>
  new Stream(document, wish, signal).packets()) as typeof play

const settled = async () => {
  for (let i = 0; i < 12; i++) await Promise.resolve()
}
const effect = (name = 'A', last = 10): Effect =>
  ({
    name,
    clip: { frame_rate: [25, 1], first_frame: 0, last_frame: last },
    emitters: [{ uid: 'e', name: 'E', shaping: [{ uid: 's' }], retiming: {}, loop: null }],
  }) as unknown as Effect
/** A frame's packet: `motion` tells which state of the effect it is of. */
const frame = (number: number, motion = 'm', more: object = {}): FramePacket =>
  ({
    type: 'frame',
    frame: number,
    seconds: number / 25,
    simulated: 0,
    emitters: [{ uid: 'e', count: 1, motion, look: motion, position: [number], columns: {}, measure: { uid: 'e' } }],
    props: [],
    lights: [],
    picture: [],
    ...more,
  }) as unknown as FramePacket
const clip = (counts: (number | null)[], more: object = {}): ClipPacket =>
  ({ type: 'clip', emitters: [{ uid: 'e', counts, fired: { c: [[3, 2]] }, ...more }] }) as unknown as ClipPacket
const finding = { code: 'range', where: 'emitters.0', message: 'Too much.', remedy: 'Lower it.' }

describe('the player', () => {
  let player: Player
  const first = effect()
  beforeEach(() => {
    vi.useFakeTimers({
      toFake: ['setTimeout', 'clearTimeout', 'requestAnimationFrame', 'cancelAnimationFrame', 'performance'],
    })
    Stream.all = []
    player = new Player(first, null, stream)
  })
  afterEach(() => {
    player.close()
    vi.useRealTimers()
  })
  /** The whole clip of a document, as it is answered. */
  const answered = async (document = first, motion = 'm') => {
    player.change(document, false)
    const last = document.clip.last_frame
    await Stream.last.send(frame(player.frame, motion), clip(Array.from({ length: last + 1 }, () => 1)))
    for (let n = 0; n <= last; n++) if (n !== player.frame) await Stream.last.send(frame(n, motion))
    await Stream.last.end()
  }

  it('asks for the frame on screen first and shows it at once, then keeps the rest', async () => {
    player.frame = 4
    player.change(effect(), false)
    expect([Stream.last.wish.now, Stream.last.wish.whole, Stream.last.wish.held]).toEqual([4, true, []])
    await Stream.last.send(frame(4))
    expect([player.shown?.frame, player.measured?.frame, player.clipComplete]).toEqual([4, 4, false])
    expect(player.cached).toEqual([undefined, undefined, undefined, undefined, true].map((x) => x ?? undefined))
    await Stream.last.send(clip([1, null]), frame(5))
    expect([player.clipComplete, player.fired('e', 'c'), player.fired('e', 'none')]).toEqual([
      false,
      [[3, 2]],
      undefined,
    ])
    await Stream.last.send(clip([1, 1]))
    expect(player.clipComplete).toBe(true)
    player.go(5)
    expect([player.shown?.frame, Stream.all.length]).toEqual([5, 1])
  })

  it('has one request of a picture under way: while it is, only the newest document waits', async () => {
    for (const name of ['A', 'B', 'C', 'D']) player.change(effect(name), true)
    expect(Stream.all.map((each) => each.document.name)).toEqual(['A'])
    await Stream.last.send(frame(0, 'a'), clip([1]))
    expect(Stream.all.map((each) => each.document.name)).toEqual(['A', 'D'])
    expect([Stream.last.wish.whole, Stream.last.wish.coarse]).toEqual([false, true])
    await Stream.last.send(frame(0, 'd'))
    await Stream.last.end()
    expect(player.shown?.emitters[0].motion).toBe('d') // the final value is always shown
    player.change(effect('D'), false) // the hand lets go
    expect([Stream.last.wish.whole, Stream.last.wish.coarse]).toEqual([true, false])
  })

  it('gives up the rest of a clip for a newer document, and asks for nothing twice', async () => {
    player.change(effect('A'), false)
    await Stream.last.send(frame(0), clip([1, null]), frame(1))
    const first = Stream.last
    player.change(effect('B'), false)
    expect([first.signal.aborted, Stream.last.document.name]).toEqual([true, 'B'])
    expect(Stream.last.wish.held).toEqual([{ uid: 'e', motion: 'm', look: 'm', first: 0, last: 1 }])
    await settled()
    await first.send(frame(2, 'old')) // too late
    await Stream.last.send(frame(0, 'm', { emitters: [{ uid: 'e', count: 1, motion: 'm', look: 'm' }] }))
    expect(player.shown?.emitters[0].position).toEqual([0]) // from the packet that was here
    await Stream.last.send(frame(0, 'n', { emitters: [{ uid: 'e', count: 1, motion: 'n', look: 'n' }] }))
    expect(player.shown?.emitters[0].motion).toBe('m') // half a packet, of a state that is not here any more, shows nothing
  })

  it('keeps the last good picture where a document cannot be played, says why, and recovers', async () => {
    await answered(effect('Good'), 'good')
    player.change(effect('Bad'), false)
    await Stream.last.fail(new Refused(422, [finding]))
    expect(player.findings).toEqual([finding])
    expect(Stream.last.document.name).toBe('Good') // the last one that could is played, over the clip as it is now
    await Stream.last.send(frame(0, 'good'))
    await Stream.last.end()
    expect([player.findings, player.shown?.emitters[0].motion]).toEqual([[finding], 'good'])
    player.change(effect('Better'), false)
    await Stream.last.send(frame(0, 'better'))
    expect([player.findings, player.shown?.emitters[0].motion]).toEqual([[], 'better'])
  })

  it('asks no further where neither the document nor the one before can be played', async () => {
    player = new Player(effect('Bad'), effect('Also bad'), stream)
    player.change(effect('Bad'), false)
    await Stream.last.fail(new Refused(422, [finding]))
    expect(Stream.last.document.name).toBe('Also bad')
    await Stream.last.fail(new Refused(422, [{ ...finding, message: 'other' }]))
    await vi.advanceTimersByTimeAsync(10_000)
    expect([player.findings, Stream.all.length, player.unreachable]).toEqual([[finding], 2, false])
  })

  it.each([new Unreachable('no answer'), new Refused(503, []), new Refused(401, []), new TypeError('cut off')])(
    'tries again every two seconds after %s, with what is newest',
    async (problem) => {
      player.change(effect('A'), false)
      await Stream.last.fail(problem)
      expect([player.unreachable, Stream.all.length]).toEqual([true, 1])
      await vi.advanceTimersByTimeAsync(1_900)
      expect(Stream.all.length).toBe(1)
      await vi.advanceTimersByTimeAsync(200)
      expect([Stream.all.length, player.findings]).toEqual([2, []])
      await Stream.last.send(frame(0))
      expect(player.unreachable).toBe(false)
    },
  )

  it('stops asking when it is closed', async () => {
    player.change(effect('A'), false)
    player.close()
    expect(Stream.last.signal.aborted).toBe(true)
    await vi.advanceTimersByTimeAsync(10_000)
    expect(Stream.all.length).toBe(1)
    player.change(effect('B'), false)
    await Stream.last.fail(new Unreachable('no answer'))
    player.close()
    await vi.advanceTimersByTimeAsync(10_000)
    expect(Stream.all.length).toBe(2)
  })

  it('plays on from frame to frame, waits for one that is not here, and loops or ends', async () => {
    player.change(effect('A', 3), false)
    await Stream.last.send(frame(0), clip([1, 1, 1, 1]), frame(1))
    player.toggle()
    await vi.advanceTimersByTimeAsync(60)
    expect([player.playing, player.frame]).toEqual([true, 1])
    await vi.advanceTimersByTimeAsync(400)
    expect(player.frame).toBe(1) // 2 is not here: it waits rather than skips
    await Stream.last.send(frame(2), frame(3))
    const seen = []
    for (let i = 0; i < 8; i++) {
      await vi.advanceTimersByTimeAsync(20)
      seen.push(player.frame)
    }
    expect([...new Set(seen)].slice(0, 3)).toEqual([2, 3, 0]) // one after the other, and looped
    player.loop = false
    await vi.advanceTimersByTimeAsync(400)
    expect([player.playing, player.frame]).toEqual([false, 3])
    player.toggle()
    expect([player.playing, player.frame]).toEqual([true, 0]) // from the beginning again
    player.toggle()
    expect(player.playing).toBe(false)
  })

  it('keeps a frame within a clip that became shorter, and forgets those that are gone', async () => {
    await answered()
    player.go(9)
    player.change(effect('A', 5), false)
    expect([player.frame, player.clip.last_frame, Stream.last.wish.now]).toEqual([5, 5, 5])
    expect(Stream.last.wish.held).toEqual([{ uid: 'e', motion: 'm', look: 'm', first: 0, last: 5 }])
    player.go(99)
    expect(player.frame).toBe(5)
    player.go(-3)
    expect([player.frame, player.seconds, player.length]).toEqual([0, 0, 0.2])
  })

  it('counts what an edit simulated, and nothing for what is only looked at', async () => {
    await answered()
    expect(player.simulated).toBe(null)
    player.change(effect('B'), false)
    await Stream.last.send(frame(0, 'b', { simulated: 3 }), frame(1, 'b', { simulated: 7 }))
    await Stream.last.end()
    expect(player.simulated).toBe(7)
    player.shadeBy('speed')
    expect(Stream.last.wish.shade).toBe('speed')
    await Stream.last.send(frame(0, 'b', { simulated: 0 }))
    await Stream.last.end()
    player.alsoSimulated(2)
    expect(player.simulated).toBe(9)
    player.change(effect('C'), false)
    await Stream.last.send(frame(0, 'c', { simulated: 0 }))
    expect(player.simulated).toBe(0) // a look: nothing
  })

  it('shows particles as they were before any shaping, and as they are again', async () => {
    await answered()
    player.showBefore(true)
    expect(Stream.last.document.emitters[0]).toMatchObject({ shaping: [], retiming: null, loop: null })
    player.showBefore(true)
    const many = Stream.all.length
    player.showBefore(false)
    await settled()
    expect(Stream.all.length).toBeGreaterThanOrEqual(many)
    await Stream.last.send(frame(0, 'm'))
    await Stream.last.end()
    expect(Stream.last.document.emitters[0]).toMatchObject({ shaping: [{ uid: 's' }] })
  })

  it('takes what a frame leaves out from the one before, and keeps none of which something is nowhere', async () => {
    await answered()
    const before = player.shown
    player.change(effect('B'), false)
    const without = (motion: string) => {
      const packet = frame(0, motion)
      Object.assign(packet.emitters[0], { position: undefined, columns: undefined })
      return packet
    }
    await Stream.last.send(without('new'))
    expect([player.shown, !!player.cached[0]]).toEqual([before, false])
    await Stream.last.send(without('m'))
    expect(player.cached[0]).toBe(true)
    expect(player.shown!.emitters[0]).toMatchObject({ position: [0], columns: {} })
  })

  it('picks a particle once, and asks for what the frame on screen lacks', async () => {
    await answered()
    player.pick({ emitter: 'e', key: '1' })
    expect(Stream.last.wish.picked).toEqual({ emitter: 'e', key: '1' })
    const many = Stream.all.length
    player.pick({ emitter: 'e', key: '1' })
    expect(Stream.all.length).toBe(many)
    await Stream.last.send(frame(0), clip([1]))
    await Stream.last.send(
      frame(3, 'm', { emitters: [{ uid: 'e', count: 1, motion: 'm', look: 'm', position: [3], columns: {} }] }),
    )
    await Stream.last.end()
    player.go(3)
    expect([Stream.last.wish.now, Stream.last.wish.whole]).toEqual([3, false]) // its live values
  })

  it('draws pictures of lives anew only when their width changes', async () => {
    await answered()
    const many = Stream.all.length
    player.drawAcross(594.2)
    expect(Stream.all.length).toBe(many)
    player.drawAcross(700)
    expect([Stream.all.length, Stream.last.wish.now]).toEqual([many + 1, 0])
    player.drawAcross(800) // while one is under way it waits
    expect(Stream.all.length).toBe(many + 1)
    await Stream.last.send(frame(0))
    await Stream.last.end()
    expect(Stream.all.length).toBe(many + 2)
  })
})
