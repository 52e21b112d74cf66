/** Particles from back to front: a radix sort by how far each is, stable and exact, three passes of eleven bits. */

const BITS = 11
const SIZE = 1 << BITS
const counts = new Uint32Array(3 * SIZE)
let room = 0
let keys = new Uint32Array(0)
let spareKeys = new Uint32Array(0)
let spare = new Uint32Array(0)

/**
 * Write into `order` the numbers 0 to n - 1, those with the least depth first, equal ones as they come. A depth is along the view, less the
 * further away; NaN is as far as it gets.
 */
export function backToFront(depth: Float32Array, order: Uint32Array, n: number): void {
  if (n > room) {
    room = Math.ceil(n * 1.5)
    keys = new Uint32Array(room)
    spareKeys = new Uint32Array(room)
    spare = new Uint32Array(room)
  }
  counts.fill(0)
  const bits = new Uint32Array(depth.buffer, depth.byteOffset, n)
  for (let i = 0; i < n; i++) {
    const b = bits[i]
    // as unsigned numbers in the order of the floats: negative ones turned over, the others after them
    const key = depth[i] !== depth[i] ? 0 : (b & 0x80000000 ? ~b : b | 0x80000000) >>> 0
    keys[i] = key
    counts[key & (SIZE - 1)]++
    counts[SIZE + ((key >>> BITS) & (SIZE - 1))]++
    counts[2 * SIZE + (key >>> (2 * BITS))]++
  }
  let [a, b, c] = [0, 0, 0]
  for (let k = 0; k < SIZE; k++) {
    const [x, y, z] = [counts[k], counts[SIZE + k], counts[2 * SIZE + k]]
    counts[k] = a
    counts[SIZE + k] = b
    counts[2 * SIZE + k] = c
    a += x
    b += y
    c += z
  }
  for (let i = 0; i < n; i++) {
    const at = counts[keys[i] & (SIZE - 1)]++
    spareKeys[at] = keys[i]
    spare[at] = i
  }
  for (let i = 0; i < n; i++) {
    const at = counts[SIZE + ((spareKeys[i] >>> BITS) & (SIZE - 1))]++
    keys[at] = spareKeys[i]
    order[at] = spare[i]
  }
  for (let i = 0; i < n; i++) spare[counts[2 * SIZE + (keys[i] >>> (2 * BITS))]++] = order[i]
  order.set(spare.subarray(0, n))
}
