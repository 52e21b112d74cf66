/** The ground of the whole application: night or day, or as the system has it. Kept in this browser. */
import { keep, kept } from './kept'

export type Theme = 'night' | 'day' | 'system'
const KEPT = 'kagero.theme'
const light = matchMedia('(prefers-color-scheme: light)')

class Ground {
  wish = $state<Theme>(kept<Theme>(KEPT, 'night'))

  constructor() {
    light.addEventListener('change', () => this.apply())
    this.apply()
  }
  get now(): 'night' | 'day' {
    return this.wish === 'system' ? (light.matches ? 'day' : 'night') : this.wish
  }
  choose(wish: Theme): void {
    this.wish = wish
    keep(KEPT, wish)
    this.apply()
  }
  private apply(): void {
    document.documentElement.dataset.theme = this.now
    document.querySelector('meta[name=color-scheme]')?.setAttribute('content', this.now === 'day' ? 'light' : 'dark')
  }
}
export const ground = new Ground()

/** Return a colour of the ground as it is now, for what is drawn by hand; whoever draws is told when it changes. */
export function colourOf(name: string): string {
  void ground.now
  return getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim()
}
