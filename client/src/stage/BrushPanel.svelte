<!-- The brush over a mesh: what it does, how wide, how strongly. -->
<script lang="ts">
  import Action from '../controls/Action.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'

  let {
    stroke = $bindable(),
    name,
    paints = false,
    ondone,
  }: {
    stroke: { kind: string; radius: number; strength: number }
    /** What it works on. */
    name: string
    /** It paints a share onto it, instead of reshaping it. */
    paints?: boolean
    ondone: () => void
  } = $props()
  const METRES = { symbol: 'm', scale: 1, digits: 3 }
  const SHARE = { symbol: '%', scale: 100, digits: 0 }
  const moves = $derived(stroke.kind === 'push' || stroke.kind === 'pull')
  const PAINTS = [
    { value: 'paint', label: 'paint', title: 'Bring the share nearer to 100 %' },
    { value: 'erase', label: 'erase', title: 'Take it away again' },
  ]
  const KINDS = [
    { value: 'pull', label: 'pull', title: 'Draw it outward' },
    { value: 'push', label: 'push', title: 'Press it inward' },
    { value: 'scale', label: 'scale', title: 'Grow or shrink what is under the brush' },
    { value: 'smooth', label: 'smooth', title: 'Flatten it towards its surroundings' },
  ]
</script>

<div
  class="absolute bottom-3 left-3.5 flex items-center gap-3 rounded-md border border-line bg-ink/90 px-2.5 py-1.5"
  data-part="brush"
>
  <span class="text-quiet">{paints ? 'Paint on' : 'Reshape'} {name}</span>
  <Segments
    label="Brush"
    value={stroke.kind}
    options={paints ? PAINTS : KINDS}
    onpick={(kind) =>
      (stroke = {
        ...stroke,
        kind,
        strength: paints
          ? stroke.strength
          : kind === 'push' || kind === 'pull'
            ? moves
              ? stroke.strength
              : 0.1
            : kind === 'scale'
              ? 0.2
              : 0.5,
      })}
  />
  <span class="flex items-center gap-1.5"
    ><span class="text-quiet">radius</span><NumberField
      value={stroke.radius}
      unit={METRES}
      label="Radius of the brush"
      lowest={0.001}
      highest={100}
      drag={0.5}
      reset={0.25}
      ondrag={(v) => (stroke = { ...stroke, radius: v })}
      onset={(v) => (stroke = { ...stroke, radius: v })}
    /></span
  >
  <span class="flex items-center gap-1.5"
    ><span class="text-quiet">by</span><NumberField
      value={stroke.strength}
      unit={moves ? METRES : SHARE}
      label="Strength of the brush"
      lowest={stroke.kind === 'scale' ? -0.9 : 0.001}
      highest={paints ? 1 : 10}
      drag={0.5}
      ondrag={(v) => (stroke = { ...stroke, strength: v })}
      onset={(v) => (stroke = { ...stroke, strength: v })}
    /></span
  >
  <Action small kind="line" onclick={ondone} hint="Put the brush away; Alt-drag looks around while it is at hand"
    >Done</Action
  >
</div>
