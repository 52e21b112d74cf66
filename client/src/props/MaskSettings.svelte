<!-- What a mask is made of besides its rows: its kind, what it is of, how it falls off, its formula, the masks it joins. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import { changeKind } from '../effect/edits'
  import OwnCurve from '../response/OwnCurve.svelte'
  import FieldControl from '../sheet/FieldControl.svelte'
  import type { Prop } from '../wire/types'

  let { mask, path }: { mask: Prop; path: readonly (string | number)[] } = $props()
  const { draft, player, catalog } = useDesk()
  const part = $derived(catalog.part(mask, ''))
  const shown = $derived(player.field === `mask:${mask.uid}`)
  const ELSEWHERE = ['shown', 'tint', 'dissolve', 'follow']
  const fields = $derived((part?.fields ?? []).filter((field) => !ELSEWHERE.includes(field.offered.name)))
  const wide = (kind: string) => kind === 'formula' || kind === 'curve'
  const falls = $derived(!!mask.falloff)
  const joined = $derived((mask.masks as string[] | undefined) ?? [])
  const first = $derived((draft.document.props ?? []).find((p) => p.uid === joined[0]))
</script>

{#if part}
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-3.5 py-1" data-part="mask-settings">
    <Choice
      label="Kind of mask"
      value={part.kind}
      options={part.kinds.filter((k) => k.kind === part.kind || !k.why).map((k) => ({ value: k.kind, name: k.label }))}
      onpick={(kind) =>
        changeKind(
          draft,
          part.kinds.find((k) => k.kind === kind)!,
          `Make ${mask.name} a mask: ${part.kinds.find((k) => k.kind === kind)!.label.toLowerCase()}`,
        )}
    />
    {#each fields.filter((f) => !wide(f.offered.kind)) as field (field.offered.name)}
      {#if field.offered.kind === 'reference'}<span class="text-quiet">{field.offered.label}</span>{/if}
      <FieldControl {field} />
    {/each}
    {#if part.kind === 'difference' && joined.length > 1}<span class="text-xs text-quiet"
        >{first?.name} without the others</span
      >{/if}
    <button
      type="button"
      class="text-xs text-quiet underline decoration-dotted hover:text-paper"
      onclick={() => {
        player.field = shown ? '' : `mask:${mask.uid}`
        player.shadeBy(shown ? '' : `mask.${mask.uid}.value`)
      }}>{shown ? 'hide its value' : 'show its value on the stage'}</button
    >
  </div>
  {#each fields.filter((f) => wide(f.offered.kind)) as field (field.offered.name)}
    {#if field.offered.kind === 'formula'}
      <label class="flex flex-col gap-1 px-3.5 py-1"
        ><span class="text-quiet">{field.offered.help}</span><FieldControl {field} of={mask.name} /></label
      >
    {:else}
      <div class="px-3.5 py-1">
        <OwnCurve
          curve={mask.curve}
          label={falls ? 'falls off' : 'rises'}
          across={falls
            ? 'from where it has ended to where it is whole'
            : 'from a softness under the level to one over it'}
          ondrag={(curve) => draft.drag([...path, 'curve'], curve)}
          onset={(curve, label) => draft.edit(`${label} of ${mask.name}`, [...path, 'curve'], curve)}
        />
      </div>
    {/if}
  {/each}
{/if}
