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

const STEEPEST = (89 * Math.PI) / 180
export type Eye = { position: three.Vector3; target: three.Vector3 }

/**
 * Return an eye turned about a place: what is there stays where it is in the picture's depth, and the horizon stays level. yaw: about
 * the upright axis; pitch: up is positive, held short of straight up and down. Radians.
 */
export function turnedAbout(eye: Eye, place: three.Vector3, yaw: number, pitch: number): Eye {
  const up = new three.Vector3(0, 1, 0)
  const ahead = eye.target.clone().sub(eye.position)
  const tilt = Math.asin(Math.min(Math.max(ahead.y / (ahead.length() || 1), -1), 1))
  const held = Math.min(Math.max(tilt + pitch, -STEEPEST), STEEPEST) - tilt
  const right = new three.Vector3().crossVectors(ahead, up).normalize()
  const turn = new three.Quaternion()
    .setFromAxisAngle(up, yaw)
    .multiply(new three.Quaternion().setFromAxisAngle(right.lengthSq() ? right : new three.Vector3(1, 0, 0), held))
  const about = (point: three.Vector3) => point.clone().sub(place).applyQuaternion(turn).add(place)
  return { position: about(eye.position), target: about(eye.target) }
}

/** Return an eye that walked: on and aside over the ground, and up; metres. It goes on looking the same way. */
export function walked(eye: Eye, on: number, aside: number, up: number): Eye {
  const ahead = eye.target.clone().sub(eye.position).setY(0)
  if (ahead.lengthSq() < 1e-12) ahead.set(0, 0, -1)
  ahead.normalize()
  const step = ahead
    .clone()
    .multiplyScalar(on)
    .addScaledVector(new three.Vector3(-ahead.z, 0, ahead.x), aside)
    .setY(up)
  return { position: eye.position.clone().add(step), target: eye.target.clone().add(step) }
}
