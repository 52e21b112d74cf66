/** What tests and the bench may read of the stage: how many pictures were drawn, of which frame, and mean colours. */
import type { Player } from '../effect/player.svelte'
import type { StageScene } from './scene'

export type StageProbe = { readonly pictures: number; readonly frame: number; readonly complete: boolean; mean: StageScene['mean']; place: (point: [number, number, number]) => [number, number] }

declare global {
  interface Window {
    kageroStage?: StageProbe
  }
}

export function expose(scene: StageScene, player: Player): void {
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
    mean: (...area) => scene.mean(...area),
    place: (point) => scene.onScreen(point),
  }
}
