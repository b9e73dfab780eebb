<script lang="ts">
  import type { Influence } from '@ulvex/core/tolerance';

  interface Props {
    influence: Influence;
    /** The limits of now, in the unit of the departures. */
    limits: { readonly lower: number; readonly upper: number };
    /** The value that all curves of the ladder have in common, and the range that they are drawn in. */
    span: readonly [number, number];
    /** Whether it was tried, not drawn by derivatives. */
    traced: boolean;
  }
  let { influence, limits, span, traced }: Props = $props();
  const [WIDTH, HEIGHT] = [70, 22];
  const reach = $derived(
    Math.max(1e-30, ...influence.at.map(Math.abs), Math.abs(limits.lower), Math.abs(limits.upper)),
  );
  const x = (at: number) => WIDTH / 2 + (at / reach) * (WIDTH / 2 - 3);
  const y = (value: number) => HEIGHT - 2 - ((value - span[0]) / (span[1] - span[0] || 1)) * (HEIGHT - 4);
  const tried = $derived(
    influence.at.flatMap((at, k) => {
      const value = influence.values[k];
      return value === null ? [] : [{ at, value }];
    }),
  );
  /** The fit between the limits, in twelve steps. */
  const curve = $derived.by(() => {
    const { fit } = influence;
    if (!fit) return '';
    const [from, to] = [Math.min(limits.lower, influence.at[0]), Math.max(limits.upper, influence.at.at(-1)!)];
    return Array.from({ length: 13 }, (_, k) => {
      const at = from + ((to - from) * k) / 12;
      return `${x(at).toFixed(1)},${y(fit.value + fit.slope * at + fit.curvature * at * at).toFixed(1)}`;
    }).join(' ');
  });
</script>

<svg viewBox="0 0 {WIDTH} {HEIGHT}" width={WIDTH} height={HEIGHT} aria-hidden="true">
  <rect x={x(limits.lower)} width={Math.max(0, x(limits.upper) - x(limits.lower))} y="0" height={HEIGHT} />
  <polyline class:derived={!traced} points={curve} />
  {#each traced ? tried : [] as { at, value } (at)}<circle cx={x(at)} cy={y(value)} r="1.4" />{/each}
</svg>

<style>
  svg {
    display: block;
    overflow: hidden;
  }

  rect {
    fill: var(--glass-1);
    opacity: 0.55;
  }

  polyline {
    fill: none;
    stroke: var(--glass-edge);
    stroke-width: 1.2;
  }

  .derived {
    stroke-dasharray: 4 2;
  }

  circle {
    fill: var(--ink);
  }
</style>
