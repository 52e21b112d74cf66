/** The first effect: which step somebody is at. Kept in this browser; nothing of it is in the effect. */
import { keep, kept } from '../controls/kept'
import { api } from '../wire/api'
import type { Effect, Response } from '../wire/types'

const KEPT = 'kagero.first'
/** Nobody has answered yet; not wanted now; at a step of an effect; all done. */
type State = 'new' | 'off' | 'done' | { effect: number; step: number }

export type Step = {
  title: string
  /** What the hand does. */
  words: string
  /** What is learned by it. */
  why: string
  /** The part of the screen that it is about. */
  at: string
  done: (now: Effect, before: Effect, playing: boolean) => boolean
}

const emitter = (effect: Effect) => effect.emitters[0]
const sizes = (effect: Effect): Response[] => emitter(effect)?.look.size.responses ?? []
const ofLife = (effect: Effect) => sizes(effect).find((r) => r.source.kind === 'life')

export const STEPS: Step[] = [
  {
    title: 'More of them',
    words: 'Drag the number beside Rate, or click it and type 120.',
    why: 'Every number here can be dragged, typed and computed. Delete gives its default back.',
    at: "[data-row='births.rate']",
    done: (now, before) => emitter(now)?.births.rate.base !== emitter(before)?.births.rate.base,
  },
  {
    title: 'Something drives something',
    words: 'Press + in the row Size, and choose life.',
    why: 'Any number can be driven by anything a particle has. Life is its age as a share of its lifespan.',
    at: "[data-row='look.size']",
    done: (now) => ofLife(now) !== undefined,
  },
  {
    title: 'Give it a shape',
    words: 'Choose one of the small curves below on the right, or drag a key of the large one.',
    why: 'Behind the curve stand the particles alive now, spread over their lives.',
    at: '[data-part=response]',
    done: (now, before) =>
      ofLife(before) !== undefined && JSON.stringify(ofLife(now)) !== JSON.stringify(ofLife(before)),
  },
  {
    title: 'Each its own',
    words: 'Press + in the row Launch speed, and choose Vary per particle.',
    why: 'A draw is a random value that a particle is given once, at birth. The number on the right tells the range.',
    at: "[data-row='births.launch.speed']",
    done: (now) =>
      (
        emitter(now)?.births.launch as { speed?: { responses?: { source: { kind: string } }[] } }
      ).speed?.responses?.some((r) => r.source.kind === 'draw') ?? false,
  },
  {
    title: 'Let them fall',
    words: 'Under Motion press add a row, and choose Gravity.',
    why: 'Rows stand here when they are in use; all others wait in this list.',
    at: "[aria-label='Add a row to motion']",
    done: (now) => (emitter(now)?.forces ?? []).some((force) => force.kind === 'gravity'),
  },
  {
    title: 'Look at it',
    words: 'Press Space to play, and drag on the stage to look around.',
    why: 'Undo takes back any of these steps, one by one; everything is saved as you go.',
    at: '[data-part=transport]',
    done: (_, __, playing) => playing,
  },
]

let state = $state.raw(kept<State>(KEPT, 'new'))

export const FirstEffect = {
  /** Whether a first visit is to be asked. */
  offered: () => state === 'new',
  /** The step of an effect, while its first steps are under way. */
  stepOf: (effect: number): number | null => (typeof state === 'object' && state.effect === effect ? state.step : null),
  put(next: State): void {
    state = next
    keep(KEPT, next)
  },
  /** Begin; returns the effect's id. An effect that was begun so and is still there is taken up again. */
  async start(): Promise<number> {
    if (typeof state === 'object' && state.step < STEPS.length) {
      const here = await api.open(state.effect).catch(() => null)
      if (here) return here.id
    }
    const result = await api.begin('empty', '')
    FirstEffect.put({ effect: result.id, step: 0 })
    return result.id
  },
}
