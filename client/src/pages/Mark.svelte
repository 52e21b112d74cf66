<script lang="ts"></script>

<!-- Three flames of warm air. -->
<svg
  width="24"
  height="20"
  fill="none"
  stroke="var(--color-vermilion)"
  stroke-width="1.8"
  stroke-linecap="round"
  aria-hidden="true"><path d="M3 15c2-3-2-6 1-10M10 17c3-4-3-8 1-13M18 15c2-3-2-6 1-10" /></svg
>
