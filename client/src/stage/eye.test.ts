import * as three from 'three'
import { describe, expect, it } from 'vitest'
import type { FramePacket } from '../wire/packets'
import { particleBox, turnedAbout, walked, SIDES, standing, type Side } from './eye'

const packet = (...positions: number[][]) =>
  ({
    emitters: positions.map((list, i) => ({ uid: `e${i}`, position: new Float32Array(list) })),
  }) as unknown as FramePacket

it('sees every corner of a box from every side, in wide windows and in tall ones', () => {
  const box = new three.Box3(new three.Vector3(-1, 0, 2), new three.Vector3(3, 5, 2.5))
  for (const side of Object.keys(SIDES) as Side[])
    for (const aspect of [0.4, 1, 3]) {
      const { position, target } = standing(box, SIDES[side], 0.7, aspect)
      const camera = new three.PerspectiveCamera((0.7 * 180) / Math.PI, aspect, 0.01, 1000)
      camera.position.fromArray(position)
      camera.lookAt(new three.Vector3(...target))
      camera.updateMatrixWorld()
      for (let corner = 0; corner < 8; corner++) {
        const at = new three.Vector3(
          corner & 1 ? box.min.x : box.max.x,
          corner & 2 ? box.min.y : box.max.y,
          corner & 4 ? box.min.z : box.max.z,
        ).project(camera)
        expect(Math.max(Math.abs(at.x), Math.abs(at.y)), `${side} ${aspect}`).toBeLessThan(1)
      }
    }
})

it('leaves strays out, and whoever is hidden', () => {
  const many = Array.from({ length: 300 }, (_, i) => [i % 10, 1, 0]).flat()
  many[0] = 5000
  expect(particleBox(packet(many), [true]).max.x).toBe(9)
  expect(particleBox(packet([1, 2, 3], [4, 5, 6]), [true, false]).max.toArray()).toEqual([1, 2, 3])
  expect(particleBox(packet([1, 2, 3], [4, 5, 6]), [true, false], 'e1').min.toArray()).toEqual([4, 5, 6])
  expect(particleBox(packet([]), [true]).isEmpty()).toBe(true)
})

describe('turning about a place', () => {
  const eye = { position: new three.Vector3(1, 2, 5), target: new three.Vector3(0, 1, 0) }
  const place = new three.Vector3(2, 0.5, -1)
  it('keeps how far it is, and where it is in the picture', () => {
    for (const [yaw, pitch] of [
      [0.4, 0],
      [-1.2, 0.3],
      [2.5, -0.2],
    ]) {
      const result = turnedAbout(eye, place, yaw, pitch)
      expect(result.position.distanceTo(place)).toBeCloseTo(eye.position.distanceTo(place), 9)
      expect(result.position.distanceTo(result.target)).toBeCloseTo(eye.position.distanceTo(eye.target), 9)
      const seen = (e: typeof eye) => {
        const camera = new three.PerspectiveCamera(40, 1.6, 0.1, 100)
        camera.position.copy(e.position)
        camera.lookAt(e.target)
        camera.updateMatrixWorld()
        return place.clone().project(camera)
      }
      expect(seen(result).distanceTo(seen(eye))).toBeLessThan(1e-9)
    }
  })
  it('never goes over the top, and stays level', () => {
    const result = turnedAbout(eye, place, 0, 9)
    const direction = result.target.clone().sub(result.position).normalize()
    expect(Math.asin(direction.y)).toBeCloseTo((89 * Math.PI) / 180, 6)
  })
})

describe('walking', () => {
  it('goes on over the ground whatever way one looks up or down', () => {
    const eye = { position: new three.Vector3(0, 3, 4), target: new three.Vector3(0, 0, 0) }
    expect(walked(eye, 1, 0, 0).position.toArray()).toEqual([0, 3, 3])
    expect(walked(eye, 0, 2, 0).position.x).toBeCloseTo(2)
    expect(walked(eye, 0, 0, 0.5).target.y).toBe(0.5)
  })
})
