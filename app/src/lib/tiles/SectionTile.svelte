<script lang="ts">
  import SectionDrawing from '$lib/drawing/SectionDrawing.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Tile from './Tile.svelte';

  const RAYS = 5;
  const desk = useDesk();
  const query = desk.live.query(() =>
    desk.lens ? { kind: 'section', lens: desk.lens.id, raysPerField: RAYS } : null,
  );
</script>

<Tile title="Section" about="{RAYS} rays a field, primary wavelength · mm" testid="section-tile">
  {#if query.answer?.ok}
    <SectionDrawing section={query.answer.value} />
  {:else if query.answer}
    <p>✕ {query.answer.reason}</p>
  {/if}
</Tile>
