<!-- A lock between two sides: closed, changing one changes the other in proportion. -->
<script lang="ts">
  import Lock from '@lucide/svelte/icons/lock'
  import LockOpen from '@lucide/svelte/icons/lock-open'
  import { shape } from './keepshape.svelte'
</script>

<button
  type="button"
  class="self-center rounded p-0.5 {shape.kept ? 'text-paper' : 'text-quiet'} hover:text-paper"
  aria-pressed={shape.kept}
  aria-label="Keep the shape"
  title={shape.kept
    ? 'Width and height change together: click to change each alone'
    : 'Click to change width and height together'}
  onclick={() => (shape.kept = !shape.kept)}
  >{#if shape.kept}<Lock size={12} />{:else}<LockOpen size={12} />{/if}</button
>
