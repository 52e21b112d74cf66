/** How the Desk's panes share the window: what stands alone, and which one is seen where there is room for one only. */

import { keep, kept } from '../controls/kept'

export type PaneName = 'stage' | 'sheet' | 'response'
const NARROW = 700
const LOW = 560
const HAPPENINGS = 'kagero.cues-on-stage'

export class Room {
  width = $state(innerWidth)
  height = $state(innerHeight)
  /** The stage alone, or the sheet alone, for as long as wished. */
  alone = $state<'' | 'stage' | 'sheet'>('')
  /** The pane that is seen where there is room for one only. */
  one = $state<PaneName>('stage')
  /** Whether there is room for one pane only. */
  readonly narrow = $derived(this.width < NARROW || this.height < LOW)

  shows(pane: PaneName): boolean {
    if (this.alone) return pane === this.alone
    return !this.narrow || this.one === pane
  }
  /** What the eye is to do next: to frame all or what is chosen, to look along an axis, from the effect's camera. */
  eye = $state.raw<{ to: 'all' | 'chosen' | 'x' | 'y' | 'z' | 'camera' } | null>(null)
  /** Whether grid, guides, handles and outlines are hidden. */
  plain = $state(false)
  /** Whether rings show where cues happened lately, and dots who touches what they meet. */
  happenings = $state(kept(HAPPENINGS, true))
  showHappenings(on: boolean): void {
    keep(HAPPENINGS, (this.happenings = on))
  }
  /** Whether a figure 1.7 m tall stands on the stage, to judge scale by. */
  figure = $state(false)
  /** Where the stage is looked at from, where that is not the effect's camera. */
  standing = $state.raw<{ position: number[]; target: number[] } | null>(null)

  toggle(pane: 'stage' | 'sheet'): void {
    this.alone = this.alone === pane ? '' : pane
  }

  /** Open the stage in a window of its own; asked again, the same one comes to the front. */
  openStage(id: number): void {
    window.open(`/effects/${id}/stage`, `kagero-stage-${id}`, 'popup,width=1280,height=720')?.focus()
  }

  /** Per cent of the width that the sheet has at first: about 600 pixels, and never more than about half. */
  readonly sheetShare = $derived(Math.min(Math.max((600 / this.width) * 100, 30), 50))
  /** Per cent of what the top and the transport leave: about 196 pixels for the response, and 160 for the strip of a life. */
  readonly responseShare = $derived(Math.min(Math.max((196 / Math.max(this.height - 100, 300)) * 100, 20), 40))
  readonly lifeShare = $derived(
    Math.min(Math.max((160 / Math.max((this.height - 100) * (1 - this.responseShare / 100), 200)) * 100, 18), 45),
  )
}
