/**
 * The props on the stage, in linear light like all that is drawn there: shaded, as lines, with (u, v) as a grid, or as a
 * ghost that covers nothing.
 */
import * as three from 'three'
import type { DrawnProp } from '../wire/packets'
import { fetched } from '../wire/api'
import { readArrays, type Geometry } from '../wire/arrays'
import { LAMPS, type Lamps } from './lamps'
import { maskLines } from './masklines'
import { RAMP_STOPS } from './ramp'
import type { Prop } from '../wire/types'

const VERTEX = /* glsl */ `
  attribute vec3 tints;
  attribute float pictured;
  attribute float gone;
  attribute float fielded;
  attribute vec2 surfaces; // how rough, how much metal
  attribute vec3 glows;
  attribute float mapped;
  uniform mat4 throws; // from the world to a camera's picture
  uniform float thrown;
  varying vec3 vLaid;
  varying vec2 vSurface;
  varying vec3 vGlow;
  varying float vMapped;
  varying float vPictured;
  varying float vGone;
  varying float vField;
  varying vec3 vLocal;
  varying vec3 vNormal;
  varying vec3 vTint;
  varying vec2 vUv;
  varying vec3 vView;
  void main() {
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    vNormal = normalize(normalMatrix * normal);
    vView = -view.xyz;
    vUv = uv;
    vTint = tints;
    vPictured = pictured;
    vGone = gone;
    vField = fielded;
    vLocal = position;
    vLaid = thrown > 0.5 ? (throws * modelMatrix * vec4(position, 1.0)).xyz : vec3(uv, 1.0);
    vSurface = surfaces;
    vGlow = glows;
    vMapped = mapped;
    gl_Position = projectionMatrix * view;
  }`
