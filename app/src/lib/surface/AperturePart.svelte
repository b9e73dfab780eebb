<script lang="ts">
  import {
    addObscuration,
    APERTURE_AREAS,
    AREA_PLACE,
    areaDefinition,
    cornersText,
    OBSCURATION_AREAS,
    readCorners,
    removeObscuration,
    setApertureKind,
    type Lens,
    type Obscuration,
    type Surface,
    type SurfaceAperture,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fixed } from '$lib/format.ts';
  import Numbers from './Numbers.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
    /** Semi-aperture as it is drawn, mm. */
    semi: number;
  }
  let { lens, surface, title, semi }: Props = $props();
  const desk = useDesk();
  const at = $derived(`lenses.${lens.id}.surfaces.${surface.id}`);
  const aperture = $derived(surface.aperture);

  /** Numbers of an area with its place; those of a circle about the axis come first. */
  const specsOf = (kind: string) => [...(areaDefinition(kind)?.parameters ?? []), ...AREA_PLACE];
</script>

{#snippet corners(points: readonly (readonly [number, number])[], path: string, name: string)}
  <Cell
    label="Corners of {name}, x y; x y; … in mm"
    text={cornersText(points)}
    align="left"
    read={readCorners}
    onpreview={(value) => desk.preview([{ kind: 'set', path, value }])}
    onend={() => desk.endPreview()}
    oncommit={(value) => desk.commit([{ kind: 'set', path, value }], `Corners of ${name}`)}
  />
{/snippet}

<p>
  <select
    aria-label="Aperture of {title}"
    data-testid="aperture-area"
    value={aperture.kind}
    onchange={(event) =>
      desk.perform(setApertureKind(lens, surface.id, event.currentTarget.value as SurfaceAperture['kind'], semi))}
  >
    <option value="automatic">Automatic</option>
    {#each APERTURE_AREAS as { kind, title: name } (kind)}<option value={kind}>{name}</option>{/each}
  </select>
  <span
    >{aperture.kind === 'automatic'
      ? `computed from the rays, ${fixed(semi, 3)} mm; never clips`
      : areaDefinition(aperture.kind)?.meaning}</span
  >
</p>
{#if aperture.kind !== 'automatic'}
  {#if aperture.kind === 'polygon'}{@render corners(aperture.points, `${at}.aperture.points`, title)}{/if}
  <Numbers
    specs={specsOf(aperture.kind)}
    address={(id) => (id === 'semi' ? `${at}.semi_aperture` : `${at}.aperture.${id}`)}
    of={title}
    across={2}
    testid="area"
  />
{/if}
{#each surface.obscurations ?? [] as one (one.id)}
  <p class="covered">
    <strong>Obscuration: {areaDefinition(one.kind)?.title.toLowerCase()}</strong>
    <Button
      small
      aria-label="Take the obscuration {one.id} off {title}"
      onclick={() => desk.perform(removeObscuration(lens, surface.id, one.id))}>remove</Button
    >
  </p>
  {#if one.kind === 'polygon'}{@render corners(
      one.points,
      `${at}.obscurations.${one.id}.points`,
      `${one.id} on ${title}`,
    )}{/if}
  <Numbers
    specs={specsOf(one.kind)}
    address={(id) => `${at}.obscurations.${one.id}.${id}`}
    of="{one.id} on {title}"
    across={2}
    testid={one.id}
  />
{/each}
<select
  class="add"
  aria-label="Add an obscuration to {title}"
  data-testid="add-obscuration"
  value=""
  onchange={(event) => {
    desk.perform(addObscuration(lens, surface.id, event.currentTarget.value as Obscuration['kind'], semi));
    event.currentTarget.value = '';
  }}
>
  <option value="">+ obscuration</option>
  {#each OBSCURATION_AREAS as { kind, title: name } (kind)}<option value={kind}>{name}</option>{/each}
</select>

<style>
  p {
    display: flex;
    gap: 10px;
    align-items: baseline;
    margin: 0 0 6px;
  }

  .covered {
    margin-top: 8px;
  }

  span {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .add {
    margin-top: 8px;
  }
</style>
