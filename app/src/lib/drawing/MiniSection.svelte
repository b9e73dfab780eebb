<script lang="ts">
  import type { Section } from '@ulvex/core';
  import { fieldColours, glassTint } from '$lib/colours.ts';
  import { planePath, rayBundles } from '$lib/drawing/section-paths.ts';

  let { section }: { section: Section } = $props();
  const WIDTH = 150;
  const HEIGHT = 70;
  /** As large as it fits, the same scale both ways. */
  const frame = $derived.by(() => {
    const { z, y } = section.bounds;
    const scale = Math.min((WIDTH - 6) / Math.max(z[1] - z[0], 1e-6), (HEIGHT - 6) / Math.max(y[1] - y[0], 1e-6));
    const [middleZ, middleY] = [(z[0] + z[1]) / 2, (y[0] + y[1]) / 2];
    return {
      scale,
      x: (at: number) => WIDTH / 2 + scale * (at - middleZ),
      y: (at: number) => HEIGHT / 2 - scale * (at - middleY),
    };
  });
  const bundles = $derived(rayBundles(section.rays, frame));
  const colours = $derived(fieldColours(bundles.length));
</script>

<svg viewBox="0 0 {WIDTH} {HEIGHT}" aria-hidden="true">
  {#each section.elements as element (element.front)}
    <path class="glass" d="{planePath(element.outline, frame)}Z" style:fill={glassTint(element.abbe)} />
  {/each}
  {#each bundles as { field, d }, i (field)}<path class="ray" {d} style:stroke={colours[i]} />{/each}
</svg>

<style>
  svg {
    display: block;
    width: 100%;
    height: 100%;
  }

  .glass {
    stroke: var(--glass-edge);
    stroke-width: 0.7;
  }

  .ray {
    fill: none;
    stroke-width: 0.5;
  }
</style>
