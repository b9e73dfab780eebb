<script lang="ts">
  import type { Section } from '@ulvex/core';
  import { fieldColours, glassTint } from '$lib/colours.ts';
  import { graduations, fitFrame } from '$lib/drawing/chart-frame.ts';
  import ChartEdge from '$lib/drawing/ChartEdge.svelte';
  import { planePath, rayBundles } from '$lib/drawing/section-paths.ts';

  interface Props {
    section: Section;
    label: string;
  }
  let { section, label }: Props = $props();
  let width = $state(0);
  let height = $state(0);
  const frame = $derived(fitFrame(section.bounds, width, height));
  const bundles = $derived(rayBundles(section.rays, frame));
  const colours = $derived(fieldColours(bundles.length));
</script>

<div bind:clientWidth={width} bind:clientHeight={height}>
  {#if width > 0 && height > 0}
    <svg {width} {height} role="img" aria-label={label} data-testid="form-sketch">
      <g class="grid">
        {#each graduations(frame.z0, frame.width, frame) as mark (mark)}
          <line x1={frame.x(mark)} x2={frame.x(mark)} y1={frame.top} y2={frame.top + frame.height} />
        {/each}
      </g>
      {#each section.elements as element (element.front)}
        <path class="glass" d="{planePath(element.outline, frame)}Z" style:fill={glassTint(element.abbe)} />
      {/each}
      {#each bundles as { field, d }, i (field)}<path class="ray" {d} style:stroke={colours[i]} />{/each}
      {#each section.surfaces as surface (surface.id)}
        <path class="surface" d={surface.pieces.map((piece) => planePath(piece, frame)).join('')} />
      {/each}
      <ChartEdge {frame} figuresAt={height - 4} />
    </svg>
  {/if}
</div>

<style>
  div {
    width: 100%;
    height: 100%;
    overflow: hidden;
    background: var(--card);
  }

  svg {
    display: block;
  }

  .grid line {
    stroke: var(--grid);
  }

  .glass {
    stroke: var(--glass-edge);
  }

  .ray {
    fill: none;
    stroke-width: 1;
  }

  .surface {
    fill: none;
    stroke: var(--glass-edge);
    stroke-width: 1.3;
  }
</style>
