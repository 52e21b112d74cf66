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
  const idle = $derived(clip !== undefined && clip < 0.005)
  const words = $derived(
    `Of all that pushes these particles ${label.toLowerCase()} is ${now === undefined ? 'nothing now (nobody lives)' : `${percent(now)} now`}${
      strength === undefined ? '' : ` (${Number(strength.toPrecision(3))} m/s² in the mean)`
    }${clip === undefined ? '' : `, ${percent(clip)} over the clip`}.`,
  )
</script>

{#if several}
  <span
    class="relative block truncate tabular-nums pb-[3px] text-[10px] leading-[12px] {idle
      ? 'text-amber'
      : 'text-quiet'}"
    title={words}
    data-share={uid}
  >
    {idle
      ? 'does next to nothing'
      : `${now === undefined ? '–' : percent(now)}${clip === undefined ? '' : ` · clip ${percent(clip)}`}`}
    <span class="absolute right-3 bottom-0 left-0 h-[2px] overflow-hidden rounded bg-line" aria-hidden="true">
      <span class="absolute inset-y-0 left-0 bg-teal" style:width="{(now ?? 0) * 100}%"></span>
      {#if clip !== undefined}<span class="absolute inset-y-0 w-px bg-paper" style:left="{clip * 100}%"></span>{/if}
    </span>
  </span>
{/if}
