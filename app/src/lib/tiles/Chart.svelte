<script lang="ts">
  import type { EChartsOption } from './echarts.ts';

  interface Props {
    /** The option for a chart of this size in pixels. */
    option: (width: number, height: number) => EChartsOption;
    /** What the chart shows, for those who do not see it. */
    label: string;
  }
  let { option, label }: Props = $props();
  let place: HTMLDivElement;
  let width = $state(0);
  let height = $state(0);
  // One instance is kept for the life of the tile.
  let chart = $state.raw<ReturnType<typeof import('./echarts.ts').init> | null>(null);

  $effect(() => {
    let gone = false;
    let made: typeof chart = null;
    void import('./echarts.ts').then(({ init }) => {
      if (gone) return;
      made = init(place, null, { renderer: 'svg' });
      chart = made;
    });
    return () => {
      gone = true;
      made?.dispose();
    };
  });

  $effect(() => {
    if (!chart || width === 0 || height === 0) return;
    chart.resize({ width, height });
    chart.setOption(option(width, height), { notMerge: true });
  });

  /** The chart as an SVG document; null before it is drawn. */
  export function svg(): string | null {
    return chart?.renderToSVGString() ?? null;
  }
</script>

<div
  class="chart"
  role="img"
  aria-label={label}
  bind:this={place}
  bind:clientWidth={width}
  bind:clientHeight={height}
></div>

<style>
  .chart {
    width: 100%;
    height: 100%;
    overflow: hidden;
  }
</style>
