<!-- Two quiet checks: who appears or is gone from one frame to the next, and who lives on while nobody sees it; each with its remedy. -->
<script lang="ts">
  import { withUnit } from '../controls/numbers'
  import { useDesk } from '../effect/context'
  import { addTo } from '../effect/edits'
  import type { Pops } from '../wire/packets'
  import type { AddSpec, Row } from '../wire/types'
  import PlainRow from './PlainRow.svelte'

  let { adds }: { adds: readonly AddSpec[] } = $props()
  const { draft, player } = useDesk()
  const found = $derived(player.passing(draft.emitter.uid))
  const pops = $derived(
    found
      ? [
          { what: 'appear', field: 'first' as const, fix: 'fade in', ...found.appears },
          { what: 'are gone', field: 'last' as const, fix: 'fade out', ...found.goes },
          { what: 'are cut short', field: null, fix: '', ...found.cut },
        ].filter((each) => each.count > 0)
      : [],
  )
  const quiet = $derived(!!found && !pops.length && found.after < 0.01)
  const PERCENT = { symbol: '%', scale: 100, digits: 0 }

  /** Let them come or go over a share of their lives: what comes in and out is added where it is not there yet. */
  function fade(field: 'first' | 'last', fix: string): void {
    const there = draft.emitter.passing
    const row = (base: number): Row => ({ base, responses: [] }) as unknown as Row
    const share = found!.share
    if (there) {
      draft.edit(fix[0].toUpperCase() + fix.slice(1), draft.inEmitter(['passing']), {
        ...there,
        [field]: row(share),
        fades: row(1),
      })
      return
    }
    const spec = adds.find((each) => each.path.join('.') === 'passing')
    if (spec) addTo(draft, { ...spec, label: fix }, { first: row(0), last: row(0), [field]: row(share) })
  }
  function endThem(): void {
    const spec = adds.find((each) => each.path.join('.') === 'unseen')
    if (spec) addTo(draft, spec)
  }
  const ofAll = (each: Pops) => `${each.count.toLocaleString('en')} of ${each.of.toLocaleString('en')}`
</script>

{#if found}
  <PlainRow
    label="In full sight"
    help="Who is more than a quarter as large and opaque as it ever is in its first or last frame pops. Measured over the frames that are known."
  >
    {#if quiet}<span class="text-quiet" data-check="quiet">nobody pops, nobody lives unseen</span>
    {:else if !pops.length}<span class="text-quiet">nobody pops</span>{/if}
    {#each pops as each (each.what)}
      <span class="flex flex-wrap items-baseline gap-x-2" data-check={each.what}>
        <span class={each.field ? 'text-amber' : 'text-quiet'}>{ofAll(each)} {each.what}</span>
        {#if each.frame !== null}<button
            type="button"
            class="text-xs text-quiet underline decoration-dotted hover:text-paper"
            title="To the frame at which most of them do"
            onclick={() => player.go(each.frame!)}>frame {each.frame}</button
          >{/if}
        {#if each.field}<button
            type="button"
            class="text-xs underline decoration-dotted hover:text-paper"
            title="Over {withUnit(found.share, PERCENT)} of their lives"
            onclick={() => fade(each.field!, each.fix)}>{each.fix}</button
          >{/if}
      </span>
    {/each}
  </PlainRow>
  {#if found.after >= 0.01}
    <PlainRow
      label="Alive unseen"
      help="How many of all particles at all frames no look shows although they live and have been seen: they cost, and show nothing."
    >
      <span class="text-amber" data-check="unseen">{Math.round(found.after * 100)} % of all</span>
      {#if !draft.emitter.unseen}<button
          type="button"
          class="text-xs underline decoration-dotted hover:text-paper"
          title="End them once nobody has seen them for two frames"
          onclick={endThem}>end them</button
        >{/if}
    </PlainRow>
  {/if}
{/if}
