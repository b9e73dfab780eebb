<script lang="ts">
  import type { Tolerance } from '@ulvex/core';
  import { toleranceTitle } from '@ulvex/core/tolerance';
  import { glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { planePath } from '$lib/drawing/section-paths.ts';
  import { movedOutlines } from './moved-outline.ts';

  let { tolerance }: { tolerance: Tolerance | null } = $props();
  const desk = useDesk();
  const query = desk.live.query(() =>
    desk.lens ? { kind: 'section', lens: desk.lens.id, raysPerField: 0, range: 'lens' } : null,
  );
  const section = $derived(query.answer?.ok ? query.answer.value : null);
  let width = $state(0);
  const HEIGHT = 128;
  const frame = $derived.by(() => {
    if (!section || width === 0) return null;
    const { z, y } = section.bounds;
    const scale = Math.min((width - 24) / Math.max(z[1] - z[0], 1e-6), (HEIGHT - 26) / Math.max(y[1] - y[0], 1e-6));
    const [middleZ, middleY] = [(z[0] + z[1]) / 2, (y[0] + y[1]) / 2];
    return {
      x: (at: number) => width / 2 + scale * (at - middleZ),
      y: (at: number) => HEIGHT / 2 - scale * (at - middleY),
    };
  });
  const moved = $derived(
    section && desk.lens && tolerance ? movedOutlines(desk.base, desk.lens, section, tolerance) : [],
  );
  const words = $derived(
    tolerance
      ? `${toleranceTitle(desk.base, tolerance)}${moved.some(({ across }) => !across) ? ', enlarged' : ''}`
      : 'Choose a tolerance to see what it moves.',
  );
</script>

<figure bind:clientWidth={width} data-carries={query.revision}>
  {#if frame && section}
    <svg {width} height={HEIGHT} role="img" aria-label="The lens: {words}">
      {#each section.elements as element (element.front)}
        <path class="glass" d="{planePath(element.outline, frame)}Z" style:fill={glassTint(element.abbe)} />
      {/each}
      {#each section.surfaces as surface (surface.id)}
        {#if !surface.image}<path class="face" class:stop={surface.stop} d={planePath(surface.line, frame)} />{/if}
      {/each}
      {#each moved as { points, closed, across }, k (k)}
        <path class="moved" class:across class:closed d="{planePath(points, frame)}{closed ? 'Z' : ''}" />
      {/each}
    </svg>
  {/if}
  <figcaption>{words}</figcaption>
</figure>

<style>
  figure {
    margin: 0;
    padding: 4px 12px 8px;
    border-top: 1px solid var(--line);
  }

  svg {
    display: block;
  }

  path {
    fill: none;
  }

  .glass {
    stroke: var(--glass-edge);
    stroke-width: 0.7;
  }

  .face {
    stroke: var(--glass-edge);
    stroke-width: 0.8;
  }

  .stop {
    stroke: var(--ink);
    stroke-dasharray: 2 2;
  }

  .moved {
    stroke: var(--accent);
    stroke-width: 1.6;
  }

  .moved.closed {
    fill: var(--accent);
    fill-opacity: 0.1;
  }

  .across {
    stroke-dasharray: 4 3;
  }

  figcaption {
    color: var(--muted);
    font-size: var(--size-small);
    text-align: center;
  }
</style>
