/** Where to stand so that something is seen whole. Metres; y is up. */
import * as three from 'three'
import type { FramePacket } from '../wire/packets'

/** From where one looks, as a direction away from what is looked at: front along z, side along x, top along y. */
export const SIDES = { z: [0, 0, 1], x: [1, 0, 0], y: [0, 1, 0.0001] } as const
export type Side = keyof typeof SIDES
const ROOM = 1.12 // so much more than what must be seen

/**
 * Return the box around a frame's particles: of each axis all but the outermost hundredth on both sides, so that a few
 * strays do not make the rest small. uid: of one emitter only. The box is empty where there are none.
 */
export function particleBox(packet: FramePacket, visible: readonly boolean[], uid = ''): three.Box3 {
  const box = new three.Box3()
  const here = packet.emitters.filter((each, i) => (uid ? each.uid === uid : visible[i] !== false))
  const count = here.reduce((sum, each) => sum + each.position.length / 3, 0)
  if (!count) return box
  const low: number[] = []
  const high: number[] = []
  for (let axis = 0; axis < 3; axis++) {
    const values = new Float32Array(count)
    let at = 0
    for (const { position } of here) for (let i = axis; i < position.length; i += 3) values[at++] = position[i]
    values.sort()
    const strays = Math.floor(count / 100)
    low.push(values[strays])
    high.push(values[count - 1 - strays])
  }
  return box.set(new three.Vector3(...low), new three.Vector3(...high))
}

/** Return where to stand and what to look at, so that a box is seen whole. from: the direction towards the eye; view: radians, vertical. */
export function standing(
  box: three.Box3,
  from: readonly [number, number, number],
  view: number,
  aspect: number,
): { position: [number, number, number]; target: [number, number, number] } {
  const middle = box.getCenter(new three.Vector3())
  const radius = Math.max(box.getSize(new three.Vector3()).length() / 2, 0.05)
  const half = Math.min(view / 2, Math.atan(Math.tan(view / 2) * aspect))
  const away = new three.Vector3(...from).normalize().multiplyScalar((radius * ROOM) / Math.sin(half))
  return { position: middle.clone().add(away).toArray(), target: middle.toArray() }
}
