<script lang="ts">
  import type { MapPanel } from '@ulvex/core';
  import { plain, significant } from '$lib/format.ts';
  import HeightPlot from '$lib/plots/HeightPlot.svelte';
  import MapPlot from '$lib/plots/MapPlot.svelte';
  import MapScale from '$lib/plots/MapScale.svelte';
  import { mapPicture, paletteBytes, withError, type Cell } from '$lib/plots/light-map.ts';
  import { theme, token } from '$lib/theme.svelte.ts';
  import { columnsFor } from './panel-option.ts';
  import { axisText, mapsSvg, pictureOf, sharedScale, shownMaps } from './map-panels.ts';

  interface Props {
    panels: readonly MapPanel[];
    /** The reference: beside, row under row, or taken off. */
    before: readonly MapPanel[];
    labels: ReadonlyMap<string, string>;
    compare: 'beside' | 'difference';
    /** Whether values are shown as the heights of a landscape. */
    heights?: boolean;
  }
  let { panels: given, before, labels, compare, heights = false }: Props = $props();
  let width = $state(0);
  let height = $state(0);
  let canvas = $state<HTMLCanvasElement>();
  let cross = $state<Cell | null>(null);
  let fixed = $state<Cell | null>(null);

  const shown = $derived(shownMaps(given, before, compare, labels));
  const scale = $derived(sharedScale(shown.map(({ panel }) => panel)));
  const palette = $derived(pictureOf(shown[0]?.panel.look ?? 'heat'));
  const bytes = $derived(paletteBytes(theme.current, palette));
  const valueUnit = $derived(shown[0]?.panel.value.unit ?? '');
  const columns = $derived(columnsFor(shown.length, { width: width - 70, height: height - 8 }, 0.86));
  const rows = $derived(Math.max(1, Math.ceil(shown.length / columns)));
  /** Landscapes side by side: none narrower than its figures need. */
  const lands = $derived(
    Math.max(1, Math.min(columnsFor(shown.length, { width, height }, 1.6), Math.floor(width / 250))),
  );
  const side = $derived(Math.max(24, Math.min((width - 70) / columns - 14, (height - 10) / rows - 40)));
  const single = $derived(shown.length === 1 && height > 150 ? shown[0] : null);
  const under = $derived.by(() => {
    const at = fixed ?? cross;
    if (!single || !at) return null;
    const { columns: across, values, x, y, rows: down, value } = single.panel;
    const place = ([from, to]: readonly [number, number], k: number, count: number) =>
      from + ((to - from) * (k + 0.5)) / count;
    const cell = at.row * across + at.column;
    const found = values[cell];
    return (
      `${plain(place(x.range, at.column, across), 4)}, ${plain(place(y.range, at.row, down), 4)} ${x.unit}: ` +
      (Number.isNaN(found) ? 'nothing' : valueText(found, value.unit, single.panel.errors?.[cell]))
    );
  });

  const valueText = (value: number, unit: string, standardError: number | undefined) =>
    standardError === undefined ? `${significant(value, 4)} ${unit}` : withError({ value, standardError }, unit);

  /** The reference in greys that still tell high from low. */
  const greys = $derived(paletteBytes(theme.current, 'grey'));

  /** Draws a map into a canvas, again whenever map, scale or theme change. */
  function drawn(element: HTMLCanvasElement, panel: MapPanel, grey: boolean) {
    $effect(() => {
      const picture = mapPicture(
        panel.values,
        panel.columns,
        panel.rows,
        scale,
        grey ? greys : bytes,
        panel.look === 'fringes',
      );
      element.width = panel.columns;
      element.height = panel.rows;
      element.getContext('2d')!.putImageData(picture, 0, 0);
    });
  }
  $effect(() => {
    if (!single || !canvas) return;
    const { values, columns: across, rows: down, look } = single.panel;
    canvas.width = across;
    canvas.height = down;
    canvas.getContext('2d')!.putImageData(mapPicture(values, across, down, scale, bytes, look === 'fringes'), 0, 0);
  });

  /** The stretch of a map, y upward being turned by symmetry of what is drawn there. */
  function viewOf({ x: { range: across }, y: { range: up } }: MapPanel): string {
    return `${across[0]} ${-up[1]} ${across[1] - across[0]} ${up[1] - up[0]}`;
  }

  export function svg(): string | null {
    return mapsSvg(shown, scale, bytes, {
      ink: token('--ink'),
      muted: token('--muted'),
      ground: token('--card'),
    });
  }
