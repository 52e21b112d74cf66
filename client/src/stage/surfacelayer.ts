/** Surfaces that particles make together, as the core paints them (kagero/core/picture/blob.py): of each pixel the nearest place alone. */
import * as three from 'three'
import type { LookSheets } from '../wire/arrays'
import type { DrawnEmitter, DrawnLayer } from '../wire/packets'
import { LAMPS, type Lamps } from './lamps'

const BLENDS = ['over', 'screen', 'multiply']

const VERTEX = /* glsl */ `
  attribute vec4 tint;
  attribute vec2 lies;
  varying vec2 vLies;
  varying vec4 vTint;
  varying vec3 vNormal, vView;
  void main() {
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    vTint = tint;
    vLies = lies;
    vNormal = normalMatrix * normal;
    vView = -view.xyz;
    gl_Position = projectionMatrix * view;
  }`

const FRAGMENT = /* glsl */ `
  uniform float lit, gloss, cover, blending, pictured, shines;
  uniform sampler2D film;
  varying vec2 vLies;
  varying vec4 vTint;
  varying vec3 vNormal, vView;
  ${LAMPS}
  void main() {
    vec3 light = vTint.rgb;
    float covers = vTint.a;
    if (pictured > 0.5) {
      vec2 texels = vec2(textureSize(film, 0)), x = dFdx(vLies) * texels, y = dFdy(vLies) * texels;
      float dense = sqrt(abs(x.x * y.y - x.y * y.x)); // texels a pixel
      vec4 here = textureLod(film, vLies, floor(log2(max(dense, 1.0)) + 1e-4));
      if (here.a <= 0.004) discard;
      light *= here.rgb / here.a;
      covers *= here.a;
    }
    if (lit > 0.5) {
      float rim, gleam;
      vec3 shade = shaded(normalize(vNormal), vView, rim, gleam);
      light = light * shade + vec3(0.09, 0.12, 0.14) * rim + vec3(gleam * gloss);
    }
    light *= covers;
    if (blending < 1.5) light *= shines;
    if (blending < 0.5) gl_FragColor = vec4(light, covers * cover);
    else if (blending < 1.5) gl_FragColor = vec4(min(light, vec3(1.0)), 0.0);
    else gl_FragColor = vec4(vec3(1.0 - covers) + light, 1.0);
  }`

type Drawn = { deep: three.Mesh; seen: three.Mesh; emitter: string }

export class SurfaceLayer {
  readonly scene = new three.Scene()
  private drawn: Drawn[] = []
  private readonly films = new Map<string, three.DataTexture>()

  constructor(private readonly lamps: Lamps) {}

  /** Whether there are any. */
  get there(): boolean {
    return this.drawn.length > 0
  }

  /** Show the surfaces of emitters. sheets: what looks are drawn with, by key; dots: none, since each particle is shown alike. */
  show(emitters: readonly DrawnEmitter[], sheets: (key: string) => LookSheets | undefined, dots: boolean): void {
    for (const { deep, seen } of this.drawn) {
      this.scene.remove(deep, seen)
      seen.geometry.dispose()
      ;(deep.material as three.Material).dispose()
      ;(seen.material as three.Material).dispose()
    }
    const layers = dots
      ? []
      : emitters
          .flatMap((emitter) =>
            (emitter.layers ?? []).map((layer, n) => ({ layer, key: emitter.sheets?.[n] ?? '', of: emitter.uid })),
          )
          .filter(({ layer }) => layer.faces?.length)
    const used = new Set(layers.map(({ key }) => key))
    for (const [key, film] of this.films)
      if (!used.has(key)) {
        film.dispose()
        this.films.delete(key)
      }
    this.drawn = layers.map(({ layer, key, of }, i) => ({
      ...this.meshOf(layer, i, layer.uv && key ? sheets(key) : undefined),
      emitter: of,
    }))
  }

  /** Each is drawn twice: how deep it is, and then what is seen of that. */
  private meshOf(layer: DrawnLayer, order: number, pictures: LookSheets | undefined): Omit<Drawn, 'emitter'> {
    const geometry = new three.BufferGeometry()
    geometry.setAttribute('position', new three.BufferAttribute(layer.points!, 3))
    geometry.setAttribute('normal', new three.Float16BufferAttribute(layer.normals!, 3))
    geometry.setAttribute('tint', new three.Float16BufferAttribute(layer.tints!, 4))
    const film = pictures && this.film(pictures, String(layer.drawing.edges))
    geometry.setAttribute('lies', new three.BufferAttribute(layer.uv ?? new Float32Array(layer.points!.length), 2))
    geometry.setIndex(new three.BufferAttribute(layer.faces!, 1))
    const { drawing } = layer
    const blending = Math.max(BLENDS.indexOf(String(drawing.blend)), 0)
    const material = (colour: boolean) =>
      new three.ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        side: three.DoubleSide,
        uniforms: {
          ...this.lamps.uniforms,
          lit: { value: drawing.lit ? 1 : 0 },
          gloss: { value: Number(drawing.gloss ?? 0) },
          cover: { value: layer.cover ?? 1 },
          blending: { value: blending },
          shines: { value: 1 },
          pictured: { value: film ? 1 : 0 },
          film: { value: film ?? null },
        },
        colorWrite: colour,
        depthWrite: !colour,
        depthFunc: three.LessEqualDepth,
        transparent: true,
        blending: three.CustomBlending,
        blendSrc: blending === 2 ? three.DstColorFactor : three.OneFactor,
        blendDst: [three.OneMinusSrcAlphaFactor, three.OneMinusSrcColorFactor, three.ZeroFactor][blending],
      })
    const [deep, seen] = [false, true].map((colour) => new three.Mesh(geometry, material(colour)))
    ;[deep, seen].forEach((mesh, k) => {
      mesh.frustumCulled = false
      mesh.renderOrder = 2 * order + k
      this.scene.add(mesh)
    })
    return { deep, seen }
  }

  /** The first page of a look's sheet, as a texture of its own. */
  private film(look: LookSheets, edges: string): three.DataTexture | null {
    const sheet = look.sheets[0]
    const known = this.films.get(look.key)
    if (known || !sheet) return known ?? null
    const [x, y, wide, tall] = sheet.plates
    const texels = new Uint8Array(wide * tall * 4)
    for (let row = 0; row < tall; row++) {
      const from = ((y + tall - row) * sheet.width + x + 1) * 4 // v goes up
      texels.set(sheet.texels.subarray(from, from + wide * 4), row * wide * 4)
    }
    const film = new three.DataTexture(texels, wide, tall)
    film.colorSpace = three.SRGBColorSpace
    film.magFilter = three.LinearFilter
    film.minFilter = three.LinearMipmapNearestFilter
    film.generateMipmaps = true
    film.wrapS = film.wrapT =
      { repeat: three.RepeatWrapping, mirror: three.MirroredRepeatWrapping }[edges] ?? three.ClampToEdgeWrapping
    film.needsUpdate = true
    this.films.set(look.key, film)
    return film
  }

  /** Let only those of some emitters give light; null: all. */
  shining(emitters: readonly string[] | null): void {
    for (const { seen, emitter } of this.drawn)
      (seen.material as three.ShaderMaterial).uniforms.shines.value = !emitters || emitters.includes(emitter) ? 1 : 0
  }

  dispose(): void {
    this.show([], () => undefined, true)
  }
}
