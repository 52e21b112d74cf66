<!-- The chosen prop: its name and look, its place as rows, its settings, what it follows. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import TextField from '../controls/TextField.svelte'
  import { useDesk } from '../effect/context'
  import { breakUp, rename as renameThing } from '../effect/edits'
  import FieldControl from '../sheet/FieldControl.svelte'
  import SheetRow from '../sheet/SheetRow.svelte'
  import type { FieldSpec, Prop } from '../wire/types'
  import { geometries } from './geometry.svelte'
  import CardButton from '../overlay/CardButton.svelte'
  import StrokeList from './StrokeList.svelte'
  import MaskSettings from './MaskSettings.svelte'

  let { prop, onremove }: { prop: Prop; onremove: () => void } = $props()
  const { draft, player, catalog, overlay } = useDesk()
  const index = $derived((draft.document.props ?? []).indexOf(prop))
  const path = $derived(['props', index] as const)
  const rows = $derived(catalog.rowsOf(draft.owner))
  const fields = $derived(new Map((catalog.part(prop, '')?.fields ?? []).map((field) => [field.offered.name, field])))
  const ELSEWHERE = new Set(['shown', 'tint', 'dissolve', 'follow', 'in_pictures', 'seen_from', 'seen_until'])
  const own = $derived([...fields.values()].filter((field) => !ELSEWHERE.has(field.offered.name)))
  /** The pictures on it stand in a line of their own, after its sizes. */
  const ON_IT = ['covering', 'laid_by', 'rough_by', 'rough_from', 'rough_to', 'glow_by', 'glow_from', 'glow_to']
  const lines = $derived([
    own.filter((field) => !wide(field) && !ON_IT.includes(field.offered.name)),
    own.filter((field) => ON_IT.includes(field.offered.name)),
  ])
  const wide = (field: FieldSpec) => field.offered.kind === 'formula'
  const remarkOf = (field: FieldSpec) =>
    ['number', 'whole', 'pairs', 'vectors', 'lines', 'reference', 'choice'].includes(field.offered.kind)
  const [shown, tint, dissolve, follow, pictured] = $derived(
    ['shown', 'tint', 'dissolve', 'follow', 'in_pictures'].map((name) => fields.get(name)),
  )
  const set = (name: string, value: unknown, label: string) =>
    draft.edit(`${label} of ${prop.name}`, [...path, name], value)
  const rename = (name: string) => overlay.attempt(() => renameThing(draft, 'prop', prop.uid, prop.name, name))
  const fits = $derived(
    (draft.document.props ?? []).filter(
      (p) => catalog.is(p, 'solid') && follow?.offered.options.some((o) => o.value === p.uid),
    ),
  )
  const paintable = $derived(catalog.is(prop, 'paintable'))
  /** Which lists of strokes stand open. */
  let layers = $state({ strokes: false, paint: false })
  function paint() {
    const on = player.brush !== 'paint'
    player.brush = on ? 'paint' : ''
    player.showField(on ? `paint:${prop.uid}` : '')
  }
  /** Its bounds become those of another prop, whatever that becomes later. */
  function fit(uid: string) {
    const row = (base: unknown) => ({ base, responses: [], muted: false })
    const changed: Record<string, unknown> = {
      ...prop,
      follow: { prop: uid, at: 'bounds', face: 0, bary: [1, 0, 0], points: [], turns: true },
      position: row([0, 0, 0]),
      rotation: row([0, 0, 0]),
      scale: row([1, 1, 1]),
    }
    for (const side of ['width', 'height', 'depth']) if (side in prop) changed[side] = 1
    if ('radius' in prop) changed.radius = typeof prop.radius === 'number' ? 0.5 : row(0.5)
    if ('size' in prop) changed.size = row([1, 1, 1])
    draft.edit(`Fit ${prop.name} to ${draft.document.props.find((p) => p.uid === uid)?.name}`, path, changed)
  }
  const listed = (field: FieldSpec, where = (name: string) => name, none = '') => [
    { value: '', name: field.offered.nothing + (field.offered.options.length ? '' : none) },
    ...field.offered.options.map((o) => ({ value: String(o.value), name: where(o.label) })),
  ]
