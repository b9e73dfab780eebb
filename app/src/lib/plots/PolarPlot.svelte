<script lang="ts">
  import type { SceneModelPart } from '@ulvex/core';
  import { plain, significant } from '$lib/format.ts';
  import { valueAtPlace, type Cell, type Scale } from './light-map.ts';
  import { polarCuts } from './polar-plot.ts';

  interface Props {
    name: string;
    values: Float64Array;
    columns: number;
    rows: number;
    range: SceneModelPart['range'];
    scale: Scale;
    density: string;
    /** The cell that both cuts go through. */
    at: Cell;
    height: number;
  }
  let { name, values, columns, rows, range, scale, density, at, height }: Props = $props();
  const radius = $derived(Math.max(40, height / 2 - 24));
  const cuts = $derived(polarCuts(values, columns, rows, range, scale, at, radius));
  const widest = $derived(Math.max(range.x[1], range.y[1]));
  const spokes = $derived(
    [0, 30, 60, 90, 120, 150, 180]
      .filter((angle) => angle <= Math.max(30, widest + 1))
      .flatMap((angle) => (angle === 0 || angle === 180 ? [angle] : [angle, -angle])),
  );
  const half = $derived(widest <= 91);
  const top = $derived(-radius - 18);
  const tall = $derived(half ? radius + 44 : 2 * radius + 40);
  const angleOf = (cell: number, count: number, [from, to]: readonly [number, number]) =>
    from + ((cell + 0.5) / count) * (to - from);
</script>

<svg
  width={2 * radius + 200}
  height={tall}
  viewBox="{-radius - 30} {top} {2 * radius + 200} {tall}"
  role="img"
  aria-label="Intensity of {name} by angle"
  data-testid="polar-plot"
>
  {#each [0.25, 0.5, 0.75, 1] as share (share)}
    <circle class="grid" r={share * radius} />
  {/each}
  {#each spokes as angle (angle)}
    {@const turn = (angle * Math.PI) / 180}
    <path class="grid" d="M0 0L{radius * Math.sin(turn)} {-radius * Math.cos(turn)}" />
    <text x={(radius + 13) * Math.sin(turn)} y={-(radius + 11) * Math.cos(turn) + 4}>{angle}°</text>
  {/each}
  {#each cuts as { title, path } (title)}<path class="cut {title}" d={path} />{/each}
  <g transform="translate({radius + 32} {top + 26})">
    <path class="cut azimuth" d="M0 0h18" /><text class="start" x="0" y="14"
      >at elevation {plain(angleOf(at.row, rows, range.y), 3)}°</text
    >
    <path class="cut elevation" d="M0 30h18" /><text class="start" x="0" y="44"
      >at azimuth {plain(angleOf(at.column, columns, range.x), 3)}°</text
    >
    <text class="start" x="0" y="64">outer ring {significant(scale.high, 3)} {density}</text>
    <text class="start" x="0" y="78">half-way ring {significant(valueAtPlace(scale, 0.5), 3)}</text>
  </g>
</svg>

<style>
  svg {
    flex-shrink: 0;
  }

  .grid {
    fill: none;
    stroke: var(--line);
  }

  .cut {
    fill: none;
    stroke: var(--accent);
    stroke-width: 1.4;
  }

  .elevation {
    stroke: var(--ink);
    stroke-dasharray: 5 3;
  }

  text {
    fill: var(--muted);
    font-size: 10.5px;
    text-anchor: middle;
  }

  .start {
    text-anchor: start;
  }
</style>
