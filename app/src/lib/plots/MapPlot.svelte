<script lang="ts">
  import type { MapPanel, SceneModelPart } from '@ulvex/core';
  import { contours } from 'd3-contour';
  import { niceStep, plain, significant } from '$lib/format.ts';
  import MapScale from './MapScale.svelte';
  import { placeOn, valueAtPlace, type Cell, type Palette, type Scale } from './light-map.ts';

  interface Props {
    /** What the map is called, for those who do not see it. */
    name: string;
    values: Float64Array | null;
    columns: number;
    rows: number;
    range: SceneModelPart['range'];
    scale: Scale;
    palette: Palette;
    lines: boolean;
    /** Units of values and of places. */
    density: string;
    place: string;
    /** What goes across and up, where that is not x and y to one scale. */
    axes?: { readonly x: string; readonly y: string } | undefined;
    /** What goes across and up, where that has names of its own. */
    names?: { readonly x: string; readonly y: string } | undefined;
    /** Ellipses about the middle, by their semi-axes in units of places. */
    rings?: MapPanel['rings'];
    /** Room for all of it, px. */
    width: number;
    height: number;
    /** Whether the scale lies below, where there is more height than width. */
    below?: boolean;
    /** What is known about the cell under the cursor. */
    under: string | null;
    /** The cell under the cursor, and one that was fixed. */
    cross: Cell | null;
    fixed: Cell | null;
    canvas: HTMLCanvasElement | undefined;
  }
  let {
    name,
    values,
    columns,
    rows,
    range,
    scale,
    palette,
    lines,
    density,
    place,
    axes,
    names = { x: 'x', y: 'y' },
    rings = [],
    width,
    height,
    below = false,
    under,
    cross = $bindable(),
    fixed = $bindable(),
    canvas = $bindable(),
  }: Props = $props();

  // The map keeps its own proportions inside of the room it has.
  const box = $derived.by(() => {
    const own = (range.x[1] - range.x[0]) / (range.y[1] - range.y[0]);
    const beside = below ? 84 : 165;
    const ratio = axes ? Math.max(0.5, (width - beside) / Math.max(40, height - 76)) : Math.min(4, Math.max(0.25, own));
    const across = Math.min(Math.max(60, width - beside), Math.max(40, height - 76) * ratio);
    return { width: across, height: across / ratio };
  });
  const at = $derived(fixed ?? cross);
  const LEVELS = [0.2, 0.4, 0.6, 0.8];
  const isolines = $derived.by(() => {
    if (!lines || !values || !(scale.high > scale.low) || values.length > 40_000) return [];
    const levels = LEVELS.map((share) => valueAtPlace(scale, share));
    return contours()
      .size([columns, rows])
      .thresholds(levels)(Array.from(values))
      .map(({ coordinates }, i) => ({
        level: levels[i],
        share: LEVELS[i],
        path: coordinates
          .flat()
          .map(
            (ring) =>
              `M${ring.map(([x, y]) => `${((x / columns) * box.width).toFixed(1)} ${((1 - y / rows) * box.height).toFixed(1)}`).join('L')}Z`,
          )
          .join(''),
      }));
  });

  /** A line of cells as a path beside the map. */
  function profile(along: 'x' | 'y'): string {
    if (!values) return '';
    const row = at?.row ?? rows >> 1;
    const column = at?.column ?? columns >> 1;
    const count = along === 'x' ? columns : rows;
    let path = '';
    for (let i = 0; i < count; i++) {
      const share = placeOn(scale, values[along === 'x' ? row * columns + i : i * columns + column]);
      const step = i === 0 ? 'M' : 'L';
      const middle = (i + 0.5) / count;
      path +=
        along === 'x'
          ? `${step}${(middle * box.width).toFixed(1)} ${(-2 - 26 * share).toFixed(1)}`
          : `${step}${(box.width + 2 + 26 * share).toFixed(1)} ${((1 - middle) * box.height).toFixed(1)}`;
    }
    return path;
  }

  function ticks([from, to]: readonly [number, number]): number[] {
    const step = niceStep(to - from, 4);
    const first = Math.ceil(from / step);
    return Array.from({ length: Math.floor(to / step) - first + 1 }, (_, i) => (first + i) * step);
  }

  function cellAt(event: MouseEvent): Cell | null {
    const rect = (event.currentTarget as SVGElement).getBoundingClientRect();
    const column = Math.floor(((event.clientX - rect.left) / rect.width) * columns);
    const row = Math.floor((1 - (event.clientY - rect.top) / rect.height) * rows);
    return column >= 0 && row >= 0 && column < columns && row < rows ? { column, row } : null;
  }

  function onkeydown(event: KeyboardEvent) {
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const step = steps[event.key];
    if (event.key === 'Escape') fixed = null;
    if (!step) return;
    event.preventDefault();
    const from = fixed ?? { column: columns >> 1, row: rows >> 1 };
    const held = (value: number, count: number) => Math.min(count - 1, Math.max(0, value));
    fixed = { column: held(from.column + step[0], columns), row: held(from.row + step[1], rows) };
  }
