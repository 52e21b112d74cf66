<!-- Where a force acts: everywhere, or within a mask. It is a response of the force's strength, like any other. -->
<script lang="ts">
  import Choice from '../controls/Choice.svelte'
  import { useDesk } from '../effect/context'
  import type { PlacedRow } from '../effect/catalog.svelte'
  import { setResponses } from '../effect/edits'
  import { newUid } from '../effect/path'
  import type { Response } from '../wire/types'
  import PlainRow from './PlainRow.svelte'

  let {
    placed,
    label,
  }: {
    /** The row that says how strongly the force acts. */
    placed: PlacedRow
    label: string
  } = $props()
  const { draft } = useDesk()
  const masks = $derived((draft.document.props ?? []).filter((p) => p.kind === 'mask'))
  const responses = $derived((placed.row.responses ?? []) as Response[])
  const within = $derived(
    responses.find(
      (r) =>
        r.kind === 'curve' &&
        r.source.kind === 'mask' &&
        r.source.part !== 'since' &&
        (r.operation ?? 'multiply') === 'multiply',
    ),
  )
  const source = $derived(within?.source.kind === 'mask' ? within.source : undefined)

  function choose(uid: string) {
    const name = masks.find((m) => m.uid === uid)?.name
    if (!uid)
      return setResponses(
        draft,
        placed,
        responses.filter((r) => r !== within),
        `Let ${label.toLowerCase()} act everywhere`,
      )
    const made = {
      kind: 'curve',
      uid: newUid(),
      source: { kind: 'mask', mask: uid, part: source?.part ?? 'value' },
      read: 'live',
      operation: 'multiply',
      amount: 1,
      muted: false,
      input: [0, 1],
      beyond: 'hold',
      shift: 0,
      curve: {
        keys: [
          { x: 0, y: 0, shape: 'linear' },
          { x: 1, y: 1, shape: 'linear' },
        ],
      },
      exponent: 1,
      output: [0, 1],
      component: 'all',
    } as unknown as Response
    setResponses(
      draft,
      placed,
      within
        ? responses.map((r) => (r === within ? ({ ...r, source: made.source } as Response) : r))
        : [...responses, made],
      `Keep ${label.toLowerCase()} within ${name}`,
    )
  }
  function latch(part: string) {
    setResponses(
      draft,
      placed,
      responses.map((r) => (r === within ? ({ ...r, source: { ...source, part } } as Response) : r)),
      part === 'latched' ? 'Act once touched' : 'Act while within',
    )
  }
</script>

<PlainRow label="Region" help="Where the force acts. A mask multiplies how strong it is." inner>
  <Choice
    label="Region of {label}"
    value={source?.mask ?? ''}
    options={[
      { value: '', name: masks.length ? 'everywhere' : 'everywhere: there is no mask' },
      ...masks.map((m) => ({ value: m.uid, name: `within ${m.name}` })),
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
      onpick={latch}
    />
  {/if}
</PlainRow>
