<!-- A row whose base is a formula, in the place of the response editor. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  import Segments from '../controls/Segments.svelte'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { useDesk } from '../effect/context'
  import { basePath, setBase } from '../effect/edits'
  import type { FormulaSource } from '../wire/types'

  let { placed, source, read }: { placed: PlacedRow; source: FormulaSource; read: 'once' | 'live' } = $props()
  const { draft, catalog, selection, overlay } = useDesk()
  const path = $derived(draft.inEmitter(basePath(placed)))
  const title = $derived(placed.host ? `${placed.host.label}: ${placed.label.toLowerCase()}` : placed.label)
  const others = $derived(placed.row.responses?.length ?? 0)
</script>

<div class="flex min-h-0 flex-col gap-[5px] py-2 pr-3 pl-4">
  <div>
    <h2 class="truncate text-[14px] leading-[17px] font-bold" {title}>{title}</h2>
    <div class="text-xs text-quiet">
      its base, a formula{others ? `; ${others === 1 ? 'a response acts' : `${others} responses act`} on it` : ''}
    </div>
  </div>
  <div class="flex items-center justify-between">
    <span class="text-quiet">Source</span>
    <button
      type="button"
      aria-haspopup="dialog"
      class="h-[26px] rounded-md border border-line bg-ink px-2 hover:border-quiet"
      onclick={(e) => overlay.openPicker(e.currentTarget, placed)}>{catalog.nameOf(draft.owner, placed)}</button
    >
  </div>
  <div class="flex items-center justify-between">
    <span class="text-quiet">Read</span>
    <Segments
      label="Read"
      value={read}
      onpick={(r) => draft.edit(`Read ${title} ${r}`, [...path, 'read'], r)}
      options={[
        { value: 'once', label: 'once', title: 'At birth, and kept', disabled: placed.spec.stage === 'emitter' },
        { value: 'live', label: 'live', title: 'At every step', disabled: placed.spec.stage === 'birth' },
      ]}
    />
  </div>
  <p class="text-xs text-quiet" title={placed.spec.help}>
    {placed.spec.unit.symbol
      ? `In ${{ '°': 'radians', '°/s': 'radians a second', '%': 'shares, 0 to 1' }[placed.spec.unit.symbol] ?? placed.spec.unit.symbol}.`
      : placed.spec.kind === 'colour'
        ? 'In linear light.'
        : 'A plain number.'}
  </p>
  <button
    type="button"
    class="mt-auto flex items-center gap-1 self-start text-quiet hover:text-paper"
    onclick={() => {
      selection.select(null)
      setBase(draft, placed, placed.spec.default as never, `Make ${title} a number again`)
    }}><X size={13} /> A number again</button
  >
</div>
<div class="col-span-2 min-h-0 min-w-0 py-2.5 pr-4 pl-2">
  {#await import('./FormulaEditor.svelte') then { default: FormulaEditor }}<FormulaEditor
      {placed}
      path={[...path, 'source']}
      {source}
      {read}
      {title}
    />{/await}
</div>
