<!-- A part of the Desk by itself, on a made-up Desk. -->
<script lang="ts">
  import type { Component } from 'svelte'
  import { provideDesk, type Desk } from '../effect/context'

  let {
    desk,
    part: Part,
    props,
  }: {
    desk: Desk
    // eslint-disable-next-line @typescript-eslint/no-explicit-any
    part: Component<any>
    props: (desk: Desk) => Record<string, unknown> | null
  } = $props()
  // svelte-ignore state_referenced_locally
  provideDesk(desk)
  const given = $derived(props(desk))
</script>

{#if given}<Part {...given} />{/if}
