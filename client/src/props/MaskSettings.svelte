<!-- What a mask is made of besides its rows: what it is of, how it falls off, its formula, the masks it joins. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import OwnCurve from '../response/OwnCurve.svelte'
  import type { Prop } from '../wire/types'

  let { mask, path }: { mask: Prop & { kind: 'mask' }; path: readonly (string | number)[] } = $props()
  const { draft, player, catalog } = useDesk()
  const spec = $derived(catalog.maskSpec(mask.shape))
  const all = $derived(draft.document.props ?? [])
  const fits = $derived(
    spec.needs === 'solid' ? all.filter((p) => catalog.data.guides.includes(p.kind)) : spec.needs === 'picture' ? all.filter((p) => p.kind === 'picture') : all.filter((p) => p.kind !== 'mask'),
  )
  const others = $derived(all.filter((p) => p.kind === 'mask' && p.uid !== mask.uid && !joins(p.uid)))
  const shown = $derived(player.field === `mask:${mask.uid}`)
  const set = (name: string, value: unknown, label: string) => draft.edit(`${label} of ${mask.name}`, [...path, name], value)

  /** Whether a mask joins this one, through however many others. */
  function joins(uid: string, depth = 0): boolean {
    const other = all.find((p) => p.uid === uid)
    return other?.kind === 'mask' && depth < 16 && (other.masks ?? []).some((m) => m === mask.uid || joins(m, depth + 1))
  }
  function change(shape: string) {
    const { template, rows, needs } = catalog.maskSpec(shape)
    const made = { ...mask, shape } as Record<string, unknown>
    // what the new shape alone has stands as it usually does
    for (const field of rows) if (!spec.rows.includes(field)) made[field] = structuredClone(template[field])
    if (needs !== spec.needs) Object.assign(made, { of: needs && needs !== 'masks' ? (fitsOf(needs)[0]?.uid ?? null) : null, masks: needs === 'masks' ? others.slice(0, 2).map((p) => p.uid) : [] })
    if (shape === 'formula' && !mask.formula) made.formula = template.formula
    draft.edit(`Make ${mask.name} a mask: ${catalog.maskSpec(shape).label.toLowerCase()}`, path, made)
  }
  const fitsOf = (needs: string) => (needs === 'solid' ? all.filter((p) => catalog.data.guides.includes(p.kind)) : needs === 'picture' ? all.filter((p) => p.kind === 'picture') : all.filter((p) => p.kind !== 'mask'))
  function join(uid: string, on: boolean) {
    const masks = on ? [...(mask.masks ?? []), uid] : (mask.masks ?? []).filter((m) => m !== uid)
    set('masks', masks, on ? 'Join a mask' : 'Take a mask out')
  }
</script>

<div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1" data-part="mask-settings">
  <Choice label="Kind of mask" value={mask.shape} options={catalog.data.masks.filter((m) => m.shape === mask.shape || (m.needs === '' || (m.needs === 'masks' ? others.length : fitsOf(m.needs).length))).map((m) => ({ value: m.shape, name: m.label }))} onpick={change} />
  {#if spec.needs && spec.needs !== 'masks'}
    <span class="flex items-center gap-2"><span class="text-quiet">of</span><Choice label="What the mask is of" value={mask.of ?? ''} options={[...(fits.some((p) => p.uid === mask.of) ? [] : [{ value: mask.of ?? '', name: 'choose one' }]), ...fits.map((p) => ({ value: p.uid, name: p.name }))]} onpick={(uid) => set('of', uid, 'Change what it is of')} /></span>
  {/if}
  {#if spec.needs === 'masks'}
    {#each [...(mask.masks ?? []).map((uid) => all.find((p) => p.uid === uid)).filter((p) => !!p), ...others.filter((p) => !mask.masks?.includes(p.uid))] as other (other.uid)}
      <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={mask.masks?.includes(other.uid)} onchange={(e) => join(other.uid, e.currentTarget.checked)} />{other.name}</label>
    {:else}<span class="text-xs text-amber">there is no other mask yet</span>{/each}
    {#if mask.shape === 'difference' && (mask.masks?.length ?? 0) > 1}<span class="text-xs text-quiet">{all.find((p) => p.uid === mask.masks![0])?.name} without the others</span>{/if}
  {/if}
  {#if mask.shape === 'picture'}
    <Choice label="Channel" value={mask.channel ?? 'luminance'} options={['luminance', 'red', 'green', 'blue', 'alpha'].map((c) => ({ value: c, name: c }))} onpick={(v) => set('channel', v, 'Change the channel')} />
  {/if}
  <label class="flex items-center gap-1"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={mask.invert} onchange={(e) => set('invert', e.currentTarget.checked, 'Turn round')} />inverted</label>
  <button type="button" class="text-xs text-quiet underline decoration-dotted hover:text-paper" onclick={() => { player.field = shown ? '' : `mask:${mask.uid}`; player.shadeBy(shown ? '' : `mask.${mask.uid}.value`) }}>{shown ? 'hide its value' : 'show its value on the stage'}</button>
</div>
{#if mask.shape === 'formula'}
  <label class="flex flex-col gap-1 px-3.5 py-1"><span class="text-quiet">A number over position (metres), clip_time and dials; half in at the level</span>
    <textarea rows="2" maxlength="4000" value={mask.formula} aria-label="Formula of {mask.name}" spellcheck="false" class="mono rounded border border-line bg-ink px-2 py-1 text-paper focus:border-teal focus:ring-0" oninput={(e) => e.currentTarget.value.trim() && draft.drag([...path, 'formula'], e.currentTarget.value)} onchange={(e) => e.currentTarget.value.trim() && set('formula', e.currentTarget.value, 'Write the formula')}></textarea></label>
{/if}
{#if spec.needs !== 'masks'}
  <div class="px-3.5 py-1"><OwnCurve curve={mask.curve} label={spec.rows.includes('falloff') ? 'falls off' : 'rises'} across={spec.rows.includes('falloff') ? 'from where it has ended to where it is whole' : 'from a softness under the level to one over it'} ondrag={(curve) => draft.drag([...path, 'curve'], curve)} onset={(curve, label) => set('curve', curve, label)} /></div>
{/if}
