/** What takes the server long and is only looked at is asked for one after the other: a browser has few connections, and whoever opens or begins
 * an effect must not wait for one of them. */
let turn: Promise<void> = Promise.resolve()

/** Do work when its turn has come; return a function that gives it up. What fails is left out. */
export function inTurn(work: (signal: AbortSignal) => Promise<void>): () => void {
  const left = new AbortController()
  turn = turn.then(() => (left.signal.aborted ? undefined : work(left.signal).catch(() => undefined)))
  return () => left.abort()
}

/** Return a picture's bytes as an address of this page. */
export async function pictureFrom(url: string, signal: AbortSignal): Promise<string> {
  const response = await fetch(url, { signal })
  if (!response.ok) throw new Error(`${url}: ${response.status}`)
  return URL.createObjectURL(await response.blob())
}
