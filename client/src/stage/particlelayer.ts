/** All particles of a frame, of all looks, as one mesh: painted from back to front, whatever they look like. */
import * as three from 'three'
import type { DrawnEmitter } from '../wire/packets'
import type { LookSheets } from '../wire/arrays'
import { Atlas, floatTexture } from './atlas'
import { backToFront } from './depthsort'
import { FormTextures, Pairs, type PlacedForms } from './forms'
import { FEW_FLOATS, FEW_HALVES, FLOATS, HALVES, type StageLook } from './looks/look'
import { partsOf, type DrawnPart } from './layers'
import type { Lamps } from './lamps'
import { picture } from './looks/picture'
import { depths, formOf, hiding, piece, settings } from './looks/piece'
import { DATA_WIDTH, FRAGMENT, TABLE_WIDTH, VERTEX } from './looks/shaders'
import { softDisc } from './looks/soft_disc'
import { byName } from './kinds'
import { joins, strand } from './looks/strand'
import { RAMP_STOPS } from './ramp'

/** By the names of their modules in the core; another that gives a disc's columns is drawn as one. */
/** The looks: each is the module of its name in looks/, by its default export. */
export const LOOKS = byName(import.meta.glob<{ default?: StageLook }>('./looks/*.ts', { eager: true }))
const EDGES = ['end', 'hold', 'repeat', 'mirror']
const BLENDS = ['over', 'screen', 'multiply']
const STANDS = ['depth', 'before', 'behind']
const half = three.DataUtils.toHalfFloat

/** The ramp in half floats: 256 steps of red, green, blue. */
const RAMP = (() => {
  const ramp = new Uint16Array(256 * 3)
  for (let i = 0; i < 256; i++) {
    const at = (i / 255) * (RAMP_STOPS.length - 1)
    const k = Math.min(Math.floor(at), RAMP_STOPS.length - 2)
    for (let c = 0; c < 3; c++)
      ramp[i * 3 + c] = half(RAMP_STOPS[k][c] + (RAMP_STOPS[k + 1][c] - RAMP_STOPS[k][c]) * (at - k))
  }
  return ramp
})()

/** Whether any of an emitter's particles may hide something: those that only add light need no order. */
const hides = (part: DrawnPart) => !!part.columns.cover || (part.defaults.cover ?? 1) > 0
const blendOf = (part: DrawnPart) => Math.max(BLENDS.indexOf(String(part.drawing.blend)), 0)
/** Whether what a part is drawn with is not here. */
const lacks = ({ drawing }: DrawnPart, used: LookSheets | undefined) =>
  drawing.sprite === 'picture'
    ? !used?.sheets[0]
    : drawing.sprite === 'piece' && (!used?.forms || (drawing.drawn_with === 'picture' && !used.sheets[0]))
/** The look of a part; the disc stands in for pictures and lines that are not here. */
const lookOf = (part: DrawnPart, used: LookSheets | undefined): StageLook =>
  part.joined
    ? strand
    : part.drawing.lines || part.drawing.surface || lacks(part, used)
      ? softDisc
      : (LOOKS[String(part.drawing.sprite)] ?? softDisc)

