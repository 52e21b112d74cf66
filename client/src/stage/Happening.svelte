<!-- Where cues happened lately to the emitter that is looked at, and where its particles touch what they meet. -->
<script lang="ts">
  import { useDesk } from '../effect/context'
  import type { StageScene } from './scene'

  let { scene, quiet }: { scene: StageScene | null; quiet: boolean } = $props()
  const { draft, player, room } = useDesk()
  $effect(() => {
    const here = quiet || !room.happenings ? [] : (player.shown?.emitters ?? [])
    scene?.happen(here.filter((emitter) => emitter.uid === draft.emitter.uid && draft.emitter.visible))
  })
</script>
