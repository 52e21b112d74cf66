<!-- Pictures of an effect over its clip, side by side in one file, moved through while the pointer or the keyboard is on them. -->
<script lang="ts">
  let {
    src,
    moving,
    pictures = 16,
    seconds,
  }: { src: string | null; moving: boolean; pictures?: number; seconds: number } = $props()
  const still = matchMedia('(prefers-reduced-motion: reduce)').matches
  let picture = $state(9)
  $effect(() => {
    if (!moving || still) return
    const timer = setInterval(
      () => (picture = (picture + 1) % pictures),
      Math.max(60, (Math.max(seconds, 0.5) * 1000) / pictures),
    )
    return () => clearInterval(timer)
  })
</script>

<div
  class="aspect-[16/9] w-full bg-[#0f1418] bg-no-repeat"
  style:background-image={src ? `url('${src}')` : undefined}
  style:background-size="{pictures * 100}% 100%"
  style:background-position="{(picture / (pictures - 1)) * 100}% 0"
></div>