export class ParticleLayer {
  readonly mesh: three.Mesh<three.BufferGeometry, three.ShaderMaterial[]>
  /** Bodies that hide what is behind them. */
  readonly solids: three.Mesh<three.BufferGeometry, three.ShaderMaterial>
  readonly atlas = new Atlas()
  private readonly forms = new FormTextures()
  private readonly pairs = new Pairs()
  /** The bodies that do not hide what is behind them: whose each is, and where the first of its triangles stands in what is sorted. */
  private open: { part: number; index: number; at: number }[] = []
  private placed: (PlacedForms | undefined)[] = []
  private solidCount = 0
  private openCount = 0
  private emitters: readonly DrawnEmitter[] = []
  private parts: DrawnPart[] = []
  private total = 0
  private capacity = 0
  private perParticle = FEW_HALVES
  private perFloats = FEW_FLOATS
  private floats = new Float32Array(0)
  private halves = new Uint16Array(0)
  private depth = new Float32Array(0)
  private order = new Uint32Array(0)
  private index = new Uint32Array(0)
  private blend = new Uint8Array(0)
  private textures: three.DataTexture[] = []
  private shading = false
  private range: readonly [number, number] | null = null
  private sheets: (key: string) => LookSheets | undefined = () => undefined
  private uniforms = {
    floats: { value: null as three.Texture | null },
    halves: { value: null as three.Texture | null },
    table: { value: null as three.Texture | null },
    plates: { value: this.atlas.plates as three.Texture },
    atlas: { value: this.atlas.texture as three.Texture },
    halfTexels: { value: 2 },
    floatTexels: { value: 2 },
    corners: { value: this.forms.corners as three.Texture },
    shapes: { value: this.forms.shapes as three.Texture },
    pairs: { value: this.pairs.texture as three.Texture },
    firstTriangle: { value: 0 },
    firstPair: { value: 0 },
    focal: { value: 1 },
    pixels: { value: new three.Vector2(1, 1) },
    dots: { value: 0 },
    coloured: { value: 0 },
    before: { value: null as three.Texture | null },
    deep: { value: 0 },
    range: { value: new three.Vector2(0.02, 500) },
  }

