/** Things of one kind that are dragged onto each other: what is dropped takes the place of what it is dropped on. */

/** Return what lets a thing be dropped on: over is told its uid while something is above it, and null again; place what was dropped. */
export function dropOn(
  type: string,
  uid: string,
  over: (uid: string | null) => void,
  place: (dropped: string) => void,
) {
  return {
    ondragover: (event: DragEvent) => {
      if (!event.dataTransfer?.types.includes(type)) return
      event.preventDefault()
      over(uid)
    },
    ondragleave: () => over(null),
    ondrop: (event: DragEvent) => {
      over(null)
      const dropped = event.dataTransfer?.getData(type)
      if (!dropped) return
      event.preventDefault()
      event.stopPropagation()
      place(dropped)
    },
  }
}
