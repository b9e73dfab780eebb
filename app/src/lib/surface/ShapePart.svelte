<script lang="ts">
  import {
    phaseDefinition,
    PHASES,
    setPhaseKind,
    setShapeKind,
    shapeDefinition,
    SHAPES,
    type Lens,
    type Phase,
    type ShapeKind,
    type Surface,
  } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from './Numbers.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
  }
  let { lens, surface, title }: Props = $props();
  const desk = useDesk();
  const definition = $derived(shapeDefinition(surface.shape.kind));
  const phase = $derived(surface.phase && phaseDefinition(surface.phase.kind));
</script>

<p>
  <select
    aria-label="Shape of {title}"
    data-testid="shape-kind"
    data-explain="shape:{surface.shape.kind}"
    value={surface.shape.kind}
    onchange={(event) => desk.perform(setShapeKind(lens, surface.id, event.currentTarget.value as ShapeKind))}
  >
    {#each SHAPES as { kind, title: name } (kind)}<option value={kind}>{name}</option>{/each}
  </select>
  <span>{definition?.meaning}</span>
</p>
<Numbers
  specs={definition?.parameters ?? []}
  address={(id) => `lenses.${lens.id}.surfaces.${surface.id}.${id}`}
  of={title}
  testid="shape"
/>
<p class="phase">
  <label
    >diffracts <select
      aria-label="What diffracts on {title}"
      data-testid="phase-kind"
      value={surface.phase?.kind ?? ''}
      onchange={(event) =>
        desk.perform(
          setPhaseKind(lens, surface.id, (event.currentTarget.value || null) as Phase['kind'] | null),
        )}
    >
      <option value="">not</option>
      {#each PHASES as { kind, title: name } (kind)}<option value={kind}>{name}</option>{/each}
    </select></label
  >
  <span>{phase?.meaning ?? ''}</span>
</p>
{#if phase}
  <Numbers
    specs={phase.parameters}
    address={(id) => `lenses.${lens.id}.surfaces.${surface.id}.phase.${id}`}
    of={title}
    testid="phase"
  />
{/if}

<style>
  p {
    display: flex;
    gap: 10px;
    align-items: baseline;
    margin: 0 0 6px;
  }

  .phase {
    margin-top: 8px;
  }

  label {
    color: var(--muted);
    white-space: nowrap;
  }

  span {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
