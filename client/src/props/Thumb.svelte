<!-- A prop's geometry in small: seen from the front and a little above, each triangle as light as it faces. -->
<script lang="ts">
  import { colourOf } from '../controls/theme.svelte'
  import type { Geometry } from '../wire/arrays'

  let { geometry }: { geometry: Geometry | null } = $props()
  let canvas = $state<HTMLCanvasElement>()
  const [W, H, MOST] = [40, 30, 1500]

  $effect(() => {
    const context = canvas?.getContext('2d')
    if (!context) return
    context.clearRect(0, 0, W * 2, H * 2)
    const form = geometry
    if (!form?.points?.length) {
      if (form?.shape === 'camera') {
        context.strokeStyle = colourOf('paper')
        context.lineWidth = 2
        context.strokeRect(14, 18, 36, 26)
        context.beginPath()
        context.moveTo(50, 26)
        context.lineTo(66, 18)
        context.lineTo(66, 44)
        context.lineTo(50, 36)
        context.stroke()
      } else if (form?.shape === 'light') {
        context.strokeStyle = colourOf('paper')
        context.lineWidth = 2
        context.beginPath()
        context.arc(W, H, 8, 0, 2 * Math.PI)
        for (let k = 0; k < 8; k++) {
          const [x, y] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)]
          context.moveTo(W + x * 13, H + y * 13)
          context.lineTo(W + x * 21, H + y * 21)
        }
        context.stroke()
      } else if (form?.shape === 'none') {
        // a mask: whole within, fading outward
        const fade = context.createRadialGradient(W, H, 9, W, H, 26)
        fade.addColorStop(0, colourOf('teal'))
        fade.addColorStop(1, '#58a6a600')
        context.fillStyle = fade
        context.fillRect(0, 0, W * 2, H * 2)
      }
      return
    }
    const p = form.points
    const n = p.length / 3
    const [c, s] = [Math.cos(0.5), Math.sin(0.5)]
    const [k, l] = [Math.cos(0.35), Math.sin(0.35)]
    const seen = new Float32Array(n * 3)
    let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity]
    for (let i = 0; i < n; i++) {
      const [x, y, z] = [p[i * 3], p[i * 3 + 1], p[i * 3 + 2]]
      const [sx, sz] = [c * x + s * z, -s * x + c * z]
      const [sy, depth] = [k * y - l * sz, l * y + k * sz]
      seen.set([sx, -sy, depth], i * 3)
      x0 = Math.min(x0, sx)
      x1 = Math.max(x1, sx)
      y0 = Math.min(y0, -sy)
      y1 = Math.max(y1, -sy)
    }
    const scale = Math.min((W * 2 - 8) / Math.max(x1 - x0, 1e-9), (H * 2 - 8) / Math.max(y1 - y0, 1e-9))
    const at = (i: number): [number, number] => [
      W + (seen[i * 3] - (x0 + x1) / 2) * scale,
      H + (seen[i * 3 + 1] - (y0 + y1) / 2) * scale,
    ]
    if (!form.indices) {
      context.strokeStyle = colourOf('paper')
      context.lineWidth = 2
      context.beginPath()
      for (let i = 0; i < n; i++) context.lineTo(...at(i))
      context.stroke()
      return
    }
    const f = form.indices
    const every = Math.max(1, Math.ceil(f.length / 3 / MOST))
    const order: [number, number][] = []
    for (let i = 0; i < f.length / 3; i += every)
      order.push([seen[f[i * 3] * 3 + 2] + seen[f[i * 3 + 1] * 3 + 2] + seen[f[i * 3 + 2] * 3 + 2], i])
    order.sort((a, b) => a[0] - b[0])
    for (const [, i] of order) {
      const [a, b, d] = [f[i * 3], f[i * 3 + 1], f[i * 3 + 2]]
      const [ux, uy, uz] = [0, 1, 2].map((q) => seen[b * 3 + q] - seen[a * 3 + q])
      const [vx, vy, vz] = [0, 1, 2].map((q) => seen[d * 3 + q] - seen[a * 3 + q])
      const nz = ux * vy - uy * vx
      const light = Math.abs(nz) / (Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, nz) || 1)
      const shade = Math.round(70 + 150 * light)
      context.fillStyle = context.strokeStyle = `rgb(${shade} ${shade - 6} ${shade - 16})`
      context.beginPath()
      context.moveTo(...at(a))
      context.lineTo(...at(b))
      context.lineTo(...at(d))
      context.closePath()
      context.fill()
      context.stroke()
    }
  })
</script>

<canvas bind:this={canvas} width={W * 2} height={H * 2} class="h-[30px] w-[40px] shrink-0" aria-hidden="true"></canvas>
