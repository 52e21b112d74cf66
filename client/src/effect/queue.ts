/** Work that must not cross: each piece begins when the one before it has ended, well or not; none is dropped. */
export class Queue {
  private last: Promise<unknown> = Promise.resolve()

  /** Return what the work gives, once its turn has come. */
  add<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work)
    this.last = mine.catch(() => undefined)
    return mine
  }
}