const FRAGMENT = /* glsl */ `
  uniform vec3 tint;
  uniform float strength, shines, unlit;
  uniform float grid;
  uniform sampler2D picture;
  uniform float flat_picture;
  uniform float covered, thrown, unmatte;
  uniform vec3 surface; // how rough, how much metal, how much it glows
  uniform sampler2D roughMap, glowMap;
  uniform vec4 levels; // of roughness and of glow: nothing where it is so bright, and all
  uniform vec2 driven; // whether these are pictures' levels
  varying vec3 vLaid;
  varying vec2 vSurface;
  varying vec3 vGlow;
  varying float vMapped;
  float level(vec3 encoded, vec2 ends) {
    float bright = pow(dot(pow(encoded, vec3(2.2)), vec3(0.2126, 0.7152, 0.0722)), 1.0 / 2.2), span = ends.y - ends.x;
    return abs(span) > 1e-9 ? clamp((bright - ends.x) / span, 0.0, 1.0) : step(ends.x, bright);
  }
  varying float vPictured;
  varying float vGone;
  varying float vField;
  varying vec3 vLocal;
  uniform float dissolves;
  uniform float grain;
  uniform float shows_field;
  uniform vec3 ramp[5];
  uniform float by_uv;
  uniform float chosen;
  varying vec3 vNormal;
  varying vec3 vTint;
  varying vec2 vUv;
  varying vec3 vView;
  ${LAMPS}
  vec3 ramped(float x) {
    float at = clamp(x, 0.0, 1.0) * 4.0;
    vec3 c = ramp[0];
    for (int i = 0; i < 4; i++) c = mix(c, ramp[i + 1], clamp(at - float(i), 0.0, 1.0));
    return c;
  }
  void main() {
    if (dissolves > 0.5 && vGone > 0.002) {
      vec3 cell = by_uv > 0.5 ? floor(vec3(vUv * 120.0, 0.0)) : floor(vLocal * grain);
      float keep = fract(sin(dot(cell, vec3(12.9898, 78.233, 37.719))) * 43758.5453);
      if (vGone > 0.998 || vGone > keep) discard;
    }
    vec3 n = normalize(vNormal);
    float rim = 0.0, gleam;
    vec3 light = vec3(1.0);
    if (unlit < 0.5 && flat_picture < 0.5) light = shaded(n, vView, rim, gleam);
    if (dot(n, vView) < 0.0) n = -n;
    vec3 base = tint * vTint;
    float alpha = strength;
    vec2 at = vLaid.xy / max(vLaid.z, 1e-9);
    bool there = thrown < 0.5 || (vLaid.z > 0.0 && min(at.x, at.y) >= 0.0 && max(at.x, at.y) <= 1.0);
    if (flat_picture < 0.5 && there && (covered > 0.5 || vPictured > 0.5)) {
      vec4 texel = texture2D(picture, at);
      vec3 shown = pow(texel.rgb, vec3(2.2));
      if (covered < 0.5) base *= shown;
      else if (thrown > 0.5) base = mix(base, shown, texel.a);
      else {
        base = shown;
        alpha *= texel.a;
      }
    }
    float rough = vSurface.x * surface.x, metal = vSurface.y;
    vec3 glow = vGlow + base * surface.z;
    if (there) {
      if (driven.x > 0.5) rough *= level(texture2D(roughMap, at).rgb, levels.xy);
      else if (mod(floor(vMapped + 0.5), 2.0) > 0.5) {
        vec3 result = texture2D(roughMap, at).rgb; // as glTF 2.0 has it
        rough *= result.g;
        metal *= result.b;
      }
      if (driven.y > 0.5) glow *= level(texture2D(glowMap, at).rgb, levels.zw);
      else if (vMapped > 1.5) glow *= pow(texture2D(glowMap, at).rgb, vec3(2.2));
    }
    metal = 1.0 - (1.0 - metal) * (1.0 - surface.y);
    if (shows_field > 0.5) {
      float key0 = max(dot(n, normalize(vec3(0.35, 0.7, 0.62))), 0.0);
      gl_FragColor = vec4(ramped(vField) * (0.45 + 0.5 * key0) * strength, strength);
      return;
    }
    if (flat_picture > 0.5) {
      vec4 texel = texture2D(picture, vUv);
      base = pow(texel.rgb, vec3(2.2));
      alpha *= texel.a;
      if (alpha < 0.004) discard;
      gl_FragColor = vec4(base * 0.8 * alpha * shines, alpha);
      return;
    }
    if (grid > 0.5) {
      vec2 cell = floor(vUv * 16.0);
      float dark = mod(cell.x + cell.y, 2.0);
      vec3 across = mix(vec3(0.05, 0.28, 0.28), vec3(0.75, 0.3, 0.12), vUv.x);
      base = mix(across, vec3(0.8, 0.76, 0.68), 0.35 * vUv.y) * mix(0.55, 1.0, dark);
    }
    vec3 lit = base * (1.0 - (unlit > 0.5 ? 0.0 : metal)) * light + vec3(0.09, 0.12, 0.14) * rim * (0.6 + chosen) / 0.6;
    if (unmatte > 0.5 && unlit < 0.5 && (rough < 1.0 || metal > 0.0))
      lit += glint(n, vView, clamp(rough, 0.0, 1.0), mix(vec3(0.04), base, metal));
    lit += glow;
    gl_FragColor = vec4(lit * alpha * shines, alpha);
  }`

type Shown = {
  uid: string
  extent?: string
  geometry: Geometry
  mode: string
  object: three.Object3D
  lines: boolean
  clock: number
  key: string
  /** Its own material's pictures. */
  texture?: three.Texture | null
  roughness?: three.Texture | null
  glowing?: three.Texture | null
}

const MOST_PICTURES = 64 // that are kept
const BLANK = new three.DataTexture(new Uint8Array([128, 128, 128, 255]), 1, 1)
BLANK.needsUpdate = true

export class PropLayer {
  readonly scene = new three.Scene()
  /** Lines that lie over everything: paths, cameras, edges. */
  readonly over = new three.Group()
  private shown = new Map<string, Shown>()
  private pictures = new Map<string, three.Texture>()
  private ray = new three.Raycaster()

  constructor(
    private ask: () => void,
    private readonly lamps: Lamps,
  ) {}

  /** Whether anything is there that particles can stand behind. */
  get solid(): boolean {
    return this.scene.children.length > 0
  }

  /** Let only some props give light, by their uids: the others cover all the same. null: all of them. */
  shining(props: readonly string[] | null): void {
    for (const { uid, object } of this.shown.values()) {
      const material = (object as three.Mesh).material
      if (material instanceof three.ShaderMaterial && material.uniforms.shines)
        material.uniforms.shines.value = !props || props.includes(uid) ? 1 : 0
    }
  }

