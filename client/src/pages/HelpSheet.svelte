<script lang="ts">
  import Panel from '../controls/Panel.svelte'

  let { open = $bindable(), onfirst }: { open: boolean; onfirst: () => void } = $props()
  const KEYS: [string, [string, string][]][] = [
    [
      'Anywhere',
      [
        ['Space', 'play, pause'],
        [', .', 'one frame back, on'],
        ['L', 'loop'],
        ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
        ['E', 'export'],
        ['D', 'dials'],
        ['B, Shift B', 'two views; the stage in a window of its own'],
        ['S', 'sequence: when each emitter runs'],
        ['/', 'go to a row by its name'],
        ['1 2 3 4 5', 'sheet, loom, table, one life, props'],
        ['Esc', 'end solo, let go of a particle'],
        ['W, Shift W', 'the stage alone, the sheet alone, and back'],
        ['?', 'this sheet'],
      ],
    ],
    [
      'A number',
      [
        ['drag sideways', 'change it; Shift is finer'],
        ['click, Enter', 'type it; 1/3, 12f and 0.5s are understood'],
        ['↑ ↓', 'step'],
        ['Delete', 'back to its default'],
        ['right-click', 'make a dial of it'],
      ],
    ],
    [
      "A row's name",
      [
        ['Enter', 'its menu'],
        ['D', 'drive it: the list of sources'],
        ['M, S', 'mute, solo'],
        ['Ctrl C, Ctrl V', 'copy and paste its sentence'],
      ],
    ],
    [
      'The list of sources',
      [
        ['type', 'search'],
        ['Enter', 'drive the row with it'],
        ['Shift Enter', "take it as the row's base"],
      ],
    ],
    [
      'A chip',
      [
        ['Enter', 'open it below'],
        ['M, S', 'mute, solo'],
        ['Alt ← →', 'earlier, later in its row'],
        ['Alt ↑ ↓', 'to the row above, below'],
        ['Ctrl C X V D', 'copy, cut, paste, duplicate'],
        ['drag', 'move; with Ctrl, copy'],
        ['Delete', 'remove'],
      ],
    ],
    [
      'A curve',
      [
        ['double-click, Enter', 'add a key'],
        ['arrows', 'move the key or handle; Shift is finer'],
        ['1 2 3 4', 'linear, smooth, hold, free from this key on'],
        ['Delete', 'remove the key'],
      ],
    ],
    [
      'Lanes of a life',
      [
        ['Shift-click, Space', 'choose one key more'],
        ['drag a frame', 'choose the keys in it'],
        ['drag, arrows', 'move all that are chosen'],
      ],
    ],
    [
      'A formula',
      [
        ['Ctrl Space', 'names and functions, with their values'],
        ['Tab, Enter', 'take what is offered'],
        ['Ctrl Z', 'undo in the text'],
      ],
    ],
    [
      'The stage',
      [
        ['click', 'pick a particle'],
        ['drag', 'look around'],
        ['wheel', 'nearer, further'],
        ['right drag', 'shift the view'],
        ['drag with the brush', 'reshape the chosen mesh'],
        ['Alt click', 'let the chosen prop follow that place; with Shift, that point'],
      ],
    ],
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
  <p class="mt-4 text-quiet">
    New here? <button type="button" class="text-paper underline decoration-dotted" onclick={onfirst}
      >A first effect in six steps</button
    >, made by your own hand.
  </p>
</Panel>
