<script lang="ts">
  import { significant } from '$lib/format.ts';

  interface Props {
    /** Merit against evaluations. */
    line: readonly (readonly [evaluations: number, merit: number])[];
  }
  let { line }: Props = $props();
  let width = $state(0);
  const HEIGHT = 92;
  const [LEFT, RIGHT, TOP, BOTTOM] = [46, 8, 8, 18];
  const log = (value: number) => Math.log10(Math.max(value, 1e-9));
  const most = $derived(Math.max(10, line.at(-1)?.[0] ?? 10));
  const span = $derived.by(() => {
    const merits = line.map(([, merit]) => log(merit));
    const [low, high] = [Math.min(...merits), Math.max(...merits)];
    return high - low < 0.05 ? [low - 0.05, high + 0.05] : [low, high];
  });
  const x = (evaluations: number) => LEFT + ((width - LEFT - RIGHT) * evaluations) / most;
  const y = (merit: number) => TOP + ((HEIGHT - TOP - BOTTOM) * (span[1] - log(merit))) / (span[1] - span[0]);
  const points = $derived(line.map(([evaluations, merit]) => `${x(evaluations)},${y(merit)}`).join(' '));
</script>

<div bind:clientWidth={width}>
  {#if line.length > 0 && width > 0}
    <svg
      {width}
      height={HEIGHT}
      role="img"
      aria-label="Merit against evaluations: from {significant(line[0][1], 4)} to {significant(line.at(-1)![1], 4)}"
      data-testid="merit-line"
      data-points={line.length}
    >
      {#each [span[1], span[0]] as end, k (k)}
        <line class="grid" x1={LEFT} x2={width - RIGHT} y1={y(10 ** end)} y2={y(10 ** end)} />
        <text class="left" x={LEFT - 5} y={y(10 ** end) + 4}>{significant(10 ** end, 3)}</text>
      {/each}
      <!-- The sounding line: what lies under it has been left behind. -->
      <polygon points="{LEFT},{TOP} {points} {x(line.at(-1)![0])},{TOP}" />
      <polyline {points} />
      <text x={LEFT} y={HEIGHT - 4}>0</text>
      <text class="left" x={width - RIGHT} y={HEIGHT - 4}>{most} evaluations</text>
    </svg>
  {/if}
</div>

<style>
  div {
    min-height: 92px;
  }

  svg {
    display: block;
  }

  polygon {
    fill: var(--glass-3);
    opacity: 0.6;
  }

  polyline {
    fill: none;
    stroke: var(--accent);
    stroke-width: 1.6;
  }

  .grid {
    stroke: var(--grid);
  }

  text {
    fill: var(--muted);
    font-size: 11px;
  }

  .left {
    text-anchor: end;
  }
</style>