  /** Return the box around the props that stand in the picture, cameras and lines left out, or around one prop. */
  box(uid = ''): three.Box3 {
    const box = new three.Box3()
    for (const each of this.shown.values())
      if (uid ? each.uid === uid : each.object.parent !== this.over) box.expandByObject(each.object)
    return box
  }

  /** Show props as they stand. geometry: what is known of each; colour: for lines, as the ground asks; working: the one under the brush. */
  set(
    props: readonly Prop[],
    drawn: readonly DrawnProp[],
    geometry: (prop: Prop, fine: boolean) => Geometry | null,
    chosen: string | null,
    colour: three.Color,
    working: string | null = null,
  ): void {
    this.redraw = () => this.set(props, drawn, geometry, chosen, colour, working)
    const places = new Map(drawn.map((d) => [d.uid, d]))
    const left = new Set(this.shown.keys())
    for (const prop of props) {
      const at = places.get(prop.uid)
      if (prop.kind === 'mask') {
        if (at && (chosen === prop.uid || prop.shown !== 'hidden') && this.mask(prop, at, chosen === prop.uid, colour))
          left.delete(prop.uid)
        continue
      }
      const fine = !!at && (!!at.gone || !!at.fields)
      const form = geometry(prop, fine)
      // what is hidden is seen while it is worked on or shows a field
      const seen = prop.shown === 'hidden' && (working === prop.uid || !!at?.fields)
      const mode = seen ? 'shaded' : (prop.shown ?? 'shaded')
      if (!at || !form || mode === 'hidden' || (at.seen === false && working !== prop.uid)) continue
      left.delete(prop.uid)
      const key = `${mode} ${chosen === prop.uid} ${prop.lit === false} ${JSON.stringify(prop.tint)} ${prop.files?.[0].content ?? prop.file?.content ?? prop.pattern ?? ''} ${colour.getHex()} ${!!at.fields}`
      let one = this.shown.get(prop.uid)
      if (!one || one.geometry !== form || one.key !== key) {
        if (one) this.remove(one)
        one = this.make(prop, form, mode, chosen === prop.uid, colour, key, at.picture !== undefined)
        this.shown.set(prop.uid, one)
      }
      one.object.matrix.fromArray(at.place).transpose()
      one.object.matrixWorldNeedsUpdate = true
      this.carry(one, at)
      if (form.frames && at.clock !== undefined && at.clock !== one.clock) this.move(one, at.clock)
      this.surface(prop, one, at, props, places)
      if (at.picture !== undefined) {
        const material = (one.object as three.Mesh).material as three.ShaderMaterial
        if (material.uniforms?.picture) material.uniforms.picture.value = this.pictureOf(prop, at)
      }
    }
    for (const uid of left) {
      this.remove(this.shown.get(uid)!)
      this.shown.delete(uid)
    }
    this.ask()
  }

  /** Let a prop be made of what a frame says, with the pictures on it. */
  private surface(prop: Prop, one: Shown, at: DrawnProp, props: readonly Prop[], places: Map<string, DrawnProp>): void {
    const material = (one.object as three.Mesh).material
    if (!(material instanceof three.ShaderMaterial) || at.picture !== undefined) return
    const u = material.uniforms
    const [rough, metal, glow] = at.surface ?? [1, 0, 0]
    u.surface.value.set(rough, metal, glow)
    const shown = (uid: unknown) => {
      const of = uid ? props.find((each) => each.uid === uid) : undefined
      const there = of && places.get(of.uid)
      return of && there?.picture !== undefined ? this.pictureOf(of, there) : null
    }
    const covering = shown(prop.covering)
    u.covered.value = covering ? 1 : 0
    if (covering) u.picture.value = covering
    else u.picture.value = one.texture
    const [roughBy, glowBy] = [shown(prop.rough_by), shown(prop.glow_by)]
    u.driven.value.set(roughBy ? 1 : 0, glowBy ? 1 : 0)
    u.roughMap.value = roughBy ?? one.roughness ?? BLANK
    u.glowMap.value = glowBy ?? one.glowing ?? BLANK
    u.levels.value.set(prop.rough_from ?? 0, prop.rough_to ?? 1, prop.glow_from ?? 0, prop.glow_to ?? 1)
    u.unmatte.value = at.surface || one.geometry.surfaces || roughBy ? 1 : 0
    u.thrown.value = at.thrown && (covering || roughBy || glowBy) ? 1 : 0
    if (at.thrown) {
      const [a, b, c, d, e, f, g, h, i, j, k, l, tangent] = at.thrown
      const image = (covering ?? roughBy ?? glowBy)?.image as { width: number; height: number } | undefined
      const wide = (2 * tangent * (image?.width ?? 1)) / (image?.height ?? 1)
      const tall = 2 * tangent
      // across and up of the picture times how far ahead, and that
      u.throws.value.set(
        ...([a / wide - i / 2, b / wide - j / 2, c / wide - k / 2, d / wide - l / 2] as const),
        ...([e / tall - i / 2, f / tall - j / 2, g / tall - k / 2, h / tall - l / 2] as const),
        ...([-i, -j, -k, -l] as const),
        ...([0, 0, 0, 1] as const),
      )
    }
  }

