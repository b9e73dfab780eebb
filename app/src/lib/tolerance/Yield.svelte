<script lang="ts">
  import { cssColour } from '$lib/css-colour.ts';
  import { standaloneSvg } from '$lib/export.ts';
  import { normalDensity } from './normal.ts';
  import { blocks, graduations } from '$lib/drawing/chart-frame.ts';
  import { fixed, niceStep, percent, significant } from '$lib/format.ts';
  import { cumulative, histogramOf } from './histogram.ts';

  interface Props {
    values: ArrayLike<number>;
    /** Trials that they stand for; as many as there are values by default. */
    of?: number;
    title: string;
    unit: string;
    limits: { readonly min?: number; readonly max?: number };
    mean: number;
    deviation: number;
    /** Value of the design. */
    nominal: number | null;
    /** The value of the trial that is looked at. */
    marked: number | null;
    onpreview: (side: 'min' | 'max', value: number) => void;
    oncommit: (side: 'min' | 'max', value: number) => void;
    onend: () => void;
  }
  let {
    values: given,
    of = given.length,
    title,
    unit,
    limits,
    mean,
    deviation,
    nominal,
    marked,
    onpreview,
    oncommit,
    onend,
  }: Props = $props();
  let width = $state(0);
  let height = $state(0);
  const [LEFT, RIGHT, TOP, BOTTOM, EDGE] = [10, 42, 16, 34, 5];
  const values = $derived(Array.from(given));
  const histogram = $derived(histogramOf(values));
  const steps = $derived(cumulative(values));
  /** What is drawn: all values, and the limits where they are not far off. */
  const range = $derived.by((): [number, number] => {
    if (!histogram) return [0, 1];
    let [from, to] = [histogram.from, histogram.from + histogram.width * histogram.counts.length];
    const room = to - from;
    for (const limit of [limits.min, limits.max, nominal ?? undefined])
      if (limit !== undefined && limit > from - 2 * room && limit < to + 2 * room)
        [from, to] = [Math.min(from, limit - 0.04 * room), Math.max(to, limit + 0.04 * room)];
    return [from - 0.03 * room, to + 0.03 * room];
  });
  const inner = $derived({ width: Math.max(40, width - LEFT - RIGHT), height: Math.max(40, height - TOP - BOTTOM) });
  const scale = $derived(inner.width / (range[1] - range[0]));
  const x = (value: number) => LEFT + (value - range[0]) * scale;
  const valueAt = (px: number) => range[0] + (px - LEFT) / scale;
  const tallest = $derived(Math.max(1, ...(histogram?.counts ?? [])) * 1.08);
  const y = (count: number) => TOP + inner.height * (1 - count / tallest);
  const share = (part: number) => TOP + inner.height * (1 - part);
  const edge = $derived({ scale, step: niceStep(range[1] - range[0], Math.max(3, inner.width / 62)) });
  const decimals = $derived(Math.max(0, -Math.floor(Math.log10(edge.step) + 1e-9)));
  const passes = (value: number) => value >= (limits.min ?? -Infinity) && value <= (limits.max ?? Infinity);
  const bars = $derived(
    (histogram?.counts ?? []).flatMap((count, k) => {
      const from = histogram!.from + k * histogram!.width;
      return count > 0 ? [{ from, to: from + histogram!.width, count }] : [];
    }),
  );
  /** The normal distribution of this mean and spread, as counts. */
  const bell = $derived.by(() => {
    if (!histogram || !(deviation > 0)) return '';
    const area = values.length * histogram.width;
    return Array.from({ length: 81 }, (_, k) => {
      const at = range[0] + ((range[1] - range[0]) * k) / 80;
      return `${x(at).toFixed(1)},${y(area * normalDensity(at, mean, deviation)).toFixed(1)}`;
    }).join(' ');
  });
  const stairs = $derived(
    steps.length === 0
      ? ''
      : `M${x(range[0])} ${share(0)}` +
          steps.map(({ x: at, share: part }) => `H${x(at).toFixed(1)}V${share(part).toFixed(1)}`).join('') +
          `H${x(range[1])}`,
  );
  const sides = $derived(
    (['min', 'max'] as const).flatMap((side) => {
      const limit = limits[side];
      return limit === undefined ? [] : [{ side, limit, at: Math.max(LEFT, Math.min(LEFT + inner.width, x(limit))) }];
    }),
  );

  /** Hands are not exact: a thousandth of what is shown keeps limits readable. */
  function tidy(value: number): number {
    const step = niceStep(range[1] - range[0], 500);
    return Number((Math.round(value / step) * step).toPrecision(12));
  }

  /** The picture on its own; null before it is drawn. */
  export function svg(): string | null {
    return element ? standaloneSvg(element, cssColour) : null;
  }

  let held = $state<'min' | 'max' | null>(null);
  let element = $state<SVGSVGElement>();
  const pointed = (event: PointerEvent) => tidy(valueAt(event.clientX - element!.getBoundingClientRect().left));

  function take(event: PointerEvent & { currentTarget: SVGElement }, side: 'min' | 'max') {
    event.currentTarget.setPointerCapture(event.pointerId);
    held = side;
  }
  function move(event: PointerEvent, side: 'min' | 'max') {
    if (held === side) onpreview(side, pointed(event));
  }
  function drop(event: PointerEvent, side: 'min' | 'max') {
    if (held !== side) return;
    held = null;
    oncommit(side, pointed(event));
  }
  function key(event: KeyboardEvent, side: 'min' | 'max', limit: number) {
    if (event.key === 'Escape' && held) {
      held = null;
      onend();
    }
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    oncommit(side, tidy(limit + by * niceStep(range[1] - range[0], event.shiftKey ? 500 : 100)));
  }
