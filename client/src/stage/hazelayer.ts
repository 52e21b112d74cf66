/** What particles make of space, seen through, as the core paints it (kagero/core/kernels/haze.py): absorption and emission along each pixel's ray. */
import * as three from 'three'
import type { DrawnEmitter, DrawnLayer } from '../wire/packets'

const VERTEX = /* glsl */ `
  void main() { gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }`

const FRAGMENT = /* glsl */ `
  precision highp sampler3D;
  uniform sampler3D grid;
  uniform vec3 low, counts, eye, right, up, back;
  uniform float cell, adding, focal, deep, shines;
  uniform vec2 pixels, range;
  uniform highp sampler2D before; // how deep what stands there is
  const float STEP = 0.75;
  void main() {
    vec2 at = (gl_FragCoord.xy - pixels * 0.5) / focal;
    vec3 direction = right * at.x + up * at.y - back, size = (counts - 1.0) * cell;
    float near = 0.02, far = 1e9;
    if (deep > 0.5) {
      float z = texelFetch(before, ivec2(gl_FragCoord.xy), 0).x;
      if (z < 1.0) far = 2.0 * range.x * range.y / (range.y + range.x - (z * 2.0 - 1.0) * (range.y - range.x));
    }
    for (int axis = 0; axis < 3; axis++) {
      float from = low[axis] - eye[axis];
      if (abs(direction[axis]) < 1e-12) { if (from > 0.0 || from + size[axis] < 0.0) discard; continue; }
      float a = from / direction[axis], b = (from + size[axis]) / direction[axis];
      near = max(near, min(a, b));
      far = min(far, max(a, b));
    }
    if (far <= near) discard;
    float along = length(direction);
    int count = max(1, int(ceil((far - near) * along / (cell * STEP))));
    float pace = (far - near) / float(count), metres = pace * along, left = 1.0;
    vec3 light = vec3(0.0);
    for (int n = 0; n < count; n++) {
      vec3 place = ((eye + direction * (near + (float(n) + 0.5) * pace)) - low) / cell;
      vec4 here = texture(grid, (place + 0.5) / counts);
      if (here.a <= 0.0) continue;
      if (adding > 0.5) { light += here.rgb * metres; continue; }
      float through = exp(-here.a * metres);
      light += here.rgb * left * (1.0 - through) / here.a;
      left *= through;
      if (left < 1e-4) break;
    }
    gl_FragColor = vec4(light * shines, 1.0 - left);
  }`

export class HazeLayer {
  readonly scene = new three.Scene()
  private drawn: three.Mesh<three.PlaneGeometry, three.ShaderMaterial>[] = []
  private readonly plane = new three.PlaneGeometry(1, 1)
  private shared = {
    eye: { value: new three.Vector3() },
    right: { value: new three.Vector3() },
    up: { value: new three.Vector3() },
    back: { value: new three.Vector3() },
    focal: { value: 1 },
    deep: { value: 0 },
    pixels: { value: new three.Vector2(1, 1) },
    range: { value: new three.Vector2(0.02, 500) },
    before: { value: null as three.Texture | null },
  }

  /** Whether there is any. */
  get there(): boolean {
    return this.drawn.length > 0
  }

  /** Show the haze of emitters; dots: none, since each particle is shown alike. */
  show(emitters: readonly DrawnEmitter[], dots: boolean): void {
    for (const mesh of this.drawn) {
      this.scene.remove(mesh)
      ;(mesh.material.uniforms.grid.value as three.Texture).dispose()
      mesh.material.dispose()
    }
    const layers = dots
      ? []
      : emitters
          .flatMap((emitter) => (emitter.layers ?? []).map((layer) => ({ layer, of: emitter.uid })))
          .filter(({ layer }) => layer.grid?.length)
    this.drawn = layers.map(({ layer }) => this.result(layer))
    this.of = layers.map(({ of }) => of)
    if (this.drawn.length) this.scene.add(...this.drawn)
  }

  private result(layer: DrawnLayer): three.Mesh<three.PlaneGeometry, three.ShaderMaterial> {
    const [x, y, z] = layer.counts!
    const grid = new three.Data3DTexture(layer.grid as Uint16Array<ArrayBuffer>, x, y, z)
    grid.type = three.HalfFloatType
    grid.minFilter = grid.magFilter = three.LinearFilter
    grid.needsUpdate = true
    const material = new three.ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        ...this.shared,
        grid: { value: grid },
        low: { value: new three.Vector3(...layer.low!) },
        counts: { value: new three.Vector3(x, y, z) },
        cell: { value: layer.cell },
        adding: { value: layer.adding ? 1 : 0 },
        shines: { value: 1 },
      },
      depthTest: false,
      depthWrite: false,
      transparent: true,
      blending: three.CustomBlending,
      blendSrc: three.OneFactor,
      blendDst: three.OneMinusSrcAlphaFactor,
    })
    const mesh = new three.Mesh(this.plane, material)
    mesh.frustumCulled = false
    return mesh
  }

  private of: string[] = []
  /** Let only that of some emitters give light; null: all. */
  shining(emitters: readonly string[] | null): void {
    this.drawn.forEach(
      (mesh, i) => (mesh.material.uniforms.shines.value = !emitters || emitters.includes(this.of[i]) ? 1 : 0),
    )
  }

  /** Say from where it is seen, how large the picture is, and how deep what stands there is. */
  seen(camera: three.PerspectiveCamera, width: number, height: number, depth: three.Texture | null): void {
    const m = camera.matrixWorld.elements
    const { eye, right, up, back, focal, deep, pixels, range, before } = this.shared
    right.value.set(m[0], m[1], m[2])
    up.value.set(m[4], m[5], m[6])
    back.value.set(m[8], m[9], m[10])
    eye.value.set(m[12], m[13], m[14])
    focal.value = height / (2 * Math.tan((camera.fov * Math.PI) / 360))
    pixels.value.set(width, height)
    range.value.set(camera.near, camera.far)
    before.value = depth
    deep.value = depth ? 1 : 0
  }

  dispose(): void {
    this.show([], true)
    this.plane.dispose()
  }
}
