/** What tests and the bench may read of the stage: how many pictures were drawn, of which frame, and what they look like. */
import type { Player } from '../effect/player.svelte'
import { traffic } from '../wire/api'
import type { StageScene } from './scene'
import type { Sheets } from './sheets.svelte'

export type StageProbe = {
  readonly pictures: number
  readonly frame: number
  readonly complete: boolean
  readonly answered: boolean
  readonly quiet: boolean
  /** Whether all looks are drawn with the pictures they ask for. */
  readonly pictured: boolean
  mean: StageScene['mean']
  picture: StageScene['picture']
  timed: StageScene['timed']
  bodies: StageScene['triangles']
  /** What is drawn of an emitter, look by look. */
  layers: (emitter: number) => { sprite: string; points: number }[]
  place: (point: [number, number, number]) => [number, number]
}

declare global {
  interface Window {
    kageroStage?: StageProbe
    /** Set before the page loads: the stage does all but draw. */
    kageroDrawsNothing?: boolean
  }
}

export function expose(scene: StageScene, player: Player, sheets: Sheets): void {
  window.kageroStage = {
    get pictures() {
      return scene.drawn
    },
    get frame() {
      return player.shown?.frame ?? -1
    },
    get complete() {
      return player.clipComplete
    },
    get answered() {
      return traffic.pending === 0
    },
    get quiet() {
      return player.clipComplete && traffic.pending === 0
    },
    get pictured() {
      return player.shown?.emitters.every((each) => sheets.all(each.sheets)) ?? false
    },
    mean: (...area) => scene.mean(...area),
    picture: () => scene.picture(),
    timed: () => scene.timed(),
    bodies: () => scene.triangles(),
    layers: (emitter) =>
      (player.shown?.emitters[emitter].layers ?? []).map(({ drawing, points }) => ({
        sprite: String(drawing.sprite),
        points: (points?.length ?? 0) / 3,
      })),
    place: (point) => scene.onScreen(point),
  }
}
