/** Changes to a plain document by path: what lies beside the path stays the same object. */

export type Path = readonly (string | number)[]

/** Return what stands at a path. */
export function at(value: unknown, path: Path): unknown {
  return path.reduce<unknown>((v, step) => (v as Record<string | number, unknown> | null | undefined)?.[step], value)
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
