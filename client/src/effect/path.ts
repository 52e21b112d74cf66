/** Changes to a plain document by path: what lies beside the path stays the same object. */

export type Path = readonly (string | number)[]

/** Return what stands at a path. */
export function at(value: unknown, path: Path): unknown {
  return path.reduce<unknown>((v, step) => (v as Record<string | number, unknown> | null | undefined)?.[step], value)
}

/** Return a path whose items of lists are named by their uids ("#uid") as it is now; null where one of them is not there. */
export function resolve(value: unknown, path: Path): Path | null {
  const resolved: (string | number)[] = []
  for (const step of path) {
    let index: string | number = step
    if (typeof step === 'string' && step.startsWith('#')) {
      index = Array.isArray(value) ? value.findIndex((each) => (each as { uid?: string }).uid === step.slice(1)) : -1
      if (index < 0) return null
    }
    resolved.push(index)
    value = (value as Record<string | number, unknown> | null | undefined)?.[index]
  }
  return resolved
}

/** Return a document with another value at a path; the argument is not changed. */
export function put<T>(document: T, path: Path, value: unknown): T {
  if (!path.length) return value as T
  const [step, ...rest] = path
  const copy = (Array.isArray(document) ? [...document] : { ...document }) as Record<string | number, unknown>
  copy[step] = put(copy[step], rest, value)
  return copy as T
}

/** Return a new uid: permanent, for the machine. */
export function newUid(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(8))
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
}

/** Return plain data in which every uid that is "new", or "new-" and a number, is one. */
export function withUids<T>(value: T): T {
  if (Array.isArray(value)) return value.map(withUids) as T
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, each]) => [
      key,
      key === 'uid' && /^new(-\d+)?$/.test(String(each)) ? newUid() : withUids(each),
    ]),
  ) as T
}
