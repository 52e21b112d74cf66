/** What components ask a browser for and jsdom has not: stand-ins that say nothing. Loaded before every file; what a test mounted or kept, and
 * what a file put in place of anything global, is taken back after it, since all files share one environment. */
import { cleanup, configure } from '@testing-library/svelte'
import { afterAll, afterEach, vi } from 'vitest'

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
HTMLElement.prototype.showPopover ??= () => {}
HTMLElement.prototype.hidePopover ??= () => {}
configure({ defaultHidden: true }) // what can be seen is for a browser to say; jsdom takes most of a test's time to work it out
Element.prototype.animate ??= () => ({ finished: Promise.resolve(), cancel() {}, onfinish: null }) as never

afterEach(() => {
  cleanup()
  globalThis.localStorage.clear?.() // a file may have put one of its own in place
})
afterAll(() => {
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
  vi.useRealTimers()
})
