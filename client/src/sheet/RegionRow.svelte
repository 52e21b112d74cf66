<!-- Where a force acts: everywhere, or within a mask. It is a response of the force's strength, like any other. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { setResponses } from '../effect/edits'
  import { withUids } from '../effect/path'
  import type { RegionSpec, Response } from '../wire/types'
  import PlainRow from './PlainRow.svelte'

  let {
    placed,
    region,
    label,
  }: {
    /** The row that says how strongly the force acts. */
    placed: PlacedRow
    region: RegionSpec
    label: string
  } = $props()
  const { draft } = useDesk()
  const responses = $derived((placed.row.responses ?? []) as Response[])
  const within = $derived(responses.find((r) => r.uid === region.response))
  const source = $derived(within?.source as { mask: string; part?: string } | undefined)
  const put = (change: object, words: string) =>
    setResponses(
      draft,
      placed,
      responses.map((r) => (r === within ? ({ ...r, source: { ...r.source, ...change } } as Response) : r)),
      words,
    )

  function choose(mask: string) {
    const act = label.toLowerCase()
    const rest = responses.filter((r) => r !== within)
    if (!mask) return setResponses(draft, placed, rest, `Let ${act} act everywhere`)
    const words = `Keep ${act} within ${region.masks.find((m) => m.value === mask)?.label}`
    if (within) return put({ mask }, words)
    const response = withUids(structuredClone($state.snapshot(region.made))) as unknown as Response
    setResponses(
      draft,
      placed,
      [...responses, { ...response, source: { ...response.source, mask } } as Response],
      words,
    )
  }
</script>

<PlainRow label="Region" help="Where the force acts. A mask multiplies how strong it is." inner>
  <Choice
    label="Region of {label}"
    value={source?.mask ?? ''}
    options={[
      { value: '', name: region.masks.length ? 'everywhere' : 'everywhere: there is no mask' },
      ...region.masks.map((m) => ({ value: String(m.value), name: `within ${m.label}` })),
    ]}
    onpick={choose}
  />
  {#if source}
    <Choice
      label="When {label} acts"
      value={source.part ?? 'value'}
      options={[
        { value: 'value', name: 'while within' },
        { value: 'latched', name: 'once touched' },
      ]}
      onpick={(part) => put({ part }, part === 'latched' ? 'Act once touched' : 'Act while within')}
    />
  {/if}
</PlainRow>
