<!-- What is done with time after the simulation; loaded when an effect has some of it. -->
<script lang="ts">
  import LoopRow from './LoopRow.svelte'
  import RetimingRow from './RetimingRow.svelte'

  let { what, whole = false }: { what: string; whole?: boolean } = $props()
</script>

{#if what === 'loop'}<LoopRow {whole} />{:else}<RetimingRow {whole} />{/if}
