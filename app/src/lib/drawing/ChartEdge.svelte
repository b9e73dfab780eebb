<script lang="ts">
  import { blocks, graduations, type ChartFrame } from './chart-frame.ts';

  interface Props {
    frame: ChartFrame;
    /** Where the figures of the lower edge stand, px from the top. */
    figuresAt: number;
  }
  let { frame, figuresAt }: Props = $props();
  const EDGE = 6;
  const across = $derived(blocks(frame.z0, frame.width, frame));
  const up = $derived(blocks(frame.y0, frame.height, frame));
  const right = $derived(frame.left + frame.width);
  const bottom = $derived(frame.top + frame.height);
</script>

<g class="edge">
  {#each across as { from, to, filled } (from)}
    <rect class:filled x={frame.left + from} y={frame.top - EDGE} width={to - from} height={EDGE} />
    <rect class:filled x={frame.left + from} y={bottom} width={to - from} height={EDGE} />
  {/each}
  {#each up as { from, to, filled } (from)}
    <rect class:filled x={frame.left - EDGE} y={bottom - to} width={EDGE} height={to - from} />
    <rect class:filled x={right} y={bottom - to} width={EDGE} height={to - from} />
  {/each}
  <rect x={frame.left - EDGE} y={frame.top - EDGE} width={frame.width + 2 * EDGE} height={frame.height + 2 * EDGE} />
  <rect x={frame.left} y={frame.top} width={frame.width} height={frame.height} />
</g>
{#each graduations(frame.z0, frame.width, frame) as mark (mark)}
  {#if frame.x(mark) > frame.left + 8 && frame.x(mark) < right - 12}
    <text x={frame.x(mark)} y={figuresAt}>{String(Number(mark.toPrecision(6))).replace('-', '−')}</text>
  {/if}
{/each}

<style>
  rect {
    fill: none;
    stroke: var(--ink);
    stroke-width: 0.8px;
    pointer-events: none;
  }

  .filled {
    fill: var(--ink);
  }

  text {
    fill: var(--muted);
    font-size: var(--size-small);
    text-anchor: middle;
    pointer-events: none;
  }
</style>
