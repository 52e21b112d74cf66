/** Curves and gradients of the user's own, kept on the server for all effects. */
import { api } from '../wire/api'
import type { Preset } from '../wire/types'

export class Presets {
  mine = $state.raw<Preset[]>([])

  async load(): Promise<void> {
    this.mine = await api.presets()
  }
  async keep(name: string, kind: 'curve' | 'gradient', data: Record<string, unknown>): Promise<void> {
    await api.keepPreset(name, kind, data)
    await this.load()
  }
  async forget(id: number): Promise<void> {
    await api.forgetPreset(id)
    await this.load()
  }
}