  /** Give a prop's points what a frame says of them. */
  private carry(one: Shown, at: DrawnProp): void {
    if (!(one.object instanceof three.Mesh)) return
    const { geometry: result, material } = one.object as three.Mesh<three.BufferGeometry, three.ShaderMaterial>
    const count = result.getAttribute('position').count
    const put = (name: string, values: Float32Array | Uint8Array | undefined, normalized: boolean) => {
      if (values && values.length === count) result.setAttribute(name, new three.BufferAttribute(values, 1, normalized))
      return !!values && values.length === count
    }
    const u = material.uniforms
    u.dissolves.value = put('gone', at.gone && new Uint8Array(at.gone.buffer, at.gone.byteOffset, at.gone.length), true)
      ? 1
      : 0
    let fields = at.fields
    if (fields && at.field) {
      const [low, high] = at.field
      fields = fields.map((x) => (x - low) / Math.max(high - low, 1e-9))
    }
    u.shows_field.value = put('fielded', fields, false) ? 1 : 0
    if (at.gone) {
      result.computeBoundingSphere()
      u.grain.value = 90 / Math.max(result.boundingSphere?.radius ?? 1, 1e-6)
    }
  }

  /** Show a mask's extent; returns whether there is any. */
  private mask(prop: Prop, at: DrawnProp, chosen: boolean, colour: three.Color): boolean {
    const key = `mask ${chosen} ${colour.getHex()}`
    const m = at.place
    const scale = [0, 1, 2].map((k) => Math.hypot(m[k], m[4 + k], m[8 + k]))
    const extent = JSON.stringify([prop.shape, at.extent, scale.map((s) => s.toFixed(5))])
    let one = this.shown.get(prop.uid)
    if (!one || one.extent !== extent || one.key !== key) {
      if (one) this.remove(one)
      this.shown.delete(prop.uid)
      const [inner, outer] = maskLines(prop.shape, at.extent ?? { radius: 0, size: [0, 0, 0], falloff: 0 }, scale)
      if (!inner.length) return false
      const object = new three.Group()
      for (const [points, strength] of [
        [inner, chosen ? 1 : 0.55],
        [outer, chosen ? 0.45 : 0.2],
      ] as const) {
        if (points.length)
          object.add(
            new three.LineSegments(
              new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3)),
              lineMaterial(colour, strength),
            ),
          )
      }
      object.matrixAutoUpdate = false
      this.over.add(object)
      one = {
        uid: prop.uid,
        extent,
        geometry: { shape: 'none', words: '' },
        mode: 'mask',
        object,
        lines: true,
        clock: NaN,
        key,
      }
      this.shown.set(prop.uid, one)
    }
    one.object.matrix.fromArray(m).transpose()
    one.object.matrixWorldNeedsUpdate = true
    return true
  }

  /** Return the prop under a place of the stage (-1..1), with the face, the place on it and the nearest point's number. */
  hit(
    x: number,
    y: number,
    camera: three.Camera,
    only?: string,
  ): {
    uid: string
    face: number
    bary: [number, number, number]
    point: number
    local: [number, number, number]
    world: three.Vector3
    normal: three.Vector3
    scale: number
  } | null {
    this.ray.setFromCamera(new three.Vector2(x, y), camera)
    const meshes = [...this.shown.values()].filter((s) => s.object instanceof three.Mesh && (!only || s.uid === only))
    for (const s of meshes) s.object.updateMatrixWorld()
    const [found] = this.ray.intersectObjects(
      meshes.map((s) => s.object),
      false,
    )
    const one = found && meshes.find((s) => s.object === found.object)
    if (!one || !found.face) return null
    const position = (one.object as three.Mesh).geometry.getAttribute('position')
    const [a, b, c] = [found.face.a, found.face.b, found.face.c]
    const local = one.object.worldToLocal(found.point.clone())
    const corner = (i: number) => new three.Vector3().fromBufferAttribute(position, i)
    const bary = new three.Vector3()
    three.Triangle.getBarycoord(local, corner(a), corner(b), corner(c), bary)
    const nearest = [a, b, c].sort((p, q) => corner(p).distanceTo(local) - corner(q).distanceTo(local))[0]
    const normal = found.face.normal.clone().transformDirection(one.object.matrixWorld)
    return {
      uid: one.uid,
      face: found.faceIndex ?? 0,
      bary: [bary.x, bary.y, bary.z],
      point: nearest,
      local: local.toArray(),
      world: found.point.clone(),
      normal,
      scale: new three.Vector3().setFromMatrixScale(one.object.matrixWorld).x,
    }
  }

  private make(
    prop: Prop,
    form: Geometry,
    mode: string,
    chosen: boolean,
    colour: three.Color,
    key: string,
    flat: boolean,
  ): Shown {
    let object: three.Object3D
    let lines = true
    let textures: Pick<Shown, 'texture' | 'roughness' | 'glowing'> = {}
    if (form.shape === 'camera') object = cameraLines(colour)
    else if (form.shape === 'light' || !form.points) object = lightLines(colour, prop.shines as string)
    else if (form.shape === 'points') {
      const result = new three.BufferGeometry().setAttribute('position', new three.BufferAttribute(form.points!, 3))
      object = new three.Points(
        result,
        new three.PointsMaterial({
          color: colour,
          size: 2,
          sizeAttenuation: false,
          transparent: true,
          opacity: chosen ? 0.9 : 0.6,
        }),
      )
    } else if (form.shape === 'path' || !form.indices) {
      const result = new three.BufferGeometry().setAttribute('position', new three.BufferAttribute(form.points!, 3))
      object = new three.Line(result, lineMaterial(colour, chosen ? 1 : 0.7))
    } else {
      const result = new three.BufferGeometry()
      result.setAttribute('position', new three.BufferAttribute(form.frames ? form.points!.slice() : form.points!, 3))
      result.setAttribute('normal', new three.BufferAttribute(form.normals!, 3))
      result.setAttribute('uv', new three.BufferAttribute(form.uv!, 2))
      result.setIndex(new three.BufferAttribute(form.indices, 1))
      result.setAttribute('pictured', new three.BufferAttribute(pointPictured(form), 1))
      result.setAttribute('gone', new three.BufferAttribute(new Float32Array(form.points!.length / 3), 1))
      result.setAttribute('fielded', new three.BufferAttribute(new Float32Array(form.points!.length / 3), 1))
      const { rough, glows, mapped } = pointSurfaces(form)
      result.setAttribute('surfaces', new three.BufferAttribute(rough, 2))
      result.setAttribute('glows', new three.BufferAttribute(glows, 3))
      result.setAttribute('mapped', new three.BufferAttribute(mapped, 1))
      result.setAttribute('tints', new three.BufferAttribute(pointTints(form), 3))
      if (mode === 'lines') {
        object = new three.LineSegments(new three.EdgesGeometry(result, 12), lineMaterial(colour, chosen ? 0.95 : 0.6))
        result.dispose()
      } else {
        lines = false
        const ghost = mode === 'ghost'
        const own = (pixels: Uint8Array | undefined, size: [number, number] | undefined) =>
          pixels && size ? dataTexture(pixels, ...size) : null
        const texture = flat ? BLANK : own(form.pixels, form.pixelSize)
        textures = {
          texture,
          roughness: own(form.rough_pixels, form.roughSize),
          glowing: own(form.glow_pixels, form.glowSize),
        }
        const material = new three.ShaderMaterial({
          vertexShader: VERTEX,
          fragmentShader: FRAGMENT,
          side: three.DoubleSide,
          uniforms: {
            ...this.lamps.uniforms,
            tint: { value: new three.Vector3(...((prop.tint as number[] | undefined) ?? [0.32, 0.3, 0.27])) },
            strength: { value: ghost ? 0.22 : 1 },
            shines: { value: 1 },
            unlit: { value: prop.lit === false ? 1 : 0 },
            grid: { value: mode === 'uv' ? 1 : 0 },
            picture: { value: texture },
            flat_picture: { value: flat ? 1 : 0 },
            covered: { value: 0 },
            thrown: { value: 0 },
            throws: { value: new three.Matrix4() },
            unmatte: { value: 0 },
            surface: { value: new three.Vector3(1, 0, 0) },
            driven: { value: new three.Vector2() },
            levels: { value: new three.Vector4(0, 1, 0, 1) },
            roughMap: { value: BLANK },
            glowMap: { value: BLANK },
            chosen: { value: chosen ? 1 : 0 },
            dissolves: { value: 0 },
            grain: { value: 90 },
            shows_field: { value: 0 },
            by_uv: { value: form.frames ? 1 : 0 },
            ramp: { value: RAMP_STOPS.map((c) => new three.Vector3(...c)) },
          },
          transparent: ghost || flat,
          depthWrite: !ghost && !flat,
          blending: three.CustomBlending,
          blendSrc: three.OneFactor,
          blendDst: three.OneMinusSrcAlphaFactor,
        })
        object = new three.Mesh(result, material)
      }
    }
    object.matrixAutoUpdate = false
    object.frustumCulled = false
    if (lines) this.over.add(object)
    else this.scene.add(object)
    return { uid: prop.uid, geometry: form, mode, object, lines, clock: NaN, key, ...textures }
  }

  /** Put an animated mesh's points where they are at a time of its own. */
  private move(one: Shown, clock: number): void {
    one.clock = clock
    const mesh = one.object as three.Mesh
    const { frames, times, points } = one.geometry
    if (!frames || !times || !points || !(mesh instanceof three.Mesh)) return
    const last = times.length - 1
    let i = 0
    while (i < last - 1 && times[i + 1] <= clock) i++
    const share = Math.min(Math.max((clock - times[i]) / (times[i + 1] - times[i] || 1), 0), 1)
    const n = points.length
    const position = mesh.geometry.getAttribute('position') as three.BufferAttribute
    const out = position.array as Float32Array
    for (let k = 0; k < n; k++) out[k] = frames[i * n + k] * (1 - share) + frames[(i + 1) * n + k] * share
    position.needsUpdate = true
    mesh.geometry.computeVertexNormals()
  }

  /** Fetches what a made picture shows now; the stage says how. */
  load: (prop: Prop) => Promise<{ pixels: Uint8Array; width: number; height: number }> = () => Promise.reject()
  private redraw: () => void = () => undefined
  private shownOf = new Map<string, three.Texture>()

  /** Return what a picture prop shows; until it is here, what it showed before. */
  private pictureOf(prop: Prop, at: DrawnProp): three.Texture {
    const content =
      prop.kind === 'picture'
        ? prop.files[Math.min(Math.max(at.clock ?? 0, 0), prop.files.length - 1)].content
        : at.picture!
    const known = this.pictures.get(content)
    if (known) {
      this.shownOf.set(prop.uid, known)
      return known
    }
    if (!this.coming.has(content)) {
      this.coming.add(content)
      const fetched = prop.kind === 'picture' ? propPixels(content) : this.load(prop)
      void fetched
        .then(({ pixels, width, height }) => {
          this.pictures.set(content, dataTexture(pixels, width, height))
          if (this.pictures.size > MOST_PICTURES) {
            const [oldest, texture] = this.pictures.entries().next().value!
            this.pictures.delete(oldest)
            texture.dispose()
          }
          this.redraw() // whatever shows it: itself, and what it covers
        })
        .catch(() => undefined)
        .finally(() => this.coming.delete(content))
    }
    return this.shownOf.get(prop.uid) ?? BLANK
  }
  private coming = new Set<string>()

  private remove(one: Shown): void {
    one.object.removeFromParent()
    for (const own of [one.texture, one.roughness, one.glowing]) if (own !== BLANK) own?.dispose()
    for (const part of [one.object, ...one.object.children]) {
      const mesh = part as three.Mesh
      mesh.geometry?.dispose()
      ;(mesh.material as three.Material | undefined)?.dispose()
    }
  }
}

