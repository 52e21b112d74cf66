/** What components ask a browser for and jsdom has not: stand-ins that say nothing. Loaded before every test. */
import { vi } from 'vitest'

class Observer {
  observe() {}
  unobserve() {}
  disconnect() {}
}
vi.stubGlobal('ResizeObserver', Observer)
vi.stubGlobal('IntersectionObserver', Observer)
vi.stubGlobal('matchMedia', (media: string) => ({
  media,
  matches: false,
  addEventListener: () => {},
  removeEventListener: () => {},
}))
Element.prototype.scrollIntoView ??= () => {}
Element.prototype.animate ??= () => ({ finished: Promise.resolve(), cancel() {}, onfinish: null }) as never
