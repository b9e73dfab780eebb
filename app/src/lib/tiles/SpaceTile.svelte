<script lang="ts">
  import { SvelteSet } from 'svelte/reactivity';
  import { useDesk } from '$lib/desk/context.ts';
  import Tile from './Tile.svelte';

  interface Props {
    settings: unknown;
    onsettings: (settings: { readonly rays: number }) => void;
  }
  let { settings, onsettings }: Props = $props();
  const desk = useDesk();
  /** Rays drawn of each source. */
  const count = $derived.by(() => {
    const given = (settings as { rays?: unknown } | null)?.rays;
    return typeof given === 'number' && [10, 30, 100, 300].includes(given) ? given : 30;
  });
  const drawn = desk.live.query(() => (desk.scene ? { kind: 'scene_view', scene: desk.scene.id } : null));
  const lines = desk.live.query(() => (desk.scene ? { kind: 'scene_rays', scene: desk.scene.id, rays: count } : null));
  const view = $derived(drawn.answer?.ok ? drawn.answer.value : null);
  const rays = $derived(lines.answer?.ok ? lines.answer.value : null);
  const hidden = new SvelteSet<string>();
</script>

<Tile title="The scene in space" about="{count} rays of each source" testid="space-tile" carries={drawn.revision}>
  {#if desk.scene && view}
    {#await import('$lib/drawing/SceneDrawing.svelte') then { default: SceneDrawing }}
      <div class="space">
        <SceneDrawing
          scene={desk.scene}
          {view}
          {rays}
          {hidden}
          maps={[]}
          bind:count={() => count, (next) => onsettings({ rays: next })}
        />
      </div>
    {/await}
  {:else if drawn.answer && !drawn.answer.ok}
    <p>✕ {drawn.answer.reason}</p>
  {:else if !desk.scene}
    <p>This project has no scene yet: add one in Layout.</p>
  {/if}
</Tile>

<style>
  .space {
    display: flex;
    flex-direction: column;
    height: 100%;
  }

  p {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