/** Return a picture that was brought in. */
async function propPixels(content: string): Promise<{ pixels: Uint8Array; width: number; height: number }> {
  const response = await fetched(`/api/props/pictures/${content}`)
  const { header, arrays } = readArrays(await response.arrayBuffer())
  const [width, height] = header.pixelSize as [number, number]
  return { pixels: arrays.pixels as Uint8Array, width, height }
}

function dataTexture(pixels: Uint8Array, width: number, height: number): three.DataTexture {
  const result = new three.DataTexture(pixels as Uint8Array<ArrayBuffer>, width, height)
  result.flipY = true
  result.minFilter = three.LinearFilter
  result.magFilter = three.LinearFilter
  result.wrapS = result.wrapT = three.RepeatWrapping
  result.needsUpdate = true
  return result
}

/** Return 1 for points of triangles that show the material's picture. */
function pointPictured(form: Geometry): Float32Array {
  const result = new Float32Array(form.points!.length / 3)
  if (form.pictured && form.indices)
    for (let i = 0; i < form.indices.length; i++) result[form.indices[i]] = form.pictured[Math.floor(i / 3)]
  return result
}

function lineMaterial(colour: three.Color, strength: number): three.LineBasicMaterial {
  return new three.LineBasicMaterial({ color: colour, transparent: true, opacity: strength, depthTest: false })
}

