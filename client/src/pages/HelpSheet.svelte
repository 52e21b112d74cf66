<script lang="ts">
  import Panel from '../controls/Panel.svelte'

  let { open = $bindable() }: { open: boolean } = $props()
  const KEYS: [string, [string, string][]][] = [
    ['Anywhere', [['Space', 'play, pause'], [', .', 'one frame back, on'], ['L', 'loop'], ['Ctrl Z, Ctrl Shift Z', 'undo, redo'], ['E', 'export'], ['?', 'this sheet']]],
    ['A number', [['drag sideways', 'change it; Shift is finer'], ['click, Enter', 'type it; 1/3, 12f and 0.5s are understood'], ['↑ ↓', 'step'], ['Delete', 'back to its default']]],
    ['A chip', [['Enter', 'open it below'], ['M', 'mute'], ['Alt ← →', 'earlier, later in its row'], ['Delete', 'remove']]],
    ['A curve', [['double-click, Enter', 'add a key'], ['arrows', 'move the key; Shift is finer'], ['1 2 3', 'linear, smooth, hold from this key on'], ['Delete', 'remove the key']]],
    ['The stage', [['drag', 'look around'], ['wheel', 'nearer, further'], ['right drag', 'shift the view']]],
  ]
</script>

<Panel bind:open title="Keys and gestures" size="md">
  <div class="grid grid-cols-2 gap-x-8 gap-y-4">
    {#each KEYS as [part, list]}
      <section>
        <h4 class="mb-1 text-quiet">{part}</h4>
        {#each list as [key, what]}
          <div class="flex gap-3 py-0.5"><span class="mono w-36 shrink-0">{key}</span><span>{what}</span></div>
        {/each}
      </section>
    {/each}
  </div>
</Panel>
