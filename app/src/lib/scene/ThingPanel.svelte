<script lang="ts">
  import type { Scene, SceneView } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import DetectorPanel from './DetectorPanel.svelte';
  import ManyPanel from './ManyPanel.svelte';
  import PartPanel from './PartPanel.svelte';
  import SourcePanel from './SourcePanel.svelte';

  interface Props {
    scene: Scene;
    view: SceneView | null;
  }
  let { scene, view }: Props = $props();
  const desk = useDesk();
  const thing = $derived(desk.thing);
  const part = $derived(thing?.kind === 'parts' ? scene.parts.find(({ id }) => id === thing.id) : undefined);
  const source = $derived(thing?.kind === 'sources' ? scene.sources.find(({ id }) => id === thing.id) : undefined);
  const detector = $derived(
    thing?.kind === 'detectors' ? scene.detectors.find(({ id }) => id === thing.id) : undefined,
  );
  const many = $derived(
    part && thing?.also ? scene.parts.filter(({ id }) => id === part.id || thing.also!.includes(id)) : [],
  );
  const findings = $derived((view?.findings ?? []).filter(({ where }) => where === thing?.id));
</script>

<section aria-label="The chosen thing" data-testid="thing-panel">
  {#if many.length > 1}<ManyPanel {scene} parts={many} />
  {:else if part}<PartPanel {scene} {part} {view} />
  {:else if source}<SourcePanel {scene} {source} {view} />
  {:else if detector}<DetectorPanel {scene} {detector} {view} />
  {:else}<p class="none">Choose a part, source or detector in the list, or a face in the drawing.</p>{/if}
  {#each findings as { severity, text } (text)}
    <p class={severity}>{severity === 'error' ? '✕' : '!'} {text}</p>
  {/each}
</section>

<style>
  section {
    display: flex;
    flex: 0 1 auto;
    flex-direction: column;
    gap: 6px;
    min-height: 30px;
    max-height: 46%;
    padding-top: 4px;
    overflow: hidden;
  }

  .none {
    color: var(--muted);
  }

  .error {
    color: var(--bad);
  }

  .warning {
    color: var(--warn);
  }
</style>
