<script lang="ts">
  import type { EChartsOption } from './echarts.ts';
  import { dueOf, paintQueue } from '$lib/compute/paint-queue.ts';

  interface Props {
    /** The option for a chart of this size in pixels. */
    option: (width: number, height: number) => EChartsOption;
    /** What the chart shows, for those who do not see it. */
    label: string;
    /** The revision that the option shows; `painted` follows it when it is drawn. */
    revision?: number;
    painted?: number;
    /** What a click on a point says: the name of its datum. */
    onpick?: (name: string) => void;
  }
  let { option, label, onpick, revision = -1, painted = $bindable(-1) }: Props = $props();
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
      // A canvas costs the page no layout of its many labels while a number is turned.
      made = init(place, null, { renderer: 'canvas' });
      written = (size) => init(null, null, { renderer: 'svg', ssr: true, ...size });
      if (onpick) made.on('click', ({ name }) => onpick(name));
      chart = made;
    });
    return () => {
      gone = true;
      made?.dispose();
    };
  });

  let written: ((size: { width: number; height: number }) => NonNullable<typeof chart>) | null = null;

  /** Curves, bars and clouds of dots that are drawn, and the data in them. */
  let drawnParts = $state.raw({ series: 0, points: 0 });

  const owner = {};
  let drawn: { width: number; height: number; parts: string } | null = null;

  $effect(() => {
    if (!chart || width === 0 || height === 0) return;
    const target = chart;
    const [next, size, shown] = [option(width, height), { width, height }, revision];
    paintQueue.later(
      owner,
      () => {
        if (target.isDisposed()) return;
        if (drawn?.width !== size.width || drawn.height !== size.height) target.resize(size);
        // Merging new data into the same parts takes half the time of building them anew.
        const parts = partsOf(next);
        target.setOption(atOnce(next), { notMerge: drawn?.parts !== parts });
        // Painted at once; the loop of the chart library would go on asking for frames that the drawing needs. It wakes with the mouse.
        target.getZr().animation.stop();
        drawn = { ...size, parts };
        painted = shown;
        drawnParts = counted(next);
      },
      dueOf(shown),
    );
  });

  $effect(() => () => paintQueue.forget(owner));

  /** All of it drawn in one go: the library would leave large clouds of dots to frames that are never asked for. */
  function atOnce(next: EChartsOption): EChartsOption {
    const series = Array.isArray(next.series) ? next.series : next.series ? [next.series] : [];
    return { ...next, series: series.map((one) => ({ ...one, progressive: 0 })) } as EChartsOption;
  }

  function counted({ series = [] }: EChartsOption): { series: number; points: number } {
    const all = Array.isArray(series) ? series : [series];
    const points = all.map(({ data }) => (Array.isArray(data) ? data.length : 0));
    return { series: all.length, points: points.reduce((sum, count) => sum + count, 0) };
  }

  /** How many there are of each part of an option. */
  function partsOf(next: EChartsOption): string {
    return Object.entries(next)
      .map(([key, part]) => `${key} ${Array.isArray(part) ? part.length : 1}`)
      .join();
  }

  /** The chart as an SVG document; null before it is drawn. */
  export function svg(): string | null {
    paintQueue.now(owner);
    const document = written?.({ width, height });
    document?.setOption(option(width, height));
    const text = document?.renderToSVGString() ?? null;
    document?.dispose();
    return text;
  }
</script>

<div
  class="chart"
  role="img"
  aria-label={label}
  data-series={drawnParts.series}
  data-points={drawnParts.points}
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