</script>

<div bind:clientWidth={width} bind:clientHeight={height} data-testid="histogram" data-values={of}>
  {#if width > 0 && height > 0}
    <svg bind:this={element} {width} {height} role="group" aria-label="{title}: distribution over {of} trials">
      <defs>
        <pattern id="beyond" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" class="ground" /><line x1="0" y1="0" x2="0" y2="5" />
        </pattern>
      </defs>
      {#each [0.25, 0.5, 0.75, 1] as part (part)}
        <line class="grid" x1={LEFT} x2={LEFT + inner.width} y1={share(part)} y2={share(part)} />
        <text class="part" x={LEFT + inner.width + EDGE + 3} y={share(part) + 4}>{100 * part} %</text>
      {/each}
      {#each bars as { from, to, count } (from)}
        <rect
          class="bar"
          class:beyond={!passes((from + to) / 2)}
          x={x(from) + 0.5}
          width={Math.max(0.5, x(to) - x(from) - 1)}
          y={y(count)}
          height={TOP + inner.height - y(count)}
        >
          <title>{significant(from, 4)} to {significant(to, 4)} {unit}: {percent(count / values.length)}</title>
        </rect>
      {/each}
      <polyline class="bell" points={bell} />
      <path class="stairs" d={stairs} />
      {#if nominal !== null}
        <line class="design" x1={x(nominal)} x2={x(nominal)} y1={TOP} y2={TOP + inner.height} />
      {/if}
      {#if marked !== null}
        <path class="marked" d="M{x(marked)} {TOP + inner.height}l-5 9h10z" />
      {/if}
      <g class="edge">
        {#each blocks(range[0], inner.width, edge) as { from, to, filled } (from)}
          <rect class:filled x={LEFT + from} y={TOP + inner.height} width={to - from} height={EDGE} />
        {/each}
        <rect x={LEFT} y={TOP} width={inner.width} height={inner.height} />
      </g>
      {#each graduations(range[0], inner.width, edge) as mark (mark)}
        {#if x(mark) > LEFT + 10 && x(mark) < LEFT + inner.width - 4}
          <text x={x(mark)} y={TOP + inner.height + EDGE + 12}>{fixed(mark, decimals)}</text>
        {/if}
      {/each}
      <g class="legend" transform="translate({LEFT} {height - 8})">
        <line class="design" x1="0" x2="22" y1="0" y2="0" /><text x="26" y="4">design</text>
        <path class="stairs" d="M70 0h22" /><text x="96" y="4">share below</text>
        <path class="bell" d="M168 0h22" /><text x="194" y="4">normal</text>
      </g>
      <text class="unit" x={LEFT + inner.width} y={height - 4}>{title}{unit && `, ${unit}`}</text>
      {#each sides as { side, limit, at } (side)}
        <g
          class="limit"
          class:held={held === side}
          role="slider"
          tabindex="0"
          aria-label="{side === 'min' ? 'Least' : 'Largest'} value allowed"
          aria-valuenow={limit}
          aria-valuetext="{significant(limit, 4)} {unit}"
          data-testid="limit-{side}"
          onpointerdown={(event) => take(event, side)}
          onpointermove={(event) => move(event, side)}
          onpointerup={(event) => drop(event, side)}
          onkeydown={(event) => key(event, side, limit)}
        >
          <line class="grip" x1={at} x2={at} y1={TOP} y2={TOP + inner.height} />
          <line x1={at} x2={at} y1={TOP - 4} y2={TOP + inner.height} />
          <path
            d="M{at} {TOP - 3}h{side === 'min' ? 9 : -9}l{side === 'min' ? -3 : 3} -5 l{side === 'min'
              ? 3
              : -3} -5h{side === 'min' ? -9 : 9}z"
          />
        </g>
      {/each}
    </svg>
  {/if}
</div>

<style>
  div {
    flex: 1;
    min-height: 150px;
    overflow: hidden;
  }

  svg {
    display: block;
    touch-action: none;
  }

  .grid {
    stroke: var(--grid);
  }

  .bar {
    fill: var(--glass-2);
    stroke: var(--glass-edge);
    stroke-width: 0.7;
  }

  .bar.beyond {
    fill: url('#beyond');
    stroke: var(--bad);
  }

  pattern .ground {
    fill: var(--bad-ground);
  }

  pattern line {
    stroke: var(--bad);
    stroke-width: 1.4;
  }

  .bell {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.2;
  }

  .stairs {
    fill: none;
    stroke: var(--muted);
    stroke-width: 1;
    stroke-dasharray: 3 2;
  }

  .design {
    stroke: var(--ink);
    stroke-dasharray: 8 3 2 3;
  }

  .marked {
    fill: var(--accent);
  }

  .edge rect {
    fill: none;
    stroke: var(--ink);
    stroke-width: 0.8px;
    pointer-events: none;
  }

  .edge .filled {
    fill: var(--ink);
  }

  text {
    fill: var(--muted);
    font-size: var(--size-small);
    text-anchor: middle;
  }

  .part,
  .legend text {
    text-anchor: start;
  }

  .unit {
    fill: var(--ink);
    text-anchor: end;
  }

  .limit {
    cursor: ew-resize;
  }

  .limit line {
    stroke: var(--accent);
    stroke-width: 1.6;
  }

  .limit .grip {
    stroke: transparent;
    stroke-width: 14;
  }

  .limit path {
    fill: var(--accent);
  }

  .limit:focus-visible {
    outline: 1px solid var(--accent);
  }
</style>
