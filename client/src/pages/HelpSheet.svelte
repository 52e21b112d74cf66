<script lang="ts">
  import Segments from '../controls/Segments.svelte'
  import { ground } from '../controls/theme.svelte'
  import Panel from '../controls/Panel.svelte'
  import { keyName, keyWords, type Command, type Commands } from '../effect/commands.svelte'

  let { open = $bindable(), commands, onfirst }: { open: boolean; commands: Commands; onfirst: () => void } = $props()
  /** The command that the next key is for. */
  let changing = $state('')
  let notice = $state('')
  function take(event: KeyboardEvent, command: Command) {
    if (changing !== command.id) return
    event.preventDefault()
    event.stopPropagation()
    if (event.key === 'Escape') return void (changing = '')
    const key = event.key === 'Delete' || event.key === 'Backspace' ? '' : keyName(event)
    if (key === '' && event.key.length > 1 && !['Delete', 'Backspace'].includes(event.key)) return
    const lost = commands.change(command, key)
    notice = lost ? `${keyWords(key)} was for: ${lost}. That has no key now.` : ''
    changing = ''
  }
  const KEYS: [string, [string, string][]][] = [
    [
      'A number',
      [
        ['drag sideways', 'change it; Shift finer, Ctrl coarser, Esc gives up'],
        ['click, Enter', 'type it; 1/3, 12f, 500ms, 3cm and 1,5 are understood'],
        ['+= −= * /', 'typed first, change what is there: += 0.1, *1.1'],
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
        ['drag', 'look around what is under the pointer; Ctrl by 5°'],
        ['arrows', 'walk and turn; Alt ← → aside, PgUp PgDn rise, Shift small'],
        ['Ctrl with a handle', 'by tenths of a metre, by 5°'],
        ['wheel', 'nearer, further'],
        ['right drag', 'shift the view'],
        ['drag with the brush', 'reshape the chosen mesh'],
        ['Alt click', 'let the chosen prop follow that place; with Shift, that point'],
      ],
    ],
  ]
</script>

<Panel bind:open title="Keys and gestures" size="lg">
  <div class="grid grid-cols-2 gap-x-8 gap-y-4 max-[700px]:grid-cols-1">
    <section>
      <h4 class="mb-1 text-quiet">Anywhere; click a key to choose another</h4>
      {#each commands.list as command (command.id)}
        <div class="flex gap-3 py-0.5">
          <button
            type="button"
            class="mono w-28 shrink-0 rounded px-1 text-left hover:bg-raised {changing === command.id
              ? 'bg-raised text-vermilion'
              : commands.isChanged(command)
                ? 'text-teal'
                : ''}"
            aria-label="Key of {command.label}: {keyWords(commands.keyOf(command)) || 'none'}"
            title="Choose another key; Delete takes it away"
            onclick={() => (changing = command.id)}
            onblur={() => (changing = '')}
            onkeydown={(e) => take(e, command)}
            >{changing === command.id ? 'press a key' : keyWords(commands.keyOf(command)) || '·'}</button
          ><span>{command.label}</span>
        </div>
      {/each}
      <div class="flex gap-3 py-0.5">
        <span class="mono w-28 shrink-0 px-1">Esc</span><span>end solo, let go, all panes again</span>
      </div>
      {#if notice}<p class="mt-1 text-xs text-amber" role="status">{notice}</p>{/if}
      {#if commands.anyChanged}<button
          type="button"
          class="mt-1 text-xs text-quiet underline decoration-dotted hover:text-paper"
          onclick={() => commands.reset()}>All keys as at first</button
        >{/if}
    </section>
    <div class="flex flex-col gap-4">
      {#each KEYS as [part, list]}
        <section>
          <h4 class="mb-1 text-quiet">{part}</h4>
          {#each list as [key, what]}
            <div class="flex gap-3 py-0.5"><span class="mono w-28 shrink-0">{key}</span><span>{what}</span></div>
          {/each}
        </section>
      {/each}
    </div>
  </div>
  <div class="mt-4 flex items-center gap-3">
    <span class="text-quiet">Ground</span><Segments
      label="Ground of the application"
      value={ground.wish}
      options={[
        { value: 'night', label: 'night' },
        { value: 'day', label: 'day' },
        { value: 'system', label: 'as the system' },
      ]}
      onpick={(wish) => ground.choose(wish)}
    />
  </div>
  <p class="mt-4 text-quiet">
    <a href="/docs" target="_blank" class="text-paper underline decoration-dotted">All pages of the handbook</a>, to
    read and search. A card with a moving picture opens by ? on a row’s name. New here?
    <button type="button" class="text-paper underline decoration-dotted" onclick={onfirst}
      >A first effect in six steps</button
    >, made by your own hand.
  </p>
</Panel>
