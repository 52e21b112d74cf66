/** The extent of a mask as lines: where it is whole, and fainter where it has fallen to nothing. In its own space, scaled by its matrix. */
import type { Extent } from '../wire/packets'

const ROUND = 48
type Axis = 'x' | 'y' | 'z'

function circle(radius: number, axis: Axis, along = 0): number[] {
  const lines: number[] = []
  const at = (i: number) => {
    const [c, s] = [radius * Math.cos((i / ROUND) * 2 * Math.PI), radius * Math.sin((i / ROUND) * 2 * Math.PI)]
    return axis === 'y' ? [c, along, s] : axis === 'x' ? [along, c, s] : [c, s, along]
  }
  for (let i = 0; i < ROUND; i++) lines.push(...at(i), ...at(i + 1))
  return lines
}
function box([x, y, z]: number[]): number[] {
  const corner = (i: number) => [i & 1 ? x : -x, i & 2 ? y : -y, i & 4 ? z : -z]
  const lines: number[] = []
  for (let a = 0; a < 8; a++) for (const bit of [1, 2, 4]) if (!(a & bit)) lines.push(...corner(a), ...corner(a | bit))
  return lines
}
function sheet(half: number, y: number): number[] {
  const lines: number[] = []
  for (let i = -2; i <= 2; i++)
    lines.push((i / 2) * half, y, -half, (i / 2) * half, y, half, -half, y, (i / 2) * half, half, y, (i / 2) * half)
  return lines
}

/**
 * Return the lines, inner then outer, (x, y, z) a point. scale: how long the axes of its matrix are; the falloff, and how much of it lies
 * within the edge, are in metres of the world.
 */
export function maskLines(
  shape: string,
  { radius, size, falloff, within = 0 }: Extent,
  scale: readonly number[],
): [inner: number[], outer: number[]] {
  const away = scale.map((s) => falloff / Math.max(s, 1e-6))
  const half = size.map((s) => Math.abs(s) / 2)
  const at = (outward: number, outer = false): number[] => {
    const [ax, ay, az] = away.map((a) => a * outward)
    if (shape === 'sphere' || shape === 'distance') {
      const r = Math.max(0, radius + ax)
      return [...circle(r, 'x'), ...circle(r, 'y'), ...circle(r, 'z')]
    }
    if (shape === 'box') return box([half[0] + ax, half[1] + ay, half[2] + az])
    if (shape === 'slab') return [...sheet(1, half[1] + ay), ...sheet(1, -half[1] - ay)]
    if (shape === 'plane') return [...sheet(1, ay), ...(outer ? [] : [0, ay, 0, 0, ay - 0.25, 0])]
    if (shape === 'cylinder') {
      const [r, h] = [radius + ax, half[1] + ay]
      return [
        ...circle(r, 'y', h),
        ...circle(r, 'y', -h),
        r,
        -h,
        0,
        r,
        h,
        0,
        -r,
        -h,
        0,
        -r,
        h,
        0,
        0,
        -h,
        r,
        0,
        h,
        r,
        0,
        -h,
        -r,
        0,
        h,
        -r,
      ]
    }
    return []
  }
  const inside = falloff > 0 ? within / falloff : 0
  return [at(inside ? -inside : 0), falloff > 0 ? at(1 - inside, true) : []]
}
