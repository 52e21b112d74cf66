/** Surfaces that particles make together, as the core paints them (kagero/core/picture/blob.py): of each pixel the nearest place alone. */
import * as three from 'three'
import type { DrawnEmitter, DrawnLayer } from '../wire/packets'
import { LAMPS, type Lamps } from './lamps'

const BLENDS = ['over', 'screen', 'multiply']

const VERTEX = /* glsl */ `
  attribute vec4 tint;
  varying vec4 vTint;
  varying vec3 vNormal, vView;
  void main() {
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    vTint = tint;
    vNormal = normalMatrix * normal;
    vView = -view.xyz;
    gl_Position = projectionMatrix * view;
  }`

const FRAGMENT = /* glsl */ `
  uniform float lit, gloss, cover, blending;
  varying vec4 vTint;
  varying vec3 vNormal, vView;
  ${LAMPS}
  void main() {
    vec3 light = vTint.rgb;
    if (lit > 0.5) {
      float rim, gleam;
      vec3 shade = shaded(normalize(vNormal), vView, rim, gleam);
      light = light * shade + vec3(0.09, 0.12, 0.14) * rim + vec3(gleam * gloss);
    }
    light *= vTint.a;
    if (blending < 0.5) gl_FragColor = vec4(light, vTint.a * cover);
    else if (blending < 1.5) gl_FragColor = vec4(min(light, vec3(1.0)), 0.0);
    else gl_FragColor = vec4(vec3(1.0 - vTint.a) + light, 1.0);
  }`

type Drawn = { deep: three.Mesh; seen: three.Mesh }

export class SurfaceLayer {
  readonly scene = new three.Scene()
  private drawn: Drawn[] = []

  constructor(private readonly lamps: Lamps) {}

  /** Whether there are any. */
  get there(): boolean {
    return this.drawn.length > 0
  }

  /** Show the surfaces of emitters; dots: none, since each particle is shown alike. */
  show(emitters: readonly DrawnEmitter[], dots: boolean): void {
    for (const { deep, seen } of this.drawn) {
      this.scene.remove(deep, seen)
      seen.geometry.dispose()
      ;(deep.material as three.Material).dispose()
      ;(seen.material as three.Material).dispose()
    }
    const layers = dots
      ? []
      : emitters.flatMap((emitter) => emitter.layers ?? []).filter((layer) => layer.faces?.length)
    this.drawn = layers.map((layer, i) => this.made(layer, i))
  }

  /** Each is drawn twice: how deep it is, and then what is seen of that. */
  private made(layer: DrawnLayer, order: number): Drawn {
    const geometry = new three.BufferGeometry()
    geometry.setAttribute('position', new three.BufferAttribute(layer.points!, 3))
    geometry.setAttribute('normal', new three.Float16BufferAttribute(layer.normals!, 3))
    geometry.setAttribute('tint', new three.Float16BufferAttribute(layer.tints!, 4))
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

  dispose(): void {
    this.show([], true)
  }
}
