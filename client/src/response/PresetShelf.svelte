<!-- Presets to take a shape from: Kagero's, and the user's own, which are kept and dropped here. -->
<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus'
  import { css } from '../controls/colour'
  import { curvePath } from '../controls/curve'
  import { useDesk } from '../effect/context'
  import type { Key, Preset, Stop } from '../wire/types'

  let {
    kind,
    data,
    onpick,
  }: {
    kind: 'curve' | 'gradient'
    data: Record<string, unknown>
    onpick: (data: Record<string, unknown>, name: string) => void
  } = $props()
  const { catalog, presets, overlay } = useDesk()
  let naming = $state(false)
  let name = $state('')
  const mine = $derived(presets.mine.filter((p) => p.kind === kind))
  const given = $derived(kind === 'curve' ? catalog.data.presets : [])
  const S = 24

  function keep() {
    naming = false
    const wanted = name.trim().slice(0, 40)
    if (wanted) void overlay.attempt(() => presets.keep(wanted, kind, data))
  }
  function menu(event: Event, preset: Preset) {
    event.preventDefault()
    overlay.openMenu(event.currentTarget, preset.name, [
      { label: 'Take its shape', act: () => onpick(preset.data, preset.name) },
      {
        label: 'Replace it by this shape',
        act: () => void overlay.attempt(() => presets.keep(preset.name, kind, data)),
      },
      { label: 'Delete the preset', act: () => void overlay.attempt(() => presets.forget(preset.id)) },
    ])
  }
  const box = 'h-[26px] w-[26px] shrink-0 overflow-hidden rounded border border-line bg-ink hover:border-quiet'
</script>

<span class="flex flex-wrap items-center gap-1">
  {#each given as preset (preset.name)}
    <button
      type="button"
      title="Preset: {preset.name}"
      aria-label="Preset {preset.name}"
      class={box}
      onclick={() => onpick({ keys: preset.keys }, preset.name)}
    >
      <svg width={S} height={S} aria-hidden="true"
        ><path
          d={curvePath(preset.keys as Key[], S, S, 0, 1, 5)}
          fill="none"
          stroke="var(--color-paper)"
          stroke-width="1.2"
        /></svg
      >
    </button>
  {/each}
  {#each mine as preset (preset.id)}
    <button
      type="button"
      title="Your preset: {preset.name}. Right-click to replace or delete it."
      aria-label="Your preset {preset.name}"
      class="{box} border-teal/60"
      onclick={() => onpick(preset.data, preset.name)}
      oncontextmenu={(e) => menu(e, preset)}
      onkeydown={(e) => {
        if (e.key === 'ContextMenu' || e.key === 'Delete') menu(e, preset)
      }}
    >
      <svg width={S} height={S} aria-hidden="true">
        {#if kind === 'curve'}<path
            d={curvePath(preset.data.keys as Key[], S, S, 0, 1, 5)}
            fill="none"
            stroke="var(--color-paper)"
            stroke-width="1.2"
          />
        {:else}
          {@const stops = preset.data.stops as Stop[]}
          <defs
            ><linearGradient id="preset-{preset.id}"
              >{#each stops as stop}<stop offset={stop.x} stop-color={css(stop.colour)} />{/each}</linearGradient
            ></defs
          >
          <rect width={S} height={S} fill="url(#preset-{preset.id})" />
        {/if}
      </svg>
    </button>
  {/each}
  {#if naming}
    <!-- svelte-ignore a11y_autofocus -->
    <input
      bind:value={name}
      autofocus
      maxlength="40"
      aria-label="Name of the preset"
      placeholder="name"
      onblur={keep}
      onkeydown={(e) => {
        if (e.key === 'Enter') keep()
        if (e.key === 'Escape') naming = false
      }}
      class="h-[26px] w-24 rounded border border-teal bg-ink px-1.5 py-0 text-[12px] text-paper focus:ring-0"
    />
  {:else}
    <button
      type="button"
      class="{box} flex items-center justify-center text-quiet hover:text-paper"
      aria-label="Keep this {kind} as a preset"
      title="Keep this {kind} as a preset of yours"
      onclick={() => {
        name = ''
        naming = true
      }}><Plus size={13} /></button
    >
  {/if}
</span>