/** A light: rays about where it is; of a sun and a spot which way it shines. */
function lightLines(colour: three.Color, shines: string): three.LineSegments {
  const points: number[] = []
  for (let k = 0; k < 8; k++) {
    const [x, y] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)]
    points.push(x * 0.05, y * 0.05, 0, x * 0.1, y * 0.1, 0)
    if (k % 2) points.push(x * 0.035, 0, y * 0.035, x * 0.1, 0, y * 0.1)
  }
  if (shines === 'sun' || shines === 'spot')
    points.push(0, 0, 0, 0, 0, -0.6, 0, 0, -0.6, 0.04, 0, -0.52, 0, 0, -0.6, -0.04, 0, -0.52)
  return new three.LineSegments(
    new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3)),
    lineMaterial(colour, 0.8),
  )
}

/** A camera as artists know it: its window, and lines to its corners. */
function cameraLines(colour: three.Color): three.LineSegments {
  const [w, h, d] = [0.24, 0.135, 0.3]
  const corner = [
    [-w, -h, -d],
    [w, -h, -d],
    [w, h, -d],
    [-w, h, -d],
  ]
  const points: number[] = []
  corner.forEach((c, i) => points.push(0, 0, 0, ...c, ...c, ...corner[(i + 1) % 4]))
  points.push(-w * 0.4, h, -d, 0, h * 1.5, -d, 0, h * 1.5, -d, w * 0.4, h, -d)
  return new three.LineSegments(
    new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(points, 3)),
    lineMaterial(colour, 0.8),
  )
}

