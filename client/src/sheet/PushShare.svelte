<!-- Which push does what: how much of all pushes it is, at this frame and over the clip. -->
<script lang="ts">
  import { useDesk } from '../effect/context'

  let { uid, label }: { uid: string; label: string } = $props()
  const { draft, player } = useDesk()
  const share = (pushes: Record<string, number> | undefined) => {
    if (!pushes || Object.keys(pushes).length < 2 || !(uid in pushes)) return undefined
    const all = Object.values(pushes).reduce((sum, each) => sum + each, 0)
    return all > 0 ? pushes[uid] / all : 0
  }
  const now = $derived(share(player.measure(draft.emitter.uid)?.pushes))
  const clip = $derived(share(player.profile(draft.emitter.uid)?.pushes))
  const strength = $derived(player.measure(draft.emitter.uid)?.pushes?.[uid])
  /** It keeps its room while nothing is measured yet, so that no row jumps. */
  const several = $derived((draft.emitter.forces ?? []).filter((each) => !each.muted).length > 1)
  const percent = (value: number) => (value > 0 && value < 0.01 ? '< 1 %' : `${Math.round(value * 100)} %`)
</script>

{#if several}
  <div
    class="flex items-center gap-2 px-3.5 pb-0.5 pl-6 text-[11px] text-quiet"
    title="How much of all that pushes these particles {label.toLowerCase()} is, in the mean: {strength === undefined
      ? 'nobody lives now'
      : `${Number(strength.toPrecision(3))} m/s² at this frame`}"
    data-share={uid}
  >
    <span class="relative h-[3px] w-20 overflow-hidden rounded bg-line" aria-hidden="true">
      <span class="absolute inset-y-0 left-0 bg-teal" style:width="{(now ?? 0) * 100}%"></span>
      {#if clip !== undefined}<span class="absolute inset-y-0 w-px bg-paper" style:left="{clip * 100}%"></span>{/if}
    </span>
    <span class="mono"
      >{now !== undefined
        ? `${percent(now)} of the pushing now`
        : clip !== undefined
          ? 'nobody lives now'
          : '\u00a0'}{clip === undefined ? '' : `, ${percent(clip)} over the clip`}</span
    >
    {#if clip !== undefined && clip < 0.005}<span class="text-amber">it does next to nothing</span>{/if}
  </div>
{/if}
