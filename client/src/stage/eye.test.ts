import * as three from 'three'
import { expect, it } from 'vitest'
import type { FramePacket } from '../wire/packets'
import { particleBox, SIDES, standing, type Side } from './eye'

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
