<!-- The chosen prop: its name and look, its place as rows, what it is made of, what it follows. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import Swatch from '../controls/Swatch.svelte'
  import TextField from '../controls/TextField.svelte'
  import { useDesk } from '../effect/context'
  import { rename as renameThing } from '../effect/edits'
  import { framesASecond } from '../effect/rate'
  import { geometries } from './geometry.svelte'
  import MaskSettings from './MaskSettings.svelte'
  import SheetRow from '../sheet/SheetRow.svelte'
  import { api } from '../wire/api'
  import type { Prop } from '../wire/types'
  import { mayFollow, SIZES } from './props'

  let { prop, onremove }: { prop: Prop; onremove: () => void; onreplace: (files: FileList | null) => void } = $props()
  const { draft, player, catalog, overlay } = useDesk()
  const index = $derived((draft.document.props ?? []).indexOf(prop))
  const path = $derived(['props', index] as const)
  const rows = $derived(catalog.rowsOf(draft.owner))
  const others = $derived((draft.document.props ?? []).filter((p) => p !== prop && p.kind !== 'mask' && mayFollow(draft.document, prop, p)))
  const masks = $derived((draft.document.props ?? []).filter((p) => p.kind === 'mask'))
  const dissolves = $derived(!!prop.strokes || ['text', 'logo', 'picture'].includes(prop.kind))
  const METRES = { symbol: 'm', scale: 1, digits: 3 }
  const SECONDS = { symbol: 's', scale: 1, digits: 2 }
  const PLAIN = { symbol: '', scale: 1, digits: 3 }
  let input = $state<HTMLInputElement>()
  const set = (name: string, value: unknown, label: string) => draft.edit(`${label} of ${prop.name}`, [...path, name], value)
  const drag = (name: string, value: unknown) => draft.drag([...path, name], value)

  const rename = (name: string) => overlay.attempt(() => renameThing(draft, 'prop', prop.uid, prop.name, name))
  async function replaceFile(files: FileList | null) {
    const file = files?.[0]
    if (!file) return
    await overlay.attempt(async () => {
      const found = await api.bringFile(file, () => undefined)
      const wants = { picture: 'picture', logo: 'drawing', points: 'points' }[prop.kind as string] ?? 'mesh'
      if (found.kind !== wants) throw new Error(`${file.name} is a ${found.kind}; ${prop.name} needs a ${wants}.`)
      const ref = { content: found.content, name: found.name }
      if (prop.kind === 'picture') set('files', [ref], 'Replace the picture')
      else set('file', ref, 'Replace the file')
      // what followed a face or points that are no longer there says so
      const lost = (draft.document.props ?? []).filter((p) => p.follow?.prop === prop.uid && ((p.follow.at === 'surface' && (p.follow.face ?? 0) >= found.faces) || (p.follow.at === 'points' && (p.follow.points ?? []).some((n: number) => n >= found.points))))
      if (lost.length) overlay.notice = `${lost.map((p) => p.name).join(', ')} followed a place that the new file does not have: choose it again.`
    })
  }
</script>

