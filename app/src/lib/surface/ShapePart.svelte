<script lang="ts">
  import {
    MAX_TABLE_TEXT,
    phaseDefinition,
    PHASES,
    setPhaseKind,
    setSagGrid,
    setShapeKind,
    shapeDefinition,
    SHAPES,
    type Lens,
    type Phase,
    type ShapeKind,
    type Surface,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import { takeFile } from '$lib/files/take-file.ts';
  import { plain } from '$lib/format.ts';
  import Numbers from './Numbers.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
  }
  let { lens, surface, title }: Props = $props();
  const desk = useDesk();
  const definition = $derived(shapeDefinition(surface.shape.kind));
  let picker = $state<FilePicker>(null!);

  /** Reads a list of points in a worker and lays it on the surface. */
  const takePoints = (file: File) =>
    takeFile(desk, file, {
      most: MAX_TABLE_TEXT,
      what: 'a list of points',
      read: async () => desk.pool.run('sagGrid', await file.text()).result,
      use: (grid) => desk.perform(setSagGrid(lens, surface.id, grid)),
    });
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
{#if surface.shape.kind === 'sampled_sag'}
  {@const { grid } = surface.shape}
  <p class="phase">
    <Button small onclick={() => picker.open()}>take points…</Button>
    <FilePicker
      bind:this={picker}
      label="List of points x, y, z of {title}"
      accept=".txt,.csv,.xyz,.dat"
      testid="sag-file"
      onfile={(file) => void takePoints(file)}
    />
    <span data-testid="sag-grid"
      >{grid
        ? `${grid.columns} × ${grid.z.length / grid.columns} points, steps ${plain(grid.dx, 6)} × ${plain(grid.dy, 6)} mm`
        : 'No grid yet: a list of x, y, z in mm, a line each, on equal steps.'}</span
    >
  </p>
{/if}
<p class="phase">
  <label
    >diffracts <select
      aria-label="What diffracts on {title}"
      data-testid="phase-kind"
      value={surface.phase?.kind ?? ''}
      onchange={(event) =>
        desk.perform(setPhaseKind(lens, surface.id, (event.currentTarget.value || null) as Phase['kind'] | null))}
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
