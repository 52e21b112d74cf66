/** The picked particle's life, fetched anew when the particle or the effect changes. */
import { api, Refused } from '../wire/api'
import type { OneLife } from '../wire/types'
import type { OpenEffect } from './open.svelte'
import type { Player } from './player.svelte'

export class PickedLife {
  life = $state.raw<OneLife | null>(null)
  problem = $state('')
  private requested = 0

  constructor(
    private effect: OpenEffect,
    private player: Player,
  ) {}

  /** Pick the particle at an index of the frame on screen. */
  async pickAt(emitter: string, index: number): Promise<void> {
    await this.fetch(emitter, { index })
    if (this.life) this.player.pick({ emitter, key: this.life.key })
  }

  async refresh(): Promise<void> {
    const { picked } = this.player
    if (!picked) this.life = null
    else await this.fetch(picked.emitter, { key: picked.key })
  }

  private async fetch(emitter: string, target: { key: string } | { index: number }): Promise<void> {
    const mine = ++this.requested
    // a particle that is not alive on screen is asked for at a frame at which it was
    const frame =
      'key' in target && this.life?.key === target.key && !this.life.frames.includes(this.player.frame)
        ? this.life.frames[0]
        : this.player.frame
    try {
      const life = await api.oneLife(this.effect.plain(), emitter, frame, target)
      if (mine !== this.requested) return
      this.life = life
      this.problem = ''
    } catch (error) {
      if (mine !== this.requested) return
      this.problem = error instanceof Refused ? error.message : 'The server does not answer. Try again in a moment.'
    }
  }
}