<input bind:this={input} type="file" class="hidden" aria-label="Replace the file of {prop.name}" accept={{ picture: '.png,.jpg,.jpeg,.exr', logo: '.svg', points: '.csv' }[prop.kind as string] ?? '.obj,.ply,.stl,.glb'} onchange={(e) => { void replaceFile(e.currentTarget.files); e.currentTarget.value = '' }} />
<div class="pb-2" data-part="prop-sheet">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
    <span class="flex items-center gap-2"><span class="text-quiet">Name</span><TextField value={prop.name} label="Name of the prop" onset={rename} /></span>
    {#if prop.kind !== 'camera'}
      <span class="flex items-center gap-2"><span class="text-quiet">Shown</span><Choice label="How {prop.name} is shown" value={prop.kind === 'mask' && prop.shown !== 'hidden' ? 'lines' : (prop.shown ?? 'shaded')} options={[{ value: 'shaded', name: 'shaded' }, { value: 'lines', name: 'as lines' }, { value: 'uv', name: 'u and v' }, { value: 'ghost', name: 'ghosted' }, { value: 'hidden', name: 'hidden' }].filter((o) => prop.kind !== 'mask' || o.value === 'lines' || o.value === 'hidden')} onpick={(v) => set('shown', v, 'Change the look')} /></span>
      {#if prop.shown === 'uv' && geometries.of(prop)?.uv_there === false}<span class="text-xs text-amber">it has no u and v</span>{/if}
      {#if prop.kind !== 'picture' && prop.kind !== 'path' && prop.kind !== 'mask'}<Swatch value={(prop.tint ?? [0.32, 0.3, 0.27]) as [number, number, number]} label="Tint of {prop.name}" brightness={false} ondrag={(v) => drag('tint', v)} onset={(v) => set('tint', v, 'Change the tint')} />{/if}
    {/if}
    <button type="button" class="ml-auto text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={onremove}>remove</button>
  </div>
  {#each rows as placed (placed.address)}<SheetRow {placed} />{/each}
  {#if prop.kind === 'mask'}<MaskSettings mask={prop} {path} />{/if}
  <div class="flex flex-wrap items-center gap-x-5 gap-y-1.5 px-3.5 py-1">
    {#if prop.kind === 'shape'}
      {#each SIZES[prop.shape as keyof typeof SIZES] as [name, label]}
        <span class="flex items-center gap-2"><span class="text-quiet">{label}</span><NumberField value={prop[name] ?? 1} unit={METRES} label="{label} of {prop.name}" lowest={0} highest={10000} drag={1} reset={1} ondrag={(v) => drag(name, v)} onset={(v) => set(name, v, `Change the ${label}`)} /></span>
      {/each}
      {#if prop.shape === 'funnel'}
        <span class="text-quiet">profile: radius and height, from its foot up</span>
        {#each prop.profile ?? [] as [radius, height], i}
          <span class="flex items-center gap-1 rounded border border-line bg-ink px-1.5 py-0.5">
            <NumberField value={radius} unit={METRES} label="Radius {i + 1}" lowest={0} highest={10000} drag={1} onset={(v) => set('profile', prop.profile!.map((p: [number, number], j: number) => (j === i ? [v, p[1]] : p)), 'Change the profile')} />
            <NumberField value={height} unit={METRES} label="Height {i + 1}" lowest={-10000} highest={10000} drag={1} onset={(v) => set('profile', prop.profile!.map((p: [number, number], j: number) => (j === i ? [p[0], v] : p)), 'Change the profile')} />
          </span>
        {/each}
        <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => set('profile', [...prop.profile!, [prop.profile!.at(-1)![0], prop.profile!.at(-1)![1] + 0.3]], 'Lengthen the profile')}>add a point</button>
      {/if}
    {:else if prop.kind === 'text'}
      <label class="flex min-w-0 flex-1 items-center gap-2"><span class="text-quiet">Words</span><textarea rows="1" maxlength="400" value={prop.text} aria-label="Words of {prop.name}" class="min-h-[28px] min-w-0 flex-1 rounded border border-line bg-ink px-2 py-1 text-[13px] text-paper focus:border-teal focus:ring-0" onchange={(e) => e.currentTarget.value.trim() && set('text', e.currentTarget.value, 'Write the words')}></textarea></label>
      <Segments label="Weight" value={prop.weight ?? 'bold'} options={[{ value: 'regular', label: 'regular' }, { value: 'medium', label: 'medium' }, { value: 'bold', label: 'bold' }]} onpick={(v) => set('weight', v, 'Change the weight')} />
      <span class="flex items-center gap-2"><span class="text-quiet">height</span><NumberField value={prop.height ?? 0.3} unit={METRES} label="Height of a capital" lowest={0.001} highest={1000} drag={0.5} reset={0.3} ondrag={(v) => drag('height', v)} onset={(v) => set('height', v, 'Change the height')} /></span>
      <span class="flex items-center gap-2"><span class="text-quiet">thickness</span><NumberField value={prop.depth ?? 0} unit={METRES} label="Thickness" lowest={0} highest={1000} drag={0.3} reset={0} ondrag={(v) => drag('depth', v)} onset={(v) => set('depth', v, 'Change the thickness')} /></span>
    {:else if prop.kind === 'path' && prop.formula}
      <label class="flex min-w-0 flex-1 flex-col gap-1"><span class="text-quiet">A vector in metres, for t from 0 to 1; functions as in every formula</span>
        <textarea rows="3" maxlength="4000" value={prop.formula} aria-label="Formula of {prop.name}" spellcheck="false" class="mono min-w-0 rounded border border-line bg-ink px-2 py-1 text-paper focus:border-teal focus:ring-0" oninput={(e) => e.currentTarget.value.trim() && drag('formula', e.currentTarget.value)} onchange={(e) => e.currentTarget.value.trim() && set('formula', e.currentTarget.value, 'Write the formula')}></textarea></label>
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.closed} onchange={(e) => set('closed', e.currentTarget.checked, 'Close')} />closed</label>
    {:else if prop.kind === 'path'}
      <span class="text-quiet">{prop.points.length} points; drag them on the stage, double-click there for another</span>
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.closed} onchange={(e) => set('closed', e.currentTarget.checked, 'Close')} />closed</label>
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.smooth} onchange={(e) => set('smooth', e.currentTarget.checked, 'Smooth')} />smooth</label>
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => set('points', [...prop.points, prop.points.at(-1)!.map((x: number, i: number) => x + (i === 0 ? 0.4 : 0))], 'Lengthen')}>add a point</button>
      {#each prop.points as point, i}
        <span class="flex items-center gap-1 rounded border border-line bg-ink px-1.5 py-0.5" data-point={i}>
          {#each [0, 1, 2] as k}<NumberField value={point[k]} unit={PLAIN} label="Point {i + 1} {'xyz'[k]}" drag={2} ondrag={(v) => draft.drag([...path, 'points', i, k], v)} onset={(v) => draft.edit(`Move a point of ${prop.name}`, [...path, 'points', i, k], v)} />{/each}
          {#if prop.points.length > 1}<button type="button" class="text-quiet hover:text-paper" aria-label="Remove point {i + 1}" onclick={() => set('points', prop.points.filter((p: number[]) => p !== point), 'Shorten')}>×</button>{/if}
        </span>
      {/each}
    {:else if prop.kind === 'mesh'}
      <span class="flex items-center gap-2"><span class="text-quiet">its unit is</span><NumberField value={prop.unit ?? 1} unit={METRES} label="Unit of the file" lowest={1e-6} highest={10000} drag={1} reset={1} onset={(v) => set('unit', v, 'Change the unit')} /></span>
      <Segments label="Upright axis of the file" value={prop.up ?? 'y'} options={[{ value: 'y', label: 'y up' }, { value: 'z', label: 'z up' }]} onpick={(v) => set('up', v, 'Change the upright axis')} />
      <span class="flex items-center gap-2"><span class="text-quiet">moves from</span><NumberField value={prop.start ?? 0} unit={SECONDS} label="Start of its animation" lowest={-100000} highest={100000} drag={4} reset={0} frameRate={framesASecond(draft.document.clip)} onset={(v) => set('start', v, 'Change the start')} /></span>
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.loops} onchange={(e) => set('loops', e.currentTarget.checked, 'Loop the animation')} />loops</label>
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => input?.click()}>replace {prop.file.name}</button>
    {:else if prop.kind === 'logo'}
      <span class="flex items-center gap-2"><span class="text-quiet">height</span><NumberField value={prop.height ?? 1} unit={METRES} label="Height of the drawing" lowest={0.001} highest={1000} drag={1} reset={1} ondrag={(v) => drag('height', v)} onset={(v) => set('height', v, 'Change the height')} /></span>
      <span class="flex items-center gap-2"><span class="text-quiet">thickness</span><NumberField value={prop.depth ?? 0} unit={METRES} label="Thickness" lowest={0} highest={1000} drag={0.3} reset={0} ondrag={(v) => drag('depth', v)} onset={(v) => set('depth', v, 'Change the thickness')} /></span>
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => input?.click()}>replace {prop.file.name}</button>
    {:else if prop.kind === 'points'}
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => input?.click()}>replace {prop.file.name}</button>
    {:else if prop.kind === 'picture'}
      <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => input?.click()}>replace {prop.files[0].name}</button>
    {/if}
  </div>
  {#if dissolves || 'strokes' in prop}
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
      {#if dissolves}
        <span class="flex items-center gap-2"><span class="text-quiet">Dissolves</span>
          <Choice label="Which mask {prop.name} dissolves by" value={prop.dissolve?.mask ?? ''} options={[{ value: '', name: masks.length ? 'not' : 'not: there is no mask' }, ...masks.map((m) => ({ value: m.uid, name: `where ${m.name} is` }))]} onpick={(uid) => set('dissolve', uid ? { mask: uid, latched: prop.dissolve?.latched ?? true } : null, 'Change the dissolving')} /></span>
        {#if prop.dissolve}<label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.dissolve.latched} onchange={(e) => set('dissolve', { ...prop.dissolve, latched: e.currentTarget.checked }, 'Change the dissolving')} />once touched, it stays gone</label>{/if}
      {/if}
      {#if prop.kind === 'shape' || prop.kind === 'mesh'}
        <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => (player.brush = !player.brush)}>{player.brush ? 'put the brush away' : 'reshape it with the brush'}</button>
        {#if prop.strokes?.length}<span class="text-xs text-quiet">{prop.strokes.length} {prop.strokes.length === 1 ? 'stroke' : 'strokes'}</span><button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => set('strokes', [], 'Undo all strokes')}>as it was</button>{/if}
      {/if}
    </div>
  {/if}
  {#if prop.position}
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
    <span class="flex items-center gap-2"><span class="text-quiet">Follows</span>
      <Choice label="What {prop.name} follows" value={prop.follow?.prop ?? ''} options={[{ value: '', name: 'nothing' }, ...others.map((p) => ({ value: p.uid, name: p.name }))]} onpick={(uid) => set('follow', uid ? { prop: uid, at: 'place', face: 0, bary: [1, 0, 0], points: [], turns: true } : null, 'Change what it follows')} /></span>
    {#if prop.follow}
      <span class="text-quiet">{prop.follow.at === 'surface' ? `a place on its surface (triangle ${prop.follow.face})` : prop.follow.at === 'points' ? `the middle of ${prop.follow.points?.length} points` : 'its place'}; Alt-click it on the stage for a place on it, Alt Shift-click for points</span>
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={prop.follow.turns} onchange={(e) => set('follow', { ...prop.follow, turns: e.currentTarget.checked }, 'Turn with it')} />turns with it</label>
      {#if prop.follow.at !== 'place'}<button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => set('follow', { ...prop.follow, at: 'place' }, 'Follow its place')}>follow its place</button>{/if}
    {/if}
  </div>
  {/if}
</div>
