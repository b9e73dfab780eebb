<script lang="ts">
  import { plain, significant } from '$lib/format.ts';
  import { token } from '$lib/theme.svelte.ts';
  import Chart from '$lib/tiles/Chart.svelte';
  import type { EChartsOption } from '$lib/tiles/echarts.ts';
  import { correlation, type TrialPoint } from './scatter.ts';

  interface Named {
    readonly title: string;
    readonly unit: string;
  }
  interface Props {
    points: readonly TrialPoint[];
    across: Named;
    up: Named & { readonly min?: number; readonly max?: number };
    /** The trial that is looked at. */
    opened: number | null;
    /** A trial was chosen. */
    onpick: (trial: number) => void;
  }
  let { points, across, up, opened, onpick }: Props = $props();
  let chart = $state<Chart | null>(null);
  const r = $derived(correlation(points));
  const named = ({ title, unit }: Named) => `${title}${unit && `, ${unit}`}`;

  /** The picture on its own; null before it is drawn. */
  export function svg(): string | null {
    return chart?.svg() ?? null;
  }

  function option(): EChartsOption {
    const [ink, muted, grid] = [token('--ink'), token('--muted'), token('--grid')];
    const axis = (name: string, nameGap: number) => ({
      type: 'value' as const,
      scale: true,
      name,
      nameLocation: 'middle' as const,
      nameGap,
      nameTextStyle: { color: ink, fontSize: 11 },
      axisLabel: {
        color: muted,
        fontSize: 11,
        hideOverlap: true,
        formatter: (value: number) => plain(value, 4).replace('-', '−'),
      },
      axisLine: { show: true, onZero: false, lineStyle: { color: ink } },
      splitLine: { lineStyle: { color: grid } },
    });
    const cloud = (which: (point: TrialPoint) => boolean, symbol: string, colour: string, symbolSize: number) => ({
      type: 'scatter' as const,
      symbol,
      symbolSize,
      itemStyle: { color: colour, opacity: 0.75 },
      data: points.filter(which).map(({ trial, x, y }) => ({ name: String(trial), value: [x, y] })),
    });
    const xs = points.map(({ x }) => x);
    const level = (limit: number | undefined) =>
      limit === undefined
        ? []
        : [
            {
              type: 'line' as const,
              symbol: 'none',
              silent: true,
              lineStyle: { color: token('--accent'), width: 1.6 },
              data: [
                [Math.min(...xs), limit],
                [Math.max(...xs), limit],
              ],
            },
          ];
    return {
      animation: false,
      grid: { left: 58, right: 14, top: 10, bottom: 38 },
      tooltip: {
        trigger: 'item',
        confine: true,
        formatter: (item: unknown) => {
          const { name, value } = item as { name: string; value: readonly number[] };
          return `Trial ${name}<br>${significant(value[0], 4)} · ${significant(value[1], 4)}`;
        },
      },
      xAxis: axis(named(across), 24),
      yAxis: axis(named(up), 44),
      series: [
        cloud(({ passes, trial }) => passes && trial !== opened, 'circle', token('--glass-edge'), 4),
        cloud(({ passes, trial }) => !passes && trial !== opened, 'triangle', token('--bad'), 6),
        cloud(({ trial }) => trial === opened, 'diamond', token('--accent'), 12),
        ...level(up.min),
        ...level(up.max),
      ],
    };
  }
</script>

<div class="cloud" data-testid="scatter" data-r={r}>
  <Chart
    bind:this={chart}
    label="{named(up)} against {named(across)}, {points.length} trials{r === null
      ? ''
      : `, correlation ${significant(r, 2)}`}"
    {option}
    onpick={(name) => onpick(Number(name))}
  />
</div>
<p class="muted">
  ● keeps every requirement · ▲ does not ·
  {#if r !== null}correlation {significant(r, 2)} ·{/if} click a trial to open it
</p>

<style>
  .cloud {
    flex: 1;
    min-height: 150px;
  }

  p {
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