/** Return what each point is made of, from the triangles about it: matte where its file says nothing. */
function pointSurfaces(form: Geometry): { rough: Float32Array; glows: Float32Array; mapped: Float32Array } {
  const n = form.points!.length / 3
  const [rough, glows, mapped] = [new Float32Array(n * 2), new Float32Array(n * 3), new Float32Array(n)]
  for (let i = 0; i < n; i++) rough[2 * i] = 1
  if (form.surfaces && form.indices)
    form.indices.forEach((point, i) => {
      const face = Math.floor(i / 3)
      rough.set(form.surfaces!.subarray(face * 5, face * 5 + 2), point * 2)
      glows.set(form.surfaces!.subarray(face * 5 + 2, face * 5 + 5), point * 3)
      mapped[point] = form.mapped?.[face] ?? 0
    })
  return { rough, glows, mapped }
}

/** Return a colour a point, from those of the triangles about it. */
function pointTints(form: Geometry): Float32Array {
  const result = new Float32Array(form.points!.length).fill(1)
  if (!form.tints || !form.indices) return result
  for (let i = 0; i < form.indices.length; i++)
    for (let k = 0; k < 3; k++) result[form.indices[i] * 3 + k] = form.tints[Math.floor(i / 3) * 3 + k]
  return result
}
