/** Small things that this browser keeps for somebody: choices of the screen, nothing of an effect. What cannot be read or kept is as if it were new. */

export function kept<T>(name: string, fresh: T, store: Storage = localStorage): T {
  try {
    return (JSON.parse(store.getItem(name) ?? 'null') as T | null) ?? fresh
  } catch {
    return fresh
  }
}
export function keep(name: string, value: unknown, store: Storage = localStorage): void {
  try {
    store.setItem(name, JSON.stringify(value))
  } catch {
    // full, or forbidden: the next visit begins as the first did
  }
}
