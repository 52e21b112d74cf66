<!-- The emitter's own attributes: set at birth, or counted on from their last value. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Segments from '../controls/Segments.svelte'
  import TextField from '../controls/TextField.svelte'
  import { shown, withUnit } from '../controls/numbers'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { removePart, rename } from '../effect/edits'
  import type { Own, PartSpec } from '../wire/types'
  import FieldControl from './FieldControl.svelte'
  import SheetRow from './SheetRow.svelte'

  let { part, rows }: { part: PartSpec; rows: PlacedRow[] } = $props()
  const { draft, player, catalog, overlay } = useDesk()
  const uid = $derived(String(part.path.at(-1)).slice(1))
  const i = $derived((draft.emitter.own ?? []).findIndex((o) => o.uid === uid))
  const attribute = $derived<Own | undefined>(draft.emitter.own?.[i])
  const path = (...rest: (string | number)[]) => draft.inEmitter(['own', i, ...rest])
  const unit = $derived(
    rows.find((r) => r.address.endsWith('.start'))?.spec.unit ?? { symbol: '', scale: 1, digits: 2 },
  )
  const uses = $derived(catalog.thing(draft.emitter)?.used[uid]?.length ?? 0)
  const spread = $derived(player.measure(draft.emitter.uid)?.own[uid])
  const more = $derived(part.fields.filter((f) => f.offered.name !== 'memory' && f.offered.name !== 'held'))
</script>

{#if attribute}
  <div
    class="grid min-h-[29px] grid-cols-[120px_minmax(0,1fr)_auto] items-center px-3.5 py-px hover:bg-raised/50"
    data-own={attribute.uid}
  >
    <TextField
      value={attribute.name}
      label="Name of the attribute"
      onset={(name) => overlay.attempt(() => rename(draft, 'own', attribute.uid, attribute.name, name))}
    />
    <span class="flex flex-wrap items-center gap-2">
      <Segments
        label="{attribute.name} is"
        value={attribute.memory ? 'memory' : 'birth'}
        options={[
          { value: 'birth', label: 'set at birth', title: 'Its value at birth stays' },
          { value: 'memory', label: 'remembers', title: 'Each step goes on from its last value' },
        ]}
        onpick={(v) =>
          draft.edit(
            `Let ${attribute.name} ${v === 'memory' ? 'remember' : 'be set at birth'}`,
            path('memory'),
            v === 'memory',
          )}
      />
      {#if attribute.memory}<label class="flex items-center gap-1 text-quiet"
          ><input
            type="checkbox"
            class="h-3.5 w-3.5 rounded border-line bg-ink text-teal"
            checked={attribute.held}
            onchange={(e) => draft.edit(`Hold ${attribute.name} between bounds`, path('held'), e.currentTarget.checked)}
          />held between bounds</label
        >{/if}
      {#each more as field (field.offered.name)}<FieldControl {field} of={attribute.name} />{/each}
      {#if !uses}<button
          type="button"
          class="rounded p-1 text-quiet hover:text-paper"
          aria-label="Remove {attribute.name}"
          title="Nothing reads it: remove {attribute.name}"
          onclick={() => removePart(draft, { ...part, label: attribute.name })}><X size={13} /></button
        >{/if}
    </span>
    {#if spread}
      <span
        class="mono text-right whitespace-nowrap"
        title={spread
          .map((s) => `smallest ${withUnit(s[0], unit)}, mean ${withUnit(s[1], unit)}, largest ${withUnit(s[2], unit)}`)
          .join('\n')}
      >
        {attribute.kind === 'number'
          ? `${shown(spread[0][0], unit, false)} – ${shown(spread[0][2], unit, false)}`
          : spread.map((s) => shown(s[1], { ...unit, digits: 2 }, false)).join(' ')}
      </span>
    {/if}
  </div>
  {#each rows as row (row.address)}<SheetRow placed={row} inner />{/each}
{/if}
