/** What components ask a browser for and jsdom has not: stand-ins that say nothing. Loaded before every file; what a file put in place of
 * anything global is taken back after it, since all files share one environment. */
import { afterAll, vi } from 'vitest'

class Observer {
  observe() {}
  unobserve() {}
  disconnect() {}
}
const matchMedia = (media: string) => ({
  media,
  matches: false,
  addEventListener: () => {},
  removeEventListener: () => {},
})
Object.assign(globalThis, { ResizeObserver: Observer, IntersectionObserver: Observer, matchMedia })
Element.prototype.scrollIntoView ??= () => {}
Element.prototype.animate ??= () => ({ finished: Promise.resolve(), cancel() {}, onfinish: null }) as never

afterAll(() => {
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
  vi.useRealTimers()
})
