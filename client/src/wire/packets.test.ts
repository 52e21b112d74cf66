import { describe, expect, it } from 'vitest'
import { complete, held, PacketCutter, readPacket, samePicture, type FramePacket } from './packets'

function packet(header: object, arrays: Record<string, [string, number[], ArrayBuffer]>): ArrayBuffer {
  let offset = 0
  const table: Record<string, object> = {}
  for (const [name, [type, shape, data]] of Object.entries(arrays)) {
    table[name] = { type, shape, offset }
    offset += (data.byteLength + 7) & ~7
  }
  let text = JSON.stringify({ ...header, arrays: table })
  while ((12 + text.length) % 8) text += ' '
  const whole = new Uint8Array(12 + text.length + offset)
  const view = new DataView(whole.buffer)
  whole.set([75, 71, 80, 49])
  view.setUint32(4, whole.length, true)
  view.setUint32(8, text.length, true)
  whole.set(new TextEncoder().encode(text), 12)
  for (const [name, [, , data]] of Object.entries(arrays))
    whole.set(new Uint8Array(data), 12 + text.length + (table[name] as { offset: number }).offset)
  return whole.buffer
}

const frame = (n: number) =>
  packet(
    { type: 'frame', frame: n, seconds: 0, emitters: [{ uid: 'e', count: 2, faults: [] }] },
    {
      'position.0': ['<f4', [2, 3], new Float32Array([1, 2, 3, 4, 5, n]).buffer],
      'look.size.0': ['<f4', [2], new Float32Array([0.5, 0.25]).buffer],
      'look.colour.0': ['<f2', [2, 3], new Uint16Array([1, 2, 3, 4, 5, 6]).buffer],
    },
  )

describe('frame packets', () => {
  it('are read in place', () => {
    const read = readPacket(frame(9)) as FramePacket
    expect([...read.emitters[0].position]).toEqual([1, 2, 3, 4, 5, 9])
    expect([...read.emitters[0].columns.colour]).toEqual([1, 2, 3, 4, 5, 6])
    expect([...read.emitters[0].columns.size]).toEqual([0.5, 0.25])
  })
  it('come out of a stream however it is cut', () => {
    const bytes = [0, 1, 2].flatMap((n) => [...new Uint8Array(frame(n))])
    for (const size of [1, 7, 100, 1000, bytes.length]) {
      const cutter = new PacketCutter()
      const got: number[] = []
      for (let i = 0; i < bytes.length; i += size)
        for (const p of cutter.push(new Uint8Array(bytes.slice(i, i + size))))
          got.push((readPacket(p) as FramePacket).frame)
      expect(got).toEqual([0, 1, 2])
    }
  })
  it('name what is held in spans, and take from older packets what newer ones leave out', () => {
    const result = (n: number, motion: string, look: string) => {
      const packet = readPacket(frame(n)) as FramePacket
      Object.assign(packet.emitters[0], { motion, look })
      return packet
    }
    const known = [result(0, 'a', 'x'), result(1, 'a', 'x'), result(2, 'a', 'y'), result(4, 'a', 'y')]
    expect(held(known).map((h) => [h.motion, h.look, h.first, h.last])).toEqual([
      ['a', 'x', 0, 1],
      ['a', 'y', 2, 2],
      ['a', 'y', 4, 4],
    ])
    const look = { ...result(1, 'a', 'z') }
    Reflect.deleteProperty(look.emitters[0], 'position')
    expect(complete(look, known[1])).toBe(true)
    expect(look.emitters[0].position).toBe(known[1].emitters[0].position)
    const other = result(1, 'b', 'z')
    Reflect.deleteProperty(other.emitters[0], 'position')
    expect(complete(other, known[1])).toBe(false)
    expect(complete(other, undefined)).toBe(false)
  })
  it('of props take what they carry from older packets, and are not whole without it', () => {
    const result = (carries: number, gone: boolean) => {
      const arrays = {
        'position.0': ['<f4', [0, 3], new ArrayBuffer(0)],
        'look.size.0': ['<f4', [0], new ArrayBuffer(0)],
        'light.0': ['<f2', [0, 4], new ArrayBuffer(0)],
      } as Record<string, [string, number[], ArrayBuffer]>
      if (gone) arrays['gone.0'] = ['|u1', [3], new Uint8Array([0, 128, 255]).buffer]
      return readPacket(
        packet(
          {
            type: 'frame',
            frame: 1,
            seconds: 0,
            emitters: [{ uid: 'e', count: 0, faults: [] }],
            props: [{ uid: 'p', place: [], carries }],
          },
          arrays,
        ),
      ) as FramePacket
    }
    const whole = result(1, true)
    expect([...whole.props![0].gone!]).toEqual([0, 128, 255])
    const numbers = result(1, false)
    expect(complete(numbers, whole)).toBe(true)
    expect(numbers.props![0].gone).toBe(whole.props![0].gone)
    expect(samePicture(numbers, whole)).toBe(false) // their particles' arrays are others
    expect(complete(result(1, false), undefined)).toBe(false)
    const stays = result(0, false) // it does not dissolve any more
    expect(complete(stays, whole)).toBe(true)
    expect(stays.props![0].gone).toBeUndefined()
  })
  it('refuse other bytes', () => {
    expect(() => readPacket(new ArrayBuffer(40))).toThrow()
    expect(() => readPacket(frame(1).slice(0, 60))).toThrow()
    expect(() => new PacketCutter().push(new Uint8Array(40))).toThrow()
  })
})
