<script lang="ts">
  import type { SceneModelPart } from '@ulvex/core';
  import { plain, significant } from '$lib/format.ts';
  import { heightLines } from './height-plot.ts';
  import { valueAtPlace, type Scale } from './light-map.ts';

  interface Props {
    name: string;
    values: Float64Array;
    columns: number;
    rows: number;
    range: SceneModelPart['range'];
    scale: Scale;
    density: string;
    place: string;
    width: number;
    height: number;
  }
  let { name, values, columns, rows, range, scale, density, place, width, height }: Props = $props();
  const frame = $derived({ width: Math.max(120, width - 120), height: Math.max(80, height - 36) });
  const lines = $derived(heightLines(values, columns, rows, scale, frame));
</script>

<svg
  width={frame.width + 110}
  height={frame.height + 34}
  viewBox="-62 -8 {frame.width + 110} {frame.height + 34}"
  role="img"
  aria-label="Heights of the light on {name}"
  data-testid="height-plot"
>
  {#each lines as { area, line }, i (i)}
    <path class="area" d={area} /><path class="line" d={line} />
  {/each}
  <path class="axis" d="M-4 {frame.height}V{frame.height * 0.42}" />
  {#each [0, 0.5, 1] as share (share)}
    {@const y = frame.height * (1 - 0.58 * share)}
    <path class="axis" d="M-4 {y}h-4" />
    <text class="side" x="-11" y={y + 4}>{significant(valueAtPlace(scale, share), 3)}</text>
  {/each}
  <text class="side" x="0" y={frame.height * 0.42 - 8}>{density}</text>
  <text x="0" y={frame.height + 14}>{plain(range.x[0], 4)}</text>
  <text x={frame.width * 0.36} y={frame.height + 22}>x {place}</text>
  <text x={frame.width * 0.72} y={frame.height + 14}>{plain(range.x[1], 4)}</text>
  <text class="start" x={frame.width * 0.72 + 8} y={frame.height}>{plain(range.y[0], 4)}</text>
  <text class="start" x={frame.width * 0.86 + 22} y={frame.height * 0.79}>y {place}</text>
  <text class="start" x={frame.width + 4} y={frame.height * 0.58 + 4}>{plain(range.y[1], 4)}</text>
</svg>

<style>
  svg {
    flex-shrink: 0;
  }

  .area {
    fill: var(--card);
  }

  .line {
    fill: none;
    stroke: var(--ink);
    stroke-width: 0.8;
  }

  .axis {
    stroke: var(--muted);
  }

  text {
    fill: var(--muted);
    font-size: 10.5px;
    text-anchor: middle;
  }

  .side {
    text-anchor: end;
  }

  .start {
    text-anchor: start;
  }
</style>
