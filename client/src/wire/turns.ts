/** What takes the server long and is only looked at is asked for one after the other: a browser has few connections, and whoever opens or begins
 * an effect must not wait for one of them. */
interface Waiting {
  work: (signal: AbortSignal) => Promise<void>
  left: AbortController
}
const waiting: Waiting[] = []
let ahead = 0 // so many at the front came before their turn
let busy = false

async function next(): Promise<void> {
  if (busy) return
  busy = true
  for (let each = waiting.shift(); each; each = waiting.shift()) {
    ahead = Math.max(0, ahead - 1)
    if (!each.left.signal.aborted) await each.work(each.left.signal).catch(() => undefined)
  }
  busy = false
}

/** Do work when its turn has come; return a function that gives it up. What fails is left out. first: before all that is not. */
export function inTurn(work: (signal: AbortSignal) => Promise<void>, first = false): () => void {
  const left = new AbortController()
  waiting.splice(first ? ahead++ : waiting.length, 0, { work, left })
  void next()
  return () => left.abort()
}

/** Return a picture's bytes as an address of this page. */
export async function pictureFrom(url: string, signal: AbortSignal): Promise<string> {
  const response = await fetch(url, { signal })
  if (!response.ok) throw new Error(`${url}: ${response.status}`)
  return URL.createObjectURL(await response.blob())
}