</script>

<div class="maps" bind:clientWidth={width} bind:clientHeight={height}>
  {#if heights}
    <ul class="landscapes" style:grid-template-columns="repeat({lands}, auto)">
      {#each shown as { panel, name } (name)}
        <li>
          <span class="name" title={name}>{name}</span>
          <HeightPlot
            {name}
            values={panel.values}
            columns={panel.columns}
            rows={panel.rows}
            range={{ x: panel.x.range, y: panel.y.range }}
            {scale}
            density={valueUnit || panel.value.title}
            place={panel.x.unit}
            width={width / lands - 10}
            height={Math.max(140, height / Math.ceil(shown.length / lands) - 22)}
          />
        </li>
      {/each}
    </ul>
  {:else if single}
    <MapPlot
      name={single.name}
      values={single.panel.values}
      columns={single.panel.columns}
      rows={single.panel.rows}
      range={{ x: single.panel.x.range, y: single.panel.y.range }}
      {scale}
      {palette}
      lines={single.panel.look === 'heat'}
      rings={single.panel.rings}
      density={valueUnit}
      place={single.panel.x.unit}
      names={single.panel.errors ? { x: single.panel.x.title, y: single.panel.y.title } : undefined}
      axes={single.panel.free
        ? {
            x: `${single.panel.x.title} ${single.panel.x.unit}`,
            y: `${single.panel.y.title} ${single.panel.y.unit}`,
          }
        : undefined}
      {width}
      height={height - (under ? 14 : 0)}
      {under}
      bind:cross
      bind:fixed
      bind:canvas
    />
    {#if under}<p class="under">{under}</p>{/if}
  {:else}
    <ul style:grid-template-columns="repeat({columns}, auto)">
      {#each shown as { panel, name, grey } (name)}
        <li>
          <span class="name" title={name} style:max-width="{side}px">{name}</span>
          <div class="picture">
            {#key panel}<canvas
                style:width="{side}px"
                style:height="{side}px"
                class:coarse={side > 4 * panel.columns}
                aria-label={name}
                {@attach (element) => drawn(element as HTMLCanvasElement, panel, grey)}
              ></canvas>{/key}
            {#if panel.rings}
              <svg viewBox={viewOf(panel)} preserveAspectRatio="none" aria-hidden="true">
                {#each panel.rings as { name: what, semi } (what)}
                  <ellipse rx={semi[0]} ry={semi[1]}><title>{what}</title></ellipse>
                {/each}
              </svg>
            {/if}
          </div>
          <span class="ends" style:width="{side}px"
            ><i>{plain(panel.x.range[0], 3)}</i><i>{axisText(panel)}</i><i>{plain(panel.x.range[1], 3)}</i></span
          >
        </li>
      {/each}
    </ul>
    {#if shown.length > 0}<MapScale {scale} {palette} density={valueUnit} />{/if}
  {/if}
</div>

<style>
  .maps {
    position: relative;
    display: flex;
    gap: 8px;
    height: 100%;
    overflow: hidden;
  }

  ul {
    display: grid;
    flex: 1;
    gap: 4px 10px;
    align-content: start;
    justify-content: start;
    margin: 0;
    padding: 0;
    list-style: none;
  }

  .landscapes {
    overflow: auto;
  }

  li {
    display: flex;
    flex-direction: column;
  }

  .picture {
    position: relative;
    line-height: 0;
  }

  .picture svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }

  ellipse {
    fill: none;
    stroke: var(--card);
    stroke-dasharray: 4 3;
    mix-blend-mode: difference;
    vector-effect: non-scaling-stroke;
  }

  canvas {
    border: 1px solid var(--line);
  }

  /* Few cells are shown as they are: nothing is known between them. */
  .coarse {
    image-rendering: pixelated;
  }

  .name {
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .ends {
    display: flex;
    justify-content: space-between;
    color: var(--muted);
    font-size: 10px;
  }

  i {
    font-style: normal;
  }

  .under {
    position: absolute;
    bottom: 0;
    left: 46px;
    margin: 0;
    font-size: var(--size-small);
  }
</style>