</script>

<svg
  width={box.width + 84}
  height={box.height + 62}
  viewBox="-46 -32 {box.width + 84} {box.height + 62}"
  role="img"
  aria-label="Map of the light on {name}"
>
  <foreignObject x="0" y="0" width={box.width} height={box.height}>
    <canvas bind:this={canvas} style:width="{box.width}px" style:height="{box.height}px"></canvas>
  </foreignObject>
  {#each isolines as { path, share, level } (share)}
    <path class="iso" d={path}><title>{significant(level, 3)} {density}</title></path>
  {/each}
  {#each rings as { name: what, semi } (what)}
    <ellipse
      class="ring"
      cx={(-range.x[0] / (range.x[1] - range.x[0])) * box.width}
      cy={(range.y[1] / (range.y[1] - range.y[0])) * box.height}
      rx={(semi[0] / (range.x[1] - range.x[0])) * box.width}
      ry={(semi[1] / (range.y[1] - range.y[0])) * box.height}><title>{what}</title></ellipse
    >
  {/each}
  <rect class="edge" width={box.width} height={box.height} />
  <path class="profile" d={profile('x')} />
  <path class="profile" d={profile('y')} />
  {#if at}
    {@const cx = ((at.column + 0.5) / columns) * box.width}
    {@const cy = (1 - (at.row + 0.5) / rows) * box.height}
    <path class="cross" d="M{cx} 0V{box.height}M0 {cy}H{box.width}" />
  {/if}
  {#each ticks(range.x) as tick (tick)}
    {@const x = ((tick - range.x[0]) / (range.x[1] - range.x[0])) * box.width}
    <path class="tick" d="M{x} {box.height}v4" /><text {x} y={box.height + 15}>{plain(tick, 4)}</text>
  {/each}
  {#each ticks(range.y) as tick (tick)}
    {@const y = (1 - (tick - range.y[0]) / (range.y[1] - range.y[0])) * box.height}
    <path class="tick" d="M0 {y}h-4" /><text class="side" x="-7" y={y + 4}>{plain(tick, 4)}</text>
  {/each}
  <text x={box.width / 2} y={box.height + 28}>{axes?.x ?? `${names.x} ${place}`}</text>
  <text class="start" x="-44" y="-8">{axes?.y ?? `${names.y} ${place}`}</text>
  <rect
    class="catch"
    width={box.width}
    height={box.height}
    role="slider"
    aria-label="Cell under the cursor"
    aria-valuenow={at?.column ?? 0}
    aria-valuetext={under ?? 'none'}
    tabindex="0"
    onmousemove={(event) => (cross = cellAt(event))}
    onmouseleave={() => (cross = null)}
    onclick={(event) => (fixed = fixed ? null : cellAt(event))}
    {onkeydown}
  />
</svg>
<MapScale {scale} {palette} {density} lying={below} />

<style>
  svg {
    flex-shrink: 0;
  }

  canvas {
    display: block;
    image-rendering: pixelated;
  }

  .edge {
    fill: none;
    stroke: var(--ink);
  }

  .iso {
    fill: none;
    stroke: var(--ink);
    stroke-opacity: 0.45;
    stroke-width: 0.8;
  }

  .ring {
    fill: none;
    stroke: var(--card);
    stroke-dasharray: 4 3;
    stroke-width: 1.2;
    mix-blend-mode: difference;
  }

  .profile {
    fill: none;
    stroke: var(--accent);
  }

  .cross {
    stroke: var(--accent);
    stroke-dasharray: 3 3;
    stroke-opacity: 0.7;
  }

  .tick {
    stroke: var(--ink);
  }

  .catch {
    fill: transparent;
    cursor: crosshair;
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
