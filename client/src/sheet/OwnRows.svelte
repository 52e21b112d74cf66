<!-- The emitter's own attributes: set at birth, or counted on from their last value. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Choice from '../controls/Choice.svelte'
  import Segments from '../controls/Segments.svelte'
  import TextField from '../controls/TextField.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog'
  import { useDesk } from '../effect/context'
  import { readers, rename } from '../effect/edits'
  import SheetRow from './SheetRow.svelte'

  let { rows }: { rows: PlacedRow[] } = $props()
  const { draft, player, catalog, overlay } = useDesk()
  const own = $derived(draft.emitter.own ?? [])
  const path = (i: number, ...rest: (string | number)[]) => draft.inEmitter(['own', i, ...rest])
  const units = $derived(Object.keys(catalog.data.own_units).map((u) => ({ value: u, name: u || 'no unit' })))
</script>

{#each own as attribute, i (attribute.uid)}
  {@const spread = player.measure(draft.emitter.uid)?.own[attribute.uid]}
  {@const unit = catalog.data.own_units[attribute.kind === 'colour' ? '' : (attribute.unit ?? '')]}
  {@const uses = readers({ ...draft.emitter, own: own.filter((o) => o !== attribute) }, attribute.uid)}
  <div class="grid min-h-[29px] grid-cols-[120px_minmax(0,1fr)_auto] items-center px-3.5 py-px hover:bg-raised/50" data-own={attribute.uid}>
    <TextField value={attribute.name} label="Name of the attribute" onset={(name) => overlay.attempt(() => rename(draft, 'own', attribute.uid, attribute.name, name))} />
    <span class="flex flex-wrap items-center gap-2">
      <Segments label="{attribute.name} is" value={attribute.memory ? 'memory' : 'birth'} options={[{ value: 'birth', label: 'set at birth', title: 'Its value at birth stays' }, { value: 'memory', label: 'remembers', title: 'Each step goes on from its last value' }]} onpick={(v) => draft.edit(`Let ${attribute.name} ${v === 'memory' ? 'remember' : 'be set at birth'}`, path(i, 'memory'), v === 'memory')} />
      {#if attribute.memory}<label class="flex items-center gap-1 text-quiet"><input type="checkbox" class="h-3.5 w-3.5 rounded border-line bg-ink text-teal" checked={attribute.held} onchange={(e) => draft.edit(`Hold ${attribute.name} between bounds`, path(i, 'held'), e.currentTarget.checked)} />held between bounds</label>{/if}
      {#if attribute.kind === 'number'}<Choice label="Unit of {attribute.name}" options={units} value={attribute.unit ?? ''} onpick={(u) => draft.edit(`Change the unit of ${attribute.name}`, path(i, 'unit'), u)} />{/if}
      {#if !uses}<button type="button" class="rounded p-1 text-quiet hover:text-paper" aria-label="Remove {attribute.name}" title="Nothing reads it: remove {attribute.name}" onclick={() => draft.edit(`Remove ${attribute.name}`, draft.inEmitter(['own']), own.filter((o) => o !== attribute))}><X size={13} /></button>{/if}
    </span>
    {#if spread}
      <span class="mono text-right whitespace-nowrap" title={spread.map((s) => `smallest ${withUnit(s[0], unit)}, mean ${withUnit(s[1], unit)}, largest ${withUnit(s[2], unit)}`).join('\n')}>
        {attribute.kind === 'number' ? `${shown(spread[0][0], unit, false)} – ${shown(spread[0][2], unit, false)}` : spread.map((s) => shown(s[1], { ...unit, digits: 2 }, false)).join(' ')}
      </span>
    {/if}
  </div>
  {#each rows.filter((r) => r.address.startsWith(`own.${attribute.uid}.`) && !r.unused) as row (row.address)}<SheetRow placed={row} inner />{/each}
{/each}
