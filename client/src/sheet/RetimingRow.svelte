<!-- When an emitter's particles, or the whole effect, are shown: a curve from shown to simulated time, its keys as numbers, and ways to begin with. -->
<script lang="ts">
  import NumberField from '../controls/NumberField.svelte'
  import Segments from '../controls/Segments.svelte'
  import { withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import CurveEditor from '../response/CurveEditor.svelte'
  import type { Key, TimeKey } from '../wire/types'
  import OnceTools from './OnceTools.svelte'
  import PlainRow from './PlainRow.svelte'

  let { whole = false }: { /** Of the whole effect, not of the emitter. */ whole?: boolean } = $props()
  const { draft, player, catalog } = useDesk()
  const SECONDS = { symbol: 's', scale: 1, digits: 2 }
  const laid = $derived(whole ? undefined : catalog.part(draft.emitter, 'retiming'))
  const retiming = $derived(whole ? draft.document.retiming : draft.emitter.retiming)
  const keys = $derived<readonly TimeKey[]>(retiming?.keys ?? [])
  const muted = $derived(!!retiming?.muted)
  const name = $derived(whole ? 'the retiming of all' : 'the retiming')
  /** Seconds along the curve: the clip's, or to the last key where the clip has become shorter; the same while a hand moves a key. */
  let held = 0
  const length = $derived.by(() => {
    if (!player.dragging || !held) held = Math.max(player.length, keys.at(-1)?.at ?? 0, 0.04)
    return held
  })
  const path = (...steps: (string | number)[]) =>
    whole ? ['retiming', ...steps] : draft.inEmitter(['retiming', ...steps])
  const seen = $derived(
    whole ? player.shown?.scene : player.shown?.emitters.find((e) => e.uid === draft.emitter.uid)?.seen,
  )
  let chosen = $state(0)
  const at = $derived(Math.min(chosen, keys.length - 1))
  const key = $derived(keys[at])
  const tidy = (seconds: number) => Number(seconds.toFixed(4))
  const shares = $derived(
    keys.map(({ at, shows, shape }): Key => ({
      x: Math.min(Math.max(at / length, 0), 1),
      y: Math.min(Math.max(shows / length, -1), 2),
      shape,
    })),
  )
  const taken = (curveKeys: readonly Key[]): TimeKey[] =>
    curveKeys.map(
      (k) =>
        keys[shares.indexOf(k)] ?? {
          // only what was changed is written anew: a key that stands outside of what is drawn keeps its numbers
          at: tidy(k.x * length),
          shows: tidy(k.y * length),
          shape: k.shape === 'free' ? 'smooth' : k.shape,
        },
    )
  const set = (curveKeys: TimeKey[], label: string) => draft.edit(label, path('keys'), curveKeys)
  const [BEGINS, SHAPES] = [
    {
      'half speed in the middle': [
        [0, 0],
        [1 / 3, 1 / 3],
        [2 / 3, 1 / 2],
        [1, 5 / 6],
      ],
      'held in the middle': [
        [0, 0],
        [1 / 3, 1 / 3],
        [2 / 3, 1 / 3],
        [1, 2 / 3],
      ],
      backwards: [
        [0, 1],
        [1, 0],
      ],
    } as Record<string, number[][]>,
    ['linear', 'smooth', 'hold'] as const,
  ]
  const begin = (name: string) =>
    set(
      BEGINS[name].map(([x, y]) => ({ at: tidy(x * length), shows: tidy(y * length), shape: 'linear' as const })),
      `Retime: ${name}`,
    )
  function bound(value: number): number {
    const [before, after] = [keys[at - 1]?.at ?? -Infinity, keys[at + 1]?.at ?? Infinity]
    return Math.min(Math.max(value, before + 0.001), after - 0.001)
  }
</script>

{#if key}
  <div class={muted ? 'opacity-55' : ''} data-part={whole ? 'retiming-of-all' : 'retiming'}>
    <PlainRow
      label={whole ? 'Retiming of all' : 'Retiming'}
      help={laid?.help ?? 'Particles, props, cameras and lights at other times: slower, faster, held or backwards.'}
    >
      {#if seen !== undefined}<span class="text-quiet"
          >now shows <span class="mono text-paper">{withUnit(seen, SECONDS)}</span></span
        >{/if}
      {#each Object.keys(BEGINS) as name}<button
          type="button"
          class="text-xs text-quiet underline decoration-dotted hover:text-paper"
          onclick={() => begin(name)}>{name}</button
        >{/each}
      {#snippet out()}
        <OnceTools {name} card={laid?.card} title="Retiming" {muted} {path} />
      {/snippet}
    </PlainRow>
    {#if laid?.lacks}<p class="px-3.5 pb-1 pl-6 text-xs text-amber" role="note">{laid.lacks}</p>{/if}
    <div class="flex flex-wrap items-start gap-3 px-3.5 pb-1.5 pl-6">
      <div class="flex h-[110px] min-w-[200px] flex-1 flex-col">
        <div class="min-h-0 flex-1" data-part="time-curve">
          <CurveEditor
            keys={shares}
            chosen={at}
            distribution={undefined}
            onchoose={(i) => (chosen = i)}
            ondrag={(curveKeys) => draft.drag(path('keys'), taken(curveKeys))}
            onset={(curveKeys, words) => set(taken(curveKeys), words)}
          />
        </div>
        <span class="text-[11px] text-quiet"
          >shown time, 0 to {withUnit(length, SECONDS)}{length > player.length + player.near
            ? `; the clip ends at ${withUnit(player.length, SECONDS)}`
            : ''} · upward: what is seen of the simulation</span
        >
      </div>
      <div class="flex flex-col gap-1">
        <span class="flex items-center gap-1.5 text-quiet"
          >at <NumberField
            value={key.at}
            unit={SECONDS}
            label="Shown time of the key"
            drag={length}
            ondrag={(v) => draft.drag(path('keys', at, 'at'), tidy(bound(v)))}
            onset={(v) => draft.edit('Move a key of the retiming', path('keys', at, 'at'), tidy(bound(v)))}
          /> shows <NumberField
            value={key.shows}
            unit={SECONDS}
            label="Simulated time of the key"
            drag={length}
            ondrag={(v) => draft.drag(path('keys', at, 'shows'), tidy(v))}
            onset={(v) => draft.edit('Move a key of the retiming', path('keys', at, 'shows'), tidy(v))}
          /></span
        >
        <Segments
          label="From the key on"
          value={key.shape}
          options={SHAPES.map((shape) => ({ value: shape, label: shape }))}
          onpick={(shape) => draft.edit(`Make a key ${shape}`, path('keys', at, 'shape'), shape)}
        />
      </div>
    </div>
  </div>
{/if}
