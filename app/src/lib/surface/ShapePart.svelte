<script lang="ts">
  import {
    setShapeKind,
    shapeDefinition,
    SHAPES,
    type Lens,
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

<style>
  p {
    display: flex;
    gap: 10px;
    align-items: baseline;
    margin: 0 0 6px;
  }

  span {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
