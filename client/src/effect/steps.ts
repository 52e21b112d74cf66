/** The steps of an effect as a list to choose from: those undone, now, done, and those that were edited away, by where they branch off. */
import type { Overlay } from './overlay.svelte'
import type { StepOut } from '../wire/types'

export function stepsToGo(every: StepOut[], go: (number: number) => void): NonNullable<Overlay['list']>['items'] {
  const steps = every.filter((step) => step.after === null)
  const now = steps.findIndex((step) => step.now)
  const labels = new Map(steps.map((step) => [step.number, step.label]))
  const away = every.filter((step) => step.after !== null)
  return [
    ...steps
      .map((step, at) => ({
        label: step.label,
        group: at > now ? 'undone' : at === now ? 'now' : 'done',
        detail: at === now ? '' : at > now ? `+${at - now}` : `−${now - at}`,
        act: () => go(step.number),
      }))
      .toReversed(),
    ...away
      .toSorted((a, b) => b.after! - a.after! || b.number - a.number)
      .map((step) => ({
        label: step.label,
        group: `edited away${labels.has(step.after!) ? ` after “${labels.get(step.after!)}”` : ''}`,
        act: () => go(step.number),
      })),
  ]
}
