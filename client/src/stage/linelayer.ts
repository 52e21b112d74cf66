/** On request, of every particle: how it moves, or its own axes, as lines over everything. */
import * as three from 'three'
import type { DrawnEmitter } from '../wire/packets'

/** What can be shown so, and what it is called. */
export const LINES = [
  {
    lines: 'lamps',
    label: 'lamps that count',
    help: 'The brightest of all particles that light: those whose light is seen.',
  },
  { lines: 'velocity', label: 'velocities', help: 'Of every particle, where it goes within a tenth of a second.' },
  {
    lines: 'axes',
    label: 'own axes',
    help: 'Of every particle that is turned in space: x vermilion, y paper, z teal.',
  },
] as const

const AHEAD = 0.1 // seconds
const SHORTEST = 0.05 // metres, of an axis
const AXES = [
  [0.8, 0.13, 0.045],
  [0.83, 0.78, 0.69],
  [0.1, 0.5, 0.48],
]
const half = three.DataUtils.fromHalfFloat

export class LineLayer {
  readonly group = new three.LineSegments(
    new three.BufferGeometry(),
    new three.LineBasicMaterial({ vertexColors: true, transparent: true, opacity: 0.8, depthTest: false }),
  )

  constructor() {
    this.group.frustumCulled = false
    this.group.visible = false
  }

  /** Show what a packet brought: three half floats a particle are a velocity, four a turn. lamps: places and colours to be marked. */
  show(emitters: readonly DrawnEmitter[], lamps: readonly number[][] = []): void {
    const points: number[] = []
    const colours: number[] = []
    const line = (from: readonly number[], direction: readonly number[], colour: readonly number[]) => {
      points.push(...from, from[0] + direction[0], from[1] + direction[1], from[2] + direction[2])
      colours.push(...colour, ...colour)
    }
    for (const [x, y, z, r, g, b] of lamps) {
      const brightest = Math.max(r, g, b, 1e-6)
      for (let axis = 0; axis < 3; axis++) {
        const direction = [0, 0, 0]
        direction[axis] = 2 * SHORTEST
        line(
          [x, y, z].map((v, k) => v - direction[k] / 2),
          direction,
          [r, g, b].map((c) => c / brightest),
        )
      }
    }
    for (const emitter of emitters) {
      const { lines, count, position } = emitter
      if (!lines?.length) continue
      const width = lines.length / count
      for (let i = 0; i < count; i++) {
        const from = [position[i * 3], position[i * 3 + 1], position[i * 3 + 2]]
        const given = Array.from({ length: width }, (_, k) => half(lines[i * width + k]))
        if (width === 3)
          line(
            from,
            given.map((v) => v * AHEAD),
            AXES[1],
          )
        else {
          const size = emitter.columns.size ? Number(emitter.columns.size[i]) : (emitter.defaults?.size ?? 0)
          const turn = new three.Quaternion(...(given as [number, number, number, number])).normalize()
          for (let axis = 0; axis < 3; axis++)
            line(
              from,
              new three.Vector3()
                .setComponent(axis, Math.max(size * 0.7, SHORTEST))
                .applyQuaternion(turn)
                .toArray(),
              AXES[axis],
            )
        }
      }
    }
    this.group.visible = points.length > 0
    if (!points.length) return
    this.group.geometry.dispose()
    this.group.geometry = new three.BufferGeometry()
      .setAttribute('position', new three.Float32BufferAttribute(points, 3))
      .setAttribute('color', new three.Float32BufferAttribute(colours, 3))
  }

  dispose(): void {
    this.group.geometry.dispose()
    ;(this.group.material as three.Material).dispose()
  }
}