  constructor(lamps: Lamps) {
    Object.assign(this.uniforms, lamps.uniforms)
    const result = (blending: number) =>
      new three.ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        uniforms: { ...this.uniforms, blending: { value: blending } },
        side: three.DoubleSide, // pieces of lines are turned either way
        depthTest: false,
        depthWrite: false,
        transparent: true,
        blending: three.CustomBlending,
        blendSrc: blending === 2 ? three.DstColorFactor : three.OneFactor,
        blendDst: [three.OneMinusSrcAlphaFactor, three.OneMinusSrcColorFactor, three.ZeroFactor][blending],
      })
    this.mesh = new three.Mesh(
      new three.BufferGeometry(),
      BLENDS.map((_, k) => result(k)),
    )
    this.mesh.frustumCulled = false
    this.mesh.renderOrder = 1
    this.solids = new three.Mesh(
      new three.BufferGeometry(),
      new three.ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        uniforms: { ...this.uniforms, blending: { value: 0 } },
        side: three.DoubleSide,
      }),
    )
    this.solids.frustumCulled = false
  }

  /** How many particles and places of lines there are. */
  get count(): number {
    return this.total
  }

  /** How many triangles of bodies there are: of those that hide what is behind them, and of the others. */
  get triangles(): [number, number] {
    return [this.solidCount, this.openCount]
  }
  /** Whether there are bodies that particles can stand behind. */
  get hides(): boolean {
    return this.solidCount > 0
  }
  /** Whether any fades into what it cuts. */
  get soft(): boolean {
    return this.parts.some((part) => !!part.columns.soft)
  }
  /** Let props hide what stands behind them: by the depth they were drawn with, or one that is read, from which others can fade. */
  behind(solid: boolean, depth: three.Texture | null, camera: three.PerspectiveCamera): void {
    for (const material of this.mesh.material) material.depthTest = solid && !depth
    this.uniforms.before.value = depth
    this.uniforms.deep.value = solid && depth ? 1 : 0
    this.uniforms.range.value.set(camera.near, camera.far)
  }

  /** Show the particles of some emitters. sheets: what looks are drawn with, by key; range: what the colours of shades span. */
  show(
    emitters: readonly DrawnEmitter[],
    sheets: (key: string) => LookSheets | undefined,
    range: readonly [number, number] | null,
  ): void {
    this.emitters = emitters
    const parts = partsOf(emitters, range !== null || this.dots > 0)
    this.parts = parts
    this.sheets = sheets
    this.range = range
    this.shading = range !== null
    this.total = parts.reduce((sum, part) => sum + part.count, 0)
    const wanted = parts.map((part) => (part.sheets ? sheets(part.sheets) : undefined))
    const once = [...new Map(wanted.filter((u) => !!u).map((u) => [u.key, u])).values()]
    if (this.atlas.set(once)) {
      this.uniforms.atlas.value = this.atlas.texture
      this.uniforms.plates.value = this.atlas.plates
    }
    if (this.forms.set(once)) {
      this.uniforms.corners.value = this.forms.corners
      this.uniforms.shapes.value = this.forms.shapes
    }
    const used = wanted.map((u) => (u && (!u.sheets[0] || this.atlas.holds(u.key)) ? u : undefined))
    const looks = parts.map((part, i) => lookOf(part, used[i]))
    const wide = looks.some((look) =>
      look.slots.some(
        (slot) => slot.at[0] === 'h' && slot.at[1] >= FEW_HALVES && this.varies(parts, looks, look, slot.column),
      ),
    )
    const halves = wide ? HALVES : FEW_HALVES
    this.placed = parts.map((part, i) => (looks[i] === piece ? this.forms.of(part.sheets) : undefined))
    this.pair(parts, used)
    const bodies = looks.includes(piece)
    this.room(halves, bodies ? FLOATS : FEW_FLOATS)
    this.table(parts, looks, used)
    this.needs({
      PICTURES: looks.some(
        (look, i) => look === picture || ((look === strand || look === piece) && used[i]?.sheets[0]),
      ),
      BODIES: bodies,
      STRANDS: looks.includes(strand),
      DISCS: looks.length === 0 || looks.includes(softDisc) || this.dots > 0,
      PAGES: parts.some((part) => !!part.columns.page && Number(part.drawing.pages ?? 1) > 1),
      MOTION: parts.some((part) => !!part.drawing.moved),
      EXTRAS: halves === HALVES,
    })
    if (!this.total) return
    this.same.length = parts.length
    let at = 0
    parts.forEach((part, i) => {
      this.fill(part, looks[i], i, at, range)
      at += part.count
    })
    for (const texture of this.textures) texture.needsUpdate = true
  }

  /** Have the shader hold what is needed and no more: without a graphics card all of it is worked through at every pixel. */
  private needs(wanted: Record<string, boolean>): void {
    const defines = Object.fromEntries(
      Object.entries(wanted)
        .filter(([, on]) => on)
        .map(([name]) => [name, 1]),
    )
    const name = Object.keys(defines).join()
    if (name === this.needed) return
    this.needed = name
    for (const material of this.mesh.material) {
      material.defines = defines
      material.needsUpdate = true
    }
    this.solids.material.defines = { ...defines, SOLID: 1 }
    delete this.solids.material.defines.STRANDS
    delete this.solids.material.defines.DISCS
    this.solids.material.needsUpdate = true
  }
  private needed = ''
  private dots = 0

  /** Write all particles once more, as for a new frame. */
  again(): void {
    this.show(this.emitters, this.sheets, this.range)
  }

  private varies(parts: DrawnPart[], looks: StageLook[], look: StageLook, column: string): boolean {
    return parts.some(
      (part, i) => looks[i] === look && (column in part.columns || (column === 'across' && !!part.across)),
    )
  }

  /** List the triangles of bodies: of those that hide what is behind them, then of the others. */
  private pair(parts: DrawnPart[], used: (LookSheets | undefined)[]): void {
    const solid: [number, number, PlacedForms][] = []
    const open: [number, number, PlacedForms][] = []
    const span = (i: number, [part, index, placed]: [number, number, PlacedForms]) => {
      const form = formOf(parts[part], placed, index)
      return placed.forms.start[form + i]
    }
    parts.forEach((part, number) => {
      const placed = this.placed[number]
      if (!placed) return
      const clear = !!part.drawing.clear && (!used[number]!.sheets[0] || used[number]!.opaque)
      for (let i = 0; i < part.count; i++) {
        const [hides, seen] = hiding(part, i, clear)
        if (seen) (hides ? solid : open).push([number, i, placed])
      }
    })
    const count = (list: [number, number, PlacedForms][]) =>
      list.reduce((sum, each) => sum + span(1, each) - span(0, each), 0)
    this.solidCount = count(solid)
    this.openCount = count(open)
    this.solids.geometry.setDrawRange(0, this.solidCount * 3)
    this.solids.visible = this.solidCount > 0
    const from: number[] = []
    parts.reduce((sum, part, i) => ((from[i] = sum), sum + part.count), 0)
    this.pairs.room(this.solidCount + this.openCount)
    const { data } = this.pairs
    let to = 0
    this.open.length = 0
    for (const each of [...solid, ...open]) {
      const [part, index, placed] = each
      if (to / 2 >= this.solidCount) this.open.push({ part, index, at: this.total + to / 2 - this.solidCount })
      for (let t = span(0, each), last = span(1, each); t < last; t++) {
        data[to++] = from[part] + index
        data[to++] = placed.triangle + t
      }
    }
    if (to) this.pairs.texture.needsUpdate = true
    this.uniforms.pairs.value = this.pairs.texture
    this.uniforms.firstTriangle.value = this.total
    this.uniforms.firstPair.value = this.solidCount
  }

  /** Have room for all of them. */
  private room(halves: number, singles: number): void {
    const needed = this.total + this.openCount
    if (needed <= this.capacity && halves === this.perParticle && singles === this.perFloats) return
    this.perParticle = halves
    this.perFloats = singles
    this.same = []
    this.capacity = Math.max(1024, Math.ceil(needed * 1.5), needed <= this.capacity ? this.capacity : 0)
    const n = this.capacity
    const rows = (numbers: number) => Math.ceil((n * numbers) / 4 / DATA_WIDTH)
    this.floats = new Float32Array(rows(singles) * DATA_WIDTH * 4)
    this.halves = new Uint16Array(rows(halves) * DATA_WIDTH * 4)
    for (const texture of this.textures) texture.dispose()
    this.textures = [
      floatTexture(this.floats, DATA_WIDTH, rows(singles)),
      new three.DataTexture(this.halves, DATA_WIDTH, rows(halves), three.RGBAFormat, three.HalfFloatType),
    ]
    this.uniforms.floats.value = this.textures[0]
    this.uniforms.halves.value = this.textures[1]
    this.uniforms.halfTexels.value = halves / 4
    this.uniforms.floatTexels.value = singles / 4
    this.depth = new Float32Array(n)
    this.order = new Uint32Array(n)
    this.blend = new Uint8Array(n)
    this.index = new Uint32Array(n * 6)
    this.mesh.geometry.dispose()
    this.mesh.geometry = new three.BufferGeometry()
    this.mesh.geometry.setIndex(new three.BufferAttribute(this.index, 1).setUsage(three.DynamicDrawUsage))
  }

  /** Write what is the same for all particles of a look: kind, blending, its sheets, its pages, its edges, how far its motion goes. */
  private table(parts: DrawnPart[], looks: StageLook[], used: (LookSheets | undefined)[]): void {
    for (const each of this.dark.values()) each.dispose()
    this.dark.clear()
    const data = (this.tableData = new Float32Array(Math.max(parts.length, 1) * TABLE_WIDTH * 4))
    parts.forEach((part, i) => {
      const drawing = part.drawing
      data.set([1, drawing.lit ? 1 : 0], (i * TABLE_WIDTH + 7) * 4)
      const row = (place: number) =>
        used[i]?.sheets[0] && (looks[i] === picture || looks[i] === strand || looks[i] === piece)
          ? this.atlas.row(used[i].key, place)
          : -1
      data.set(
        [
          ...[looks[i].kind, blendOf(part), row(0), row(1)],
          ...[row(2), row(3), Number(drawing.pages ?? 1), Number(drawing.first ?? 0)],
          ...[
            Number(drawing.last ?? 0),
            drawing.repeats ? 1 : 0,
            looks[i] === strand ? EDGES.indexOf('repeat') : Math.max(EDGES.indexOf(String(drawing.edges)), 0),
            used[i]?.aspect ?? 1,
          ],
          ...[used[i]?.reach ?? 0, part.across ? 1 : 0, part.thrown ? part.thrown[12] : 0, part.columns.turn ? 1 : 0],
          ...(this.placed[i] ? settings(part, this.placed[i]) : (part.thrown?.slice(0, 12) ?? [])),
        ],
        i * TABLE_WIDTH * 4,
      )
    })
    this.whole?.dispose()
    this.whole = floatTexture(data, TABLE_WIDTH, Math.max(parts.length, 1))
    this.uniforms.table.value = this.whole
  }
  private tableData = new Float32Array(0)
  private whole: three.Texture | null = null
  private dark = new Map<string, three.Texture>()

  /** Let only the particles of some emitters give light, by their uids: the others cover all the same. null: all of them. */
  shining(emitters: readonly string[] | null): void {
    if (!emitters) return void (this.uniforms.table.value = this.whole)
    const key = emitters.join()
    let result = this.dark.get(key)
    if (!result) {
      const data = this.tableData.slice()
      this.parts.forEach((part, i) => (data[(i * TABLE_WIDTH + 7) * 4] = emitters.includes(part.emitter) ? 1 : 0))
      result = floatTexture(data, TABLE_WIDTH, Math.max(this.parts.length, 1))
      this.dark.set(key, result)
    }
    this.uniforms.table.value = result
  }

  /** Write an emitter's particles from one on. */
  private fill(
    part: DrawnPart,
    look: StageLook,
    number: number,
    from: number,
    range: readonly [number, number] | null,
  ): void {
    const { floats, halves, perParticle, perFloats } = this
    const n = part.count
    for (let i = 0, f = from * perFloats; i < n; i++, f += perFloats) {
      floats[f] = part.position[i * 3]
      floats[f + 1] = part.position[i * 3 + 1]
      floats[f + 2] = part.position[i * 3 + 2]
    }
    // what is the same for all: number by number, where it stands and what it is
    const same = new Map<number, number>([4, 5, 6].map((at) => [at, 0]))
    same.set(7, number)
    const sameHalves = new Map<number, number>()
    for (const { column, width, at, fallback } of look.slots) {
      const single = at[0] === 'f'
      if (!single && at[1] >= perParticle) continue
      const [target, every] = single ? [floats, perFloats] : [halves, perParticle]
      const given =
        part.joined && column === 'joins'
          ? joins(part.joined)
          : column === 'across'
            ? part.across
            : part.columns[column]
      let to = from * every + at[1]
      for (let k = 0; k < width; k++) {
        if (given) (single ? same : sameHalves).delete(at[1] + k)
        else if (single) same.set(at[1] + k, part.defaults[column] ?? fallback)
        else sameHalves.set(at[1] + k, half(part.defaults[column] ?? fallback))
      }
      if (!given) continue
      if (width === 1) for (let i = 0; i < n; i++, to += every) target[to] = given[i]
      else
        for (let i = 0; i < n; i++, to += every) for (let k = 0; k < width; k++) target[to + k] = given[i * width + k]
    }
    // these stand there already, as far as the last frame's particles went
    const key = `${from} ${[...same].join()} ${[...sameHalves].join()}`
    const stands = this.same[number]?.key === key ? Math.min(this.same[number].count, n) : 0
    this.same[number] = { key, count: n }
    for (const [at, value] of same)
      for (let i = stands, to = (from + i) * perFloats + at; i < n; i++, to += perFloats) floats[to] = value
    for (const [at, value] of sameHalves)
      for (let i = stands, to = (from + i) * perParticle + at; i < n; i++, to += perParticle) halves[to] = value
    this.blend.fill(blendOf(part), from, from + n)
    if (range && part.shades) {
      this.shade(part.shades, from, range)
      delete this.same[number] // colours are written over what stands there
    }
  }
  /** By part: what of it was the same for all of its particles, and how many these were. */
  private same: ({ key: string; count: number } | undefined)[] = []

  /** Write colours of values: dark teal at the low end of the range, over paper, to vermilion at the high end. */
  private shade(values: Float32Array, from: number, [low, high]: readonly [number, number]): void {
    const span = high - low || 1
    const [thick, whole] = [half(0.95), half(1)]
    for (let j = 0, to = from * this.perParticle; j < values.length; j++, to += this.perParticle) {
      const step = Math.min(Math.max(Math.round(((values[j] - low) / span) * 255), 0), 255) * 3
      this.halves[to] = RAMP[step]
      this.halves[to + 1] = RAMP[step + 1]
      this.halves[to + 2] = RAMP[step + 2]
      this.halves[to + 3] = thick
      this.halves[to + 4] = whole
    }
  }

  /** Those in order of birth stand together where the middle of them is: they come in that order. */
  private together(): void {
    let from = 0
    this.parts.forEach((part, number) => {
      if (part.drawing.order === 'birth') {
        let sum = 0
        for (let i = from; i < from + part.count; i++) sum += this.depth[i]
        this.depth.fill(sum / Math.max(part.count, 1), from, from + part.count)
        this.overTriangles(number, (first, last) => this.depth.fill(this.depth[from], first, last))
      }
      from += part.count
    })
  }
  /** Do something to the triangles of a part's bodies that are drawn in order: to those from one on, up to another. */
  private overTriangles(part: number, act: (first: number, last: number) => void): void {
    this.open.forEach((each, n) => {
      if (each.part === part) act(each.at, this.open[n + 1]?.at ?? this.total + this.openCount)
    })
  }

  /** Those that are to stand behind others come first, those before them last; else nothing changes. */
  private ranked(): void {
    const ranks = this.parts.map((part) => Math.max(STANDS.indexOf(String(part.drawing.stands)), 0))
    if (!ranks.some((rank) => rank > 0)) return
    const ends: number[] = []
    this.parts.reduce((sum, part, i) => (ends[i] = sum + part.count), 0)
    const { order } = this
    const total = this.total + this.openCount
    const rankOf = new Uint8Array(total)
    ranks.forEach((rank, i) => {
      rankOf.fill(rank, ends[i] - this.parts[i].count, ends[i])
      this.overTriangles(i, (first, last) => rankOf.fill(rank, first, last))
    })
    const sorted = order.slice(0, total)
    let to = 0
    for (const rank of [STANDS.indexOf('behind'), 0, STANDS.indexOf('before')])
      for (let i = 0; i < total; i++) if (rankOf[sorted[i]] === rank) order[to++] = sorted[i]
  }

  /** A piece of a line stands where its middle is. */
  private pieces(): void {
    let from = 0
    const { depth } = this
    for (const { count, joined } of this.parts) {
      if (joined)
        for (let i = 0; i < count; i++) if (joined[i]) depth[from + i] = (depth[from + i] + depth[from + i + 1]) / 2
      from += count
    }
  }

  /** Order the particles from back to front, as a camera stands, and draw them so. */
  sort(camera: three.Camera): void {
    const { order, depth, floats, index, parts, perFloats } = this
    const total = this.total + this.openCount
    const geometry = this.mesh.geometry
    geometry.clearGroups()
    if (!geometry.index || !total) return
    if (
      this.shading ||
      parts.some(hides) ||
      parts.some((part) => blendOf(part) > 0 || part.drawing.stands !== 'depth')
    ) {
      const m = camera.matrixWorldInverse.elements
      for (let i = 0, f = 0; i < this.total; i++, f += perFloats)
        depth[i] = m[2] * floats[f] + m[6] * floats[f + 1] + m[10] * floats[f + 2]
      const view = [m[2], m[6], m[10]]
      for (const { part, index, at } of this.open) depths(parts[part], this.placed[part]!, index, view, depth, at)
      this.pieces()
      if (!this.shading) this.together()
      backToFront(depth, order, total)
      if (!this.shading) this.ranked()
    } else for (let i = 0; i < total; i++) order[i] = i
    for (let i = 0, to = 0; i < total; i++, to += 6) {
      const first = order[i] * 4
      index[to] = first
      index[to + 1] = first + 1
      index[to + 2] = first + 2
      index[to + 3] = first + 2
      index[to + 4] = first + 1
      index[to + 5] = first + 3
    }
    parts.forEach((part, i) => this.overTriangles(i, (first, last) => this.blend.fill(blendOf(part), first, last)))
    // runs of particles that meet what is behind them alike
    const { blend } = this
    let since = 0
    for (let i = 1; i <= total; i++)
      if (i === total || blend[order[i]] !== blend[order[since]]) {
        geometry.addGroup(since * 6, (i - since) * 6, this.shading ? 0 : blend[order[since]])
        since = i
      }
    geometry.index.clearUpdateRanges()
    geometry.index.addUpdateRange(0, total * 6)
    geometry.index.needsUpdate = true
  }

  /** Say how the picture is: pixels a metre at one metre's depth, its size, half of how large dots are (0: none), whether these are coloured. */
  frame(focal: number, width: number, height: number, dots: number): void {
    this.uniforms.focal.value = focal
    this.uniforms.pixels.value.set(width, height)
    this.uniforms.dots.value = dots / 2
    if (dots > 0 !== this.dots > 0) {
      this.dots = dots
      this.again()
    }
    this.uniforms.coloured.value = this.shading ? 1 : 0
  }

  /** Return the part of a picture with particles in it: left, bottom, width, height in pixels; null without any. */
  bounds(camera: three.Camera, focal: number, w: number, h: number): [number, number, number, number] | null {
    const { total, floats, perFloats } = this
    if (!total) return null
    if (this.solidCount + this.openCount) return [0, 0, w, h]
    const widest = this.parts.some((part) => part.columns.wide || part.columns.tall) ? 100 : 1.42
    const m = camera.matrixWorldInverse.elements
    let [left, bottom, right, top] = [w, h, 0, 0]
    for (let i = 0, f = 0; i < total; i++, f += perFloats) {
      const [x, y, z] = [floats[f], floats[f + 1], floats[f + 2]]
      const depth = -(m[2] * x + m[6] * y + m[10] * z + m[14])
      if (depth < 0.02) continue
      const near = focal / depth
      const px = w / 2 + (m[0] * x + m[4] * y + m[8] * z + m[12]) * near
      const py = h / 2 + (m[1] * x + m[5] * y + m[9] * z + m[13]) * near
      const r = (floats[f + 3] / 2) * near * widest + 2
      if (px - r < left) left = px - r
      if (px + r > right) right = px + r
      if (py - r < bottom) bottom = py - r
      if (py + r > top) top = py + r
    }
    left = Math.max(0, Math.floor(left))
    bottom = Math.max(0, Math.floor(bottom))
    right = Math.min(w, Math.ceil(right))
    top = Math.min(h, Math.ceil(top))
    return right > left && top > bottom ? [left, bottom, right - left, top - bottom] : null
  }

  dispose(): void {
    this.mesh.geometry.dispose()
    for (const texture of this.textures) texture.dispose()
    this.uniforms.table.value?.dispose()
    this.atlas.dispose()
    this.forms.dispose()
    this.pairs.texture.dispose()
    this.solids.geometry.dispose()
    this.solids.material.dispose()
    for (const material of this.mesh.material) material.dispose()
  }
}
