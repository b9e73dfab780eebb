<script lang="ts">
  import {
    cellError,
    detectorNumbers,
    thingTitle,
    type Detector,
    type Estimate,
    type SceneModelPart,
    type Tally,
  } from '@ulvex/core';
  import { contours } from 'd3-contour';
  import type { Exports } from '$lib/export.ts';
  import ExportMenu from '$lib/tiles/ExportMenu.svelte';
  import Tile from '$lib/tiles/Tile.svelte';
  import { niceStep, plain, significant } from '$lib/format.ts';
  import { theme } from '$lib/theme.svelte.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import {
    mapPicture,
    paletteBytes,
    placeOn,
    scaleOf,
    smoothed,
    valueAtPlace,
    type Palette,
  } from './light-map.ts';

  interface Props {
    detectors: readonly Detector[];
    /** By detector, in the same order: range and size of cells. */
    places: readonly SceneModelPart[];
    tally: Tally | null;
    /** Whether the tally belongs to the model that is shown. */
    current: boolean;
    onpicture: (detector: string, canvas: HTMLCanvasElement | null) => void;
  }
  let { detectors, places, tally, current, onpicture }: Props = $props();
  const desk = useDesk();

  let chosen = $state('');
  let log = $state(false);
  let palette = $state<Palette>('depth');
  let lines = $state(true);
  let blur = $state(0);
  let cross = $state.raw<{ readonly column: number; readonly row: number } | null>(null);
  let fixed = $state.raw<{ readonly column: number; readonly row: number } | null>(null);
  let canvas = $state<HTMLCanvasElement>();

  const detector = $derived.by(() => {
    const wanted = desk.thing?.kind === 'detectors' ? desk.thing.id : chosen;
    return detectors.find(({ id }) => id === wanted) ?? detectors[0];
  });
  const place = $derived(places.find(({ id }) => id === detector?.id));
  const counted = $derived(tally?.detectors.find(({ id }) => id === detector?.id) ?? null);
  const fits = $derived(
    detector && place && counted && counted.sum.length === detector.columns * detector.rows
      ? { detector, place, counted }
      : null,
  );
  const units = $derived(detector ? unitsOf(detector) : { density: '', flux: '', place: '' });

  function unitsOf({ on, light }: Detector) {
    const photometric = light === 'photometric';
    const flux = photometric ? 'lm' : 'W';
    return on.kind === 'far'
      ? { density: photometric ? 'cd' : 'W/sr', flux, place: '°' }
      : { density: photometric ? 'lx' : 'W/mm²', flux, place: 'mm' };
  }

  const scaleUp = $derived(
    detector && detector.on.kind !== 'far' && detector.light === 'photometric' ? 1e6 : 1,
  );
  const values = $derived.by(() => {
    if (!fits || !tally) return null;
    const { columns, rows } = fits.detector;
    const raw = smoothed(fits.counted.sum, columns, rows, blur);
    return raw.map((sum, cell) => (sum / tally.chunks / fits.place.size[cell]) * scaleUp);
  });
  const scale = $derived(scaleOf(values ?? [], log));
  const numbers = $derived(fits && tally ? detectorNumbers(fits.place, fits.counted, tally.chunks) : null);
  /** Cells of equal error: how far the map could be cut finer. */
  const cellNoise = $derived(
    counted && detector && counted.hits > 0
      ? Math.sqrt((detector.columns * detector.rows) / counted.hits)
      : null,
  );

  $effect(() => {
    if (!canvas || !values || !detector) {
      if (detector) onpicture(detector.id, null);
      return;
    }
    const picture = mapPicture(
      values,
      detector.columns,
      detector.rows,
      scale,
      paletteBytes(theme.current, palette),
    );
    canvas.width = detector.columns;
    canvas.height = detector.rows;
    canvas.getContext('2d')?.putImageData(picture, 0, 0);
    onpicture(detector.id, canvas);
  });

  // The map keeps its own proportions inside of the room it has.
  let room = $state({ width: 300, height: 180 });
  const box = $derived.by(() => {
    if (!place) return { width: 100, height: 100 };
    const ratio = (place.range.x[1] - place.range.x[0]) / (place.range.y[1] - place.range.y[0]);
    const [most, high] = [Math.max(60, room.width - 165 - 236), Math.max(40, room.height - 76)];
    const width = Math.min(most, high * Math.min(4, Math.max(0.25, ratio)));
    return { width, height: width / Math.min(4, Math.max(0.25, ratio)) };
  });

  const at = $derived(fixed ?? cross);
  const isolines = $derived.by(() => {
    if (!lines || !values || !detector || !(scale.high > scale.low) || values.length > 40_000) return [];
    const { columns, rows } = detector;
    const levels = [0.2, 0.4, 0.6, 0.8].map((share) => valueAtPlace(scale, share));
    return contours()
      .size([columns, rows])
      .thresholds(levels)(Array.from(values))
      .map(({ coordinates }, i) => ({
        level: levels[i],
        share: [0.2, 0.4, 0.6, 0.8][i],
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
    if (!values || !detector) return '';
    const { columns, rows } = detector;
    const row = at?.row ?? rows >> 1;
    const column = at?.column ?? columns >> 1;
    const count = along === 'x' ? columns : rows;
    let path = '';
    for (let i = 0; i < count; i++) {
      const value = values[along === 'x' ? row * columns + i : i * columns + column];
      const share = placeOn(scale, value);
      path +=
        along === 'x'
          ? `${i === 0 ? 'M' : 'L'}${(((i + 0.5) / count) * box.width).toFixed(1)} ${(-2 - 26 * share).toFixed(1)}`
          : `${i === 0 ? 'M' : 'L'}${(box.width + 2 + 26 * share).toFixed(1)} ${((1 - (i + 0.5) / count) * box.height).toFixed(1)}`;
    }
    return path;
  }

  function ticks([from, to]: readonly [number, number]): number[] {
    const step = niceStep(to - from, 4);
    const first = Math.ceil(from / step);
    return Array.from({ length: Math.floor(to / step) - first + 1 }, (_, i) => (first + i) * step);
  }

  function cellAt(event: MouseEvent) {
    if (!detector) return null;
    const element = event.currentTarget as SVGElement;
    const rect = element.getBoundingClientRect();
    const column = Math.floor(((event.clientX - rect.left) / rect.width) * detector.columns);
    const row = Math.floor((1 - (event.clientY - rect.top) / rect.height) * detector.rows);
    return column >= 0 && row >= 0 && column < detector.columns && row < detector.rows
      ? { column, row }
      : null;
  }

  function onkeydown(event: KeyboardEvent) {
    if (!detector) return;
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
    const from = fixed ?? { column: detector.columns >> 1, row: detector.rows >> 1 };
    const held = (value: number, count: number) => Math.min(count - 1, Math.max(0, value));
    fixed = {
      column: held(from.column + step[0], detector.columns),
      row: held(from.row + step[1], detector.rows),
    };
  }

  const under = $derived.by(() => {
    if (!at || !fits || !values || !tally) return null;
    const { columns, rows } = fits.detector;
    const cell = at.row * columns + at.column;
    const { x, y } = fits.place.range;
    const [cx, cy] = [
      x[0] + ((at.column + 0.5) / columns) * (x[1] - x[0]),
      y[0] + ((at.row + 0.5) / rows) * (y[1] - y[0]),
    ];
    const error = (cellError(fits.counted, cell, tally.chunks) / fits.place.size[cell]) * scaleUp;
    return `at ${plain(cx, 4)}, ${plain(cy, 4)} ${units.place}: ${withError({ value: values[cell], standardError: blur > 0 ? NaN : error }, units.density)}`;
  });

  /** A value with its error, to the digit that the error leaves. */
  function withError({ value, standardError }: Estimate, unit: string): string {
    if (!Number.isFinite(value)) return '–';
    if (!Number.isFinite(standardError)) return `${significant(value, 3)} ${unit}`;
    if (standardError === 0) return `${significant(value, 5)} ${unit}`;
    const digits = Math.min(8, Math.max(1, Math.ceil(Math.log10(Math.abs(value) / standardError)) + 1));
    return `${significant(value, digits)} ± ${significant(standardError, 2)} ${unit}`;
  }

  const about = $derived.by(() => {
    if (!detector) return '';
    const how = tally
      ? `${tally.rays.toLocaleString('en')} rays, ${counted?.hits.toLocaleString('en') ?? 0} counted`
      : 'not traced yet';
    const what = `${detector.counts} light, ${detector.columns} × ${detector.rows} cells`;
    const noise = cellNoise === null ? '' : `, about ${significant(100 * cellNoise, 2)} % noise a cell`;
    const blurred = blur > 0 ? `, smoothed by σ ${blur} cells` : '';
    return `${what}, ${how}${noise}${blurred}`;
  });

  const exports = $derived<Exports>({
    csv: () => {
      if (!fits || !values || !tally) return null;
      const { columns, rows } = fits.detector;
      const { x, y } = fits.place.range;
      const head = [`x ${units.place}`, `y ${units.place}`, units.density, 'standard error'];
      return [
        head,
        ...Array.from(values, (value, cell) => [
          x[0] + (((cell % columns) + 0.5) / columns) * (x[1] - x[0]),
          y[0] + ((Math.floor(cell / columns) + 0.5) / rows) * (y[1] - y[0]),
          value,
          (cellError(fits.counted, cell, tally.chunks) / fits.place.size[cell]) * scaleUp,
        ]),
      ];
    },
  });
  const fluxBelowFloor = $derived(detector?.floor && numbers ? numbers.peak.value / detector.floor : null);
</script>

<Tile title="Light on a detector" {about} testid="map-tile">
  {#snippet tools()}
    {#if detectors.length > 0}
      <select
        aria-label="Detector"
        data-testid="map-detector"
        value={detector?.id}
        onchange={(event) => {
          chosen = event.currentTarget.value;
          if (desk.thing?.kind === 'detectors') desk.thing = { kind: 'detectors', id: chosen };
        }}
      >
        {#each detectors as one (one.id)}<option value={one.id}>{thingTitle(one)}</option>{/each}
      </select>
      <ExportMenu name={detector?.id ?? 'map'} {exports} />
    {/if}
  {/snippet}
  {#snippet choices()}
    <label
      >scale <select bind:value={log} data-testid="map-log"
        ><option value={false}>linear</option><option value={true}>logarithmic</option></select
      ></label
    >
    <label
      >colours <select bind:value={palette}
        ><option value="depth">depth tints</option><option value="grey">grey</option></select
      ></label
    >
    <label><input type="checkbox" bind:checked={lines} /> isolines</label>
    <label
      >smoothing <select bind:value={blur}
        >{#each [0, 0.7, 1, 2] as sigma (sigma)}<option value={sigma}
            >{sigma === 0 ? 'none' : `σ ${sigma} cells`}</option
          >{/each}</select
      ></label
    >
  {/snippet}
  {#if detectors.length === 0}
    <p class="none">
      No detector yet. Choose a face and add one in the list of things: it counts the light there.
    </p>
  {:else}
    <div class="room" bind:clientWidth={room.width} bind:clientHeight={room.height} class:stale={!current}>
      <div class="map">
        <svg
          width={box.width + 84}
          height={box.height + 62}
          viewBox="-46 -32 {box.width + 84} {box.height + 62}"
          role="img"
          aria-label="Map of the light on {detector ? thingTitle(detector) : ''}"
        >
          <foreignObject x="0" y="0" width={box.width} height={box.height}>
            <canvas bind:this={canvas} style:width="{box.width}px" style:height="{box.height}px"></canvas>
          </foreignObject>
          {#each isolines as { path, share, level } (share)}
            <path class="iso" d={path}><title>{significant(level, 3)} {units.density}</title></path>
          {/each}
          <rect class="edge" width={box.width} height={box.height} />
          <path class="profile" d={profile('x')} />
          <path class="profile" d={profile('y')} />
          {#if at && detector}
            {@const cx = ((at.column + 0.5) / detector.columns) * box.width}
            {@const cy = (1 - (at.row + 0.5) / detector.rows) * box.height}
            <path class="cross" d="M{cx} 0V{box.height}M0 {cy}H{box.width}" />
          {/if}
          {#if place}
            {#each ticks(place.range.x) as tick (tick)}
              {@const x = ((tick - place.range.x[0]) / (place.range.x[1] - place.range.x[0])) * box.width}
              <path class="tick" d="M{x} {box.height}v4" /><text {x} y={box.height + 15}
                >{plain(tick, 4)}</text
              >
            {/each}
            {#each ticks(place.range.y) as tick (tick)}
              {@const y =
                (1 - (tick - place.range.y[0]) / (place.range.y[1] - place.range.y[0])) * box.height}
              <path class="tick" d="M0 {y}h-4" /><text class="side" x="-7" y={y + 4}>{plain(tick, 4)}</text>
            {/each}
            <text x={box.width / 2} y={box.height + 28}>x {units.place}</text>
            <text class="start" x="-44" y="-8">y {units.place}</text>
          {/if}
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
        <div class="scale" aria-label="Scale">
          <i
            style:background={`linear-gradient(to top, ${Array.from({ length: 9 }, (_, i) => {
              const b = paletteBytes(theme.current, palette);
              const k = 3 * Math.round((255 * i) / 8);
              return `rgb(${b[k]} ${b[k + 1]} ${b[k + 2]})`;
            }).join(',')})`}
          ></i>
          <span>{significant(scale.high, 3)}</span>
          <span>{significant(valueAtPlace(scale, 0.5), 3)}</span>
          <span>{significant(scale.low, 3)} {units.density}</span>
        </div>
      </div>
      <dl data-testid="map-numbers">
        {#if numbers}
          <div>
            <dt>flux</dt>
            <dd data-testid="map-flux">{withError(numbers.flux, units.flux)}</dd>
          </div>
          <div>
            <dt>mean</dt>
            <dd>{withError(numbers.mean, units.density)}</dd>
          </div>
          <div>
            <dt>peak</dt>
            <dd>{withError(numbers.peak, units.density)}</dd>
          </div>
          <div>
            <dt>least/mean</dt>
            <dd>{significant(numbers.uniformity, 3)}</dd>
          </div>
          <div>
            <dt>centroid</dt>
            <dd>{withError(numbers.centroidX, '')}, {withError(numbers.centroidY, units.place)}</dd>
          </div>
          <div>
            <dt>RMS radius</dt>
            <dd>{withError(numbers.rmsRadius, units.place)}</dd>
          </div>
          {#if fluxBelowFloor}<div>
              <dt>peak/noise</dt>
              <dd>{significant(fluxBelowFloor, 3)}</dd>
            </div>{/if}
        {/if}
        <div class="under">
          <dt>cell</dt>
          <dd>{under ?? '–'}</dd>
        </div>
      </dl>
    </div>
  {/if}
</Tile>

<style>
  select {
    max-width: 130px;
    padding: 0 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    font-size: var(--size-small);
  }

  .none {
    color: var(--muted);
  }

  .room {
    display: flex;
    gap: 10px;
    align-items: flex-start;
    height: 100%;
    overflow: hidden;
  }

  .map {
    display: flex;
    flex-shrink: 0;
    gap: 4px;
  }

  .stale {
    opacity: 0.45;
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

  .scale {
    display: grid;
    grid-template-rows: 1fr 1fr auto;
    grid-template-columns: 8px auto;
    column-gap: 4px;
    height: calc(100% - 60px);
    min-height: 70px;
    margin-top: 30px;
    color: var(--muted);
    font-size: 10.5px;
    white-space: nowrap;
  }

  .scale i {
    grid-row: 1 / 4;
    width: 8px;
    border: 1px solid var(--line);
  }

  .scale span {
    grid-column: 2;
  }

  dl {
    display: grid;
    flex: 1;
    gap: 1px;
    min-width: 220px;
    margin: 4px 0 0;
    font-size: var(--size-small);
  }

  dl div {
    display: grid;
    grid-template-columns: 70px 1fr;
    gap: 6px;
  }

  dt {
    color: var(--muted);
  }

  dd {
    margin: 0;
  }
</style>
