<script lang="ts">
  import type { Lens, Surface } from '@ulvex/core';
  import AperturePart from './AperturePart.svelte';
  import CoatingPart from './CoatingPart.svelte';
  import MediumPart from './MediumPart.svelte';
  import PlacePart from './PlacePart.svelte';
  import ShapePart from './ShapePart.svelte';

  interface Props {
    part: 'shape' | 'aperture' | 'place' | 'coating' | 'medium';
    lens: Lens;
    surface: Surface;
    title: string;
    /** Semi-aperture as it is drawn, mm. */
    semi: number;
  }
  let { part, lens, surface, title, semi }: Props = $props();
</script>

{#if part === 'shape'}
  <ShapePart {lens} {surface} {title} />
{:else if part === 'aperture'}
  <AperturePart {lens} {surface} {title} {semi} />
{:else if part === 'coating'}
  <CoatingPart {lens} {surface} {title} />
{:else if part === 'medium'}
  <MediumPart {lens} {surface} {title} />
{:else}
  <PlacePart {lens} {surface} {title} />
{/if}