</script>

<div class="pb-2" data-part="prop-sheet">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
    <span class="flex items-center gap-2"
      ><span class="text-quiet">Name</span><TextField value={prop.name} label="Name of the prop" onset={rename} /></span
    >
    {#if shown}
      <span class="flex items-center gap-2"
        ><span class="text-quiet">{shown.offered.label}</span><Choice
          label="How {prop.name} is shown"
          value={String(prop.shown)}
          options={shown.offered.options.map((o) => ({ value: String(o.value), name: o.label }))}
          onpick={(v) => set('shown', v, 'Change the look')}
        /></span
      >
      {#if prop.shown === 'uv' && geometries.of(prop)?.uv_there === false}<span class="text-xs text-amber"
          >it has no u and v</span
        >{/if}
    {/if}
    {#if pictured && prop.kind !== 'mask'}<FieldControl field={pictured} of={prop.name} />{/if}
    {#if (draft.document.moments ?? []).length && prop.kind !== 'mask' && prop.kind !== 'camera'}
      {#each ['seen_from', 'seen_until'] as name (name)}
        {@const seen = fields.get(name)}
        {#if seen}<FieldControl field={seen} of={prop.name} />{/if}
      {/each}
    {/if}
    {#if tint}<FieldControl field={tint} of={prop.name} />{/if}
    <label class="flex items-center gap-2"
      ><span class="text-quiet">Group</span><input
        value={prop.group ?? ''}
        maxlength="80"
        list="prop-groups"
        placeholder="none"
        aria-label="Group of {prop.name}"
        class="h-6 w-24 rounded border border-line bg-ink px-1.5 py-0 text-[13px] focus:border-teal focus:ring-0"
        onchange={(e) => set('group', e.currentTarget.value.trim(), 'Change the group')}
      /></label
    >
    <span class="ml-auto flex items-center gap-2"
      ><CardButton of={prop.kind === 'mask' ? `mask:${prop.shape}` : `prop:${prop.kind}`} name={prop.name} /><button
        type="button"
        class="text-xs text-quiet underline decoration-dotted hover:text-paper"
        onclick={onremove}>remove</button
      ></span
    >
  </div>
  {#each rows as placed (placed.address)}<SheetRow {placed} />{/each}
  {#if prop.kind === 'mask'}
    <MaskSettings mask={prop} {path} />
  {:else}
    {#each own.filter(wide) as field (field.offered.name)}
      <label class="flex flex-col gap-1 px-3.5 py-1"
        ><span class="text-quiet">{field.offered.help}</span><FieldControl {field} of={prop.name} live /></label
      >
    {/each}
    {#each lines.filter((line) => line.length) as line, n (n)}
      <div class="flex flex-wrap items-center gap-x-5 gap-y-1.5 px-3.5 py-1">
        {#each line as field (field.offered.name)}
          {#if remarkOf(field)}
            <span class="flex min-w-0 flex-wrap items-center gap-2 {field.offered.kind === 'lines' ? 'flex-1' : ''}"
              ><span class="text-quiet" title={field.offered.help}>{field.offered.label}</span><FieldControl
                {field}
                of={prop.name}
              />
              {#if field.offered.kind === 'vectors'}<span class="text-quiet"
                  >drag them on the stage, double-click there for another</span
                >{/if}</span
            >
          {:else}<FieldControl {field} of={prop.name} />{/if}
        {/each}
      </div>
    {/each}
  {/if}
  {#if dissolve || prop.strokes || paintable}
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
      {#if dissolve}
        <span class="flex items-center gap-2"
          ><span class="text-quiet">{dissolve.offered.label}</span>
          <Choice
            label="Which mask {prop.name} dissolves by"
            value={prop.dissolve?.mask ?? ''}
            options={listed(dissolve, (name) => `where ${name} is`, ': there is no mask')}
            onpick={(uid) =>
              set(
                'dissolve',
                uid ? { mask: uid, latched: prop.dissolve?.latched ?? true } : null,
                'Change the dissolving',
              )}
          /></span
        >
        {#if prop.dissolve}<label class="flex items-center gap-1"
            ><input
              type="checkbox"
              class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
              checked={prop.dissolve.latched}
              onchange={(e) =>
                set('dissolve', { ...prop.dissolve, latched: e.currentTarget.checked }, 'Change the dissolving')}
            />once touched, it stays gone</label
          >{/if}
      {/if}
      {#if prop.strokes}
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          onclick={() => (player.brush = player.brush === 'reshape' ? '' : 'reshape')}
          >{player.brush === 'reshape' ? 'put the brush away' : 'reshape it with the brush'}</button
        >
        {#if prop.strokes.length}<button
            type="button"
            aria-expanded={layers.strokes}
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => (layers.strokes = !layers.strokes)}
            >{prop.strokes.length} {prop.strokes.length === 1 ? 'stroke' : 'strokes'}</button
          ><button
            type="button"
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => set('strokes', [], 'Undo all strokes')}>as it was</button
          >{/if}
      {/if}
      {#if catalog.is(prop, 'breaks')}
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          title="A new emitter of its parts: held for a second, then let go"
          onclick={() => overlay.attempt(() => breakUp(draft, prop))}>break it up</button
        >
      {/if}
      {#if paintable}
        <button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          title="A share that masks read, and with them births, rows and formulas"
          onclick={paint}>{player.brush === 'paint' ? 'put the brush away' : 'paint on it'}</button
        >
        {#if prop.paint?.length}<button
            type="button"
            aria-expanded={layers.paint}
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => (layers.paint = !layers.paint)}
            >{prop.paint.length} painted {prop.paint.length === 1 ? 'stroke' : 'strokes'}</button
          >{/if}
      {/if}
    </div>
    {#each ['strokes', 'paint'] as const as list (list)}
      {#if layers[list] && prop[list]?.length}<StrokeList
          strokes={prop[list]}
          label={prop.name}
          amounts={list === 'strokes'}
          ondrag={(changed) => draft.drag([...path, list], changed)}
          onset={(changed, label) => set(list, changed, label)}
        />{/if}
    {/each}
  {/if}
  {#if prop.position && follow}
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1">
      <span class="flex items-center gap-2"
        ><span class="text-quiet">{follow.offered.label}</span>
        <Choice
          label="What {prop.name} follows"
          value={prop.follow?.prop ?? ''}
          options={listed(follow)}
          onpick={(uid) =>
            set(
              'follow',
              uid ? { prop: uid, at: 'place', face: 0, bary: [1, 0, 0], points: [], turns: true } : null,
              'Change what it follows',
            )}
        /></span
      >
      {#if fits.length && prop.follow?.at !== 'bounds'}
        <Choice
          label="What {prop.name} is fitted to"
          value=""
          options={[{ value: '', name: 'fit to…' }, ...fits.map((p) => ({ value: p.uid, name: p.name }))]}
          onpick={(uid) => uid && fit(uid)}
        />
      {/if}
      {#if prop.follow}
        <span class="text-quiet"
          >{prop.follow.at === 'bounds'
            ? 'its bounds, one metre of this as long as they are'
            : prop.follow.at === 'surface'
              ? `a place on its surface (triangle ${prop.follow.face})`
              : prop.follow.at === 'points'
                ? `the middle of ${prop.follow.points?.length} points`
                : 'its place'}; Alt-click it on the stage for a place on it, Alt Shift-click for points</span
        >
        <label class="flex items-center gap-1"
          ><input
            type="checkbox"
            class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
            checked={prop.follow.turns}
            onchange={(e) => set('follow', { ...prop.follow, turns: e.currentTarget.checked }, 'Turn with it')}
          />turns with it</label
        >
        {#if prop.follow.at !== 'place'}<button
            type="button"
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            onclick={() => set('follow', { ...prop.follow, at: 'place' }, 'Follow its place')}>follow its place</button
          >{/if}
      {/if}
    </div>
  {/if}
</div>
