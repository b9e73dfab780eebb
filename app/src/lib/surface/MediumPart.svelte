<script lang="ts">
  import { DISPERSION_TITLES, GRADIENT_SPECS, type Lens, type Surface } from '@ulvex/core';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from './Numbers.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
  }
  let { lens, surface, title }: Props = $props();
  const desk = useDesk();
  const material = $derived(desk.shown.materials.find(({ id }) => id === surface.after?.material));
  const NUMBERS = { model: ['nd', 'vd', 'deviation'], constant: ['index'] } as const;
  const kind = $derived(material?.dispersion.kind);
  const own = $derived(kind === 'model' || kind === 'constant' ? NUMBERS[kind] : []);
</script>

{#if !surface.after}
  <p>There is no medium after the image.</p>
{:else if surface.reflects}
  <p>After a mirror, light stays in the medium it came through.</p>
{:else}
  <p>
    <strong>{material?.label ?? surface.after.material}</strong>
    {material?.family ?? ''}, {kind ? DISPERSION_TITLES[kind] : 'no record'}
    {#if material && own.length > 0}
      {#each own as id (id)}
        <label
          >{id}
          <ParameterCell
            address="materials.{material.id}.{id}"
            label="{id} of {material.label}"
            testid="material-{id}"
          /></label
        >
      {/each}
    {/if}
    <a href="/shelf">Shelf</a>
  </p>
  <p>
    Its index may change inside: n² = n₀² + R₂r² + … + Z₁z + …, from the vertex in front, n₀ as the material has it.
  </p>
  <Numbers
    specs={GRADIENT_SPECS}
    address={(id) => `lenses.${lens.id}.surfaces.${surface.id}.gradient.${id}`}
    of="the medium after it {title}"
    testid="gradient"
  />
{/if}

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: center;
    margin: 0 0 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  strong {
    color: var(--ink);
  }

  label {
    display: grid;
    grid-template-columns: auto 72px;
    gap: 4px;
    align-items: center;
  }

  a {
    color: var(--accent);
  }
</style>
