<script lang="ts">
  import { surfaceTitle } from '@ulvex/core';
  import Tabs from '$lib/components/Tabs.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { KEYMAP, keysText } from '$lib/keymap.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';

  interface Props {
    /** Semi-apertures in mm by surface id, automatic ones included. */
    semis: ReadonlyMap<string, { readonly semi: number }>;
  }
  let { semis }: Props = $props();
  const desk = useDesk();
  const PARTS = [
    { id: 'shape', title: 'shape' },
    { id: 'aperture', title: 'aperture' },
    { id: 'place', title: 'place' },
    { id: 'coating', title: 'coating' },
    { id: 'medium', title: 'medium after it' },
  ] as const;
  let part = $state<(typeof PARTS)[number]['id']>('shape');

  const lens = $derived(desk.lens);
  const index = $derived(lens?.surfaces.findIndex(({ id }) => id === desk.selected) ?? -1);
  const surface = $derived(lens && index >= 0 ? lens.surfaces[index] : null);
  const title = $derived(lens && index >= 0 ? surfaceTitle(lens, index) : '');
</script>

<section aria-label="The chosen surface" data-testid="surface-panel" class:open={ui.surfacePanel}>
  <header>
    <button
      class="toggle"
      aria-expanded={ui.surfacePanel}
      title="Shape, aperture, place and coating of the chosen surface ({keysText(KEYMAP.surfacePanel)})"
      onclick={() => (ui.surfacePanel = !ui.surfacePanel)}
      data-testid="surface-panel-toggle"
      ><span aria-hidden="true">{ui.surfacePanel ? '▾' : '▸'}</span> {surface ? title : 'surface'}</button
    >
    {#if ui.surfacePanel && surface}
      <span class="parts">
        <Tabs label="Parts of {title}" tabs={PARTS} chosen={part} testid="part" onchoose={(id) => (part = id)} />
      </span>
    {/if}
  </header>
  {#if ui.surfacePanel}
    <div class="body">
      {#if !lens || !surface}
        <p class="none">Choose a surface in the prescription or the drawing.</p>
      {:else}
        {#await import('./SurfacePart.svelte') then { default: SurfacePart }}
          <SurfacePart {part} {lens} {surface} {title} semi={semis.get(surface.id)?.semi ?? 5} />
        {/await}
      {/if}
    </div>
  {/if}
</section>

<style>
  section {
    flex: 0 0 auto;
    border-top: 1px solid var(--line);
  }

  .open {
    flex: 0 0 clamp(150px, 30%, 260px);
    display: flex;
    flex-direction: column;
    min-height: 0;
  }

  header {
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 5px 0;
  }

  header button {
    padding: 0 6px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
  }

  .toggle {
    font-weight: 600;
  }

  .parts {
    margin-left: auto;
  }

  .body {
    overflow: auto;
    min-height: 0;
    padding: 2px 2px 6px;
  }

  .body :global(select) {
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  .none {
    color: var(--muted);
  }
</style>
