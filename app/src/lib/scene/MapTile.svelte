<script lang="ts">
  import {
    cellError,
    countedOf,
    detectorNumbers,
    detectorUnits,
    MEASURES,
    thingTitle,
    type Detector,
    type SceneModelPart,
    type Tally,
  } from '@ulvex/core';
  import type { Exports } from '$lib/export.ts';
  import Button from '$lib/components/Button.svelte';
  import { addRequirement } from '$lib/desk/requirement-edits.ts';
  import ExportMenu from '$lib/tiles/ExportMenu.svelte';
  import Tile from '$lib/tiles/Tile.svelte';
  import { plain, significant } from '$lib/format.ts';
  import { theme } from '$lib/theme.svelte.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import HeightPlot from '$lib/plots/HeightPlot.svelte';
  import MapNumbers from './MapNumbers.svelte';
  import MapPlot from '$lib/plots/MapPlot.svelte';
  import PolarPlot from '$lib/plots/PolarPlot.svelte';
  import {
    mapPicture,
    paletteBytes,
    scaleOf,
    smoothed,
    withError,
    type Cell,
    type Palette,
  } from '$lib/plots/light-map.ts';

  interface Props {
    detectors: readonly Detector[];
    /** By detector, in the same order: range and size of cells. */
    places: readonly SceneModelPart[];
    tally: Tally | null;
    /** Whether the tally belongs to the model that is shown. */
    current: boolean;
    onpicture: (detector: string, canvas: HTMLCanvasElement | null) => void;
    onboard: (detector: Detector) => void;
  }
  let { detectors, places, tally, current, onpicture, onboard }: Props = $props();
  const desk = useDesk();

  let chosen = $state('');
  let log = $state(false);
  let palette = $state<Palette>('depth');
  let lines = $state(true);
  let blur = $state(0);
  let shape = $state<'map' | 'heights' | 'polar'>('map');
  let layer = $state(0);
  let cross = $state.raw<Cell | null>(null);
  let fixed = $state.raw<Cell | null>(null);
  let canvas = $state<HTMLCanvasElement>();
  let room = $state({ width: 300, height: 180 });

  const detector = $derived.by(() => {
    const wanted = desk.thing?.kind === 'detectors' ? desk.thing.id : chosen;
    return detectors.find(({ id }) => id === wanted) ?? detectors[0];
  });
  const place = $derived(places.find(({ id }) => id === detector?.id));
  const counted = $derived(tally?.detectors.find(({ id }) => id === detector?.id) ?? null);
  /** What of the light is looked at, and in which unit; nothing is traced for it. */
  let look = $state<{ light: '' | Detector['light']; source: string; nm: number }>({ light: '', source: '', nm: 0 });
  const sources = $derived([...new Set((place?.channels ?? []).map(({ id }) => id))]);
  const waves = $derived([...new Set((place?.channels ?? []).map(({ nm }) => nm))].sort((a, b) => a - b));
  const seen = $derived({
    light: look.light || undefined,
    source: sources.includes(look.source) ? look.source : undefined,
    nm: waves.includes(look.nm) ? look.nm : undefined,
  });
  const fits = $derived(
    detector && place && counted && counted.cells === place.size.length
      ? { detector, place, counted: countedOf(place, counted, seen) }
      : null,
  );
  const units = $derived(
    detectorUnits({ light: seen.light ?? detector?.light ?? 'radiometric' }, place?.chart ?? { kind: 'flat' }),
  );
  const layers = $derived(detector?.on.kind === 'block' ? detector.on.layers : 1);
  const shown = $derived(Math.min(layer, layers - 1));
  const directions = $derived(units.place === '°');
  const drawn = $derived(shape === 'polar' && !directions ? 'map' : shape);
  /** Index of the first cell of the layer that is shown. */
  const first = $derived(detector ? shown * detector.columns * detector.rows : 0);

  const values = $derived.by(() => {
    if (!fits || !tally) return null;
    const { columns, rows } = fits.detector;
    const raw = smoothed(fits.counted.sum.slice(first, first + columns * rows), columns, rows, blur);
    return raw.map((sum, cell) => {
      const size = fits.place.size[first + cell];
      return size > 0 ? (sum / tally.chunks / size) * units.scale : 0;
    });
  });
  /** One scale for all layers of a block: they can be compared. */
  const scale = $derived.by(() => {
    if (!fits || !tally || layers === 1) return scaleOf(values ?? [], log);
    return scaleOf(
      fits.counted.sum.map((sum, cell) => (sum / tally.chunks / fits.place.size[cell]) * units.scale),
      log,
    );
  });
  const numbers = $derived(fits && counted && tally ? detectorNumbers(fits.place, counted, tally.chunks, seen) : null);
  /** Cells of equal error: how far the map could be cut finer. */
  const cellNoise = $derived(
    fits && fits.counted.hits > 0 ? Math.sqrt(fits.place.size.length / fits.counted.hits) : null,
  );

  $effect(() => {
    if (!detector) return;
    if (!values) {
      onpicture(detector.id, null);
      return;
    }
    const { columns, rows } = detector;
    const picture = mapPicture(values, columns, rows, scale, paletteBytes(theme.current, palette));
    // Drawn beside the tile too: the map may lie in space while the tile shows heights.
    const target = canvas ?? document.createElement('canvas');
    target.width = columns;
    target.height = rows;
    target.getContext('2d')?.putImageData(picture, 0, 0);
    onpicture(detector.id, target);
  });

  const at = $derived(fixed ?? cross);
  const under = $derived.by(() => {
    if (!at || !fits || !values || !tally) return null;
    const { columns, rows } = fits.detector;
    const cell = at.row * columns + at.column;
    const { x, y } = fits.place.range;
    const [cx, cy] = [
      x[0] + ((at.column + 0.5) / columns) * (x[1] - x[0]),
      y[0] + ((at.row + 0.5) / rows) * (y[1] - y[0]),
    ];
    const standardError = blur > 0 ? NaN : errorOf(first + cell);
    const density = withError({ value: values[cell], standardError }, units.density);
    return `at ${plain(cx, 4)}, ${plain(cy, 4)} ${units.place}: ${density}`;
  });

  /** Standard error of a cell in the unit of the map. */
  function errorOf(cell: number): number {
    const size = fits && tally ? fits.place.size[cell] : 0;
    return size > 0 ? (cellError(fits!.counted, cell, tally!.chunks) / size) * units.scale : 0;
  }

  const about = $derived.by(() => {
    if (!detector) return '';
    const how = tally
      ? `${tally.rays.toLocaleString('en')} rays, ${fits?.counted.hits.toLocaleString('en') ?? 0} counted`
      : 'not traced yet';
    const what =
      `${detector.on.kind === 'block' ? 'absorbed' : detector.counts} light, ${detector.columns} × ` +
      `${detector.rows}${layers > 1 ? ` × ${layers}` : ''} cells`;
    const noise = cellNoise === null ? '' : `, about ${significant(100 * cellNoise, 2)} % noise a cell`;
    const blurred = blur > 0 ? `, smoothed by σ ${blur} cells` : '';
    return `${what}, ${how}${noise}${blurred}`;
  });

  /** What each source gives, where there are several. */
  const bySource = $derived(
    fits && counted && tally && sources.length > 1 && seen.source === undefined
      ? sources.map((id) => ({
          title: thingTitle(desk.scene?.sources.find((one) => one.id === id) ?? { id }),
          flux: detectorNumbers(fits.place, counted, tally.chunks, { ...seen, source: id }).flux,
        }))
      : [],
  );

  /** Numbers of a detector that can be required. */
  const offered = $derived(
    MEASURES.filter(({ id }) => /^detector_/.test(id) && (directions || id !== 'detector_half_angle')),
  );

  function require(measure: string) {
    const { scene } = desk;
    if (!detector || !scene) return;
    const added = addRequirement(desk.project, desk.lensIn(desk.project), measure, { detector: detector.id });
    if (added.ok) desk.commit(added.value.edits, added.value.label);
    else desk.notice = { tone: 'refused', title: added.reason };
  }

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
          errorOf(first + cell),
        ]),
      ];
    },
  });
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
      >shown as <select bind:value={shape} data-testid="map-shape"
        ><option value="map">map</option><option value="heights">heights</option><option
          value="polar"
          disabled={!directions}>polar diagram</option
        ></select
      ></label
    >
    {#if layers > 1}
      <label
        >layer <input
          type="range"
          min="0"
          max={layers - 1}
          bind:value={layer}
          data-testid="map-layer"
          aria-label="Layer of cells"
        />
        {shown + 1} of {layers}</label
      >
    {/if}
    <label
      >in <select bind:value={look.light} data-testid="map-light"
        ><option value="">{detector?.light === 'photometric' ? 'lm' : 'W'}</option><option
          value={detector?.light === 'photometric' ? 'radiometric' : 'photometric'}
          >{detector?.light === 'photometric' ? 'W' : 'lm'}</option
        ></select
      ></label
    >
    {#if sources.length > 1}
      <label
        >light of <select bind:value={look.source} data-testid="map-source"
          ><option value="">all sources</option>{#each sources as id (id)}<option value={id}
              >{thingTitle(desk.scene?.sources.find((one) => one.id === id) ?? { id })}</option
            >{/each}</select
        ></label
      >
    {/if}
    {#if waves.length > 1}
      <label
        >at <select bind:value={look.nm} data-testid="map-wave"
          ><option value={0}>all wavelengths</option>{#each waves as nm (nm)}<option value={nm}>{nm} nm</option
            >{/each}</select
        ></label
      >
    {/if}
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
    <p class="none">No detector yet. Choose a face and add one in the list of things: it counts the light there.</p>
  {:else}
    <div class="room" bind:clientWidth={room.width} bind:clientHeight={room.height} class:stale={!current}>
      {#if detector && place}
        {@const { columns, rows } = detector}
        {@const common = {
          name: thingTitle(detector),
          columns,
          rows,
          range: place.range,
          scale,
          density: units.density,
        }}
        {#if drawn === 'heights' && values}
          <HeightPlot
            {...common}
            {values}
            place={units.place}
            width={room.width}
            height={Math.max(160, Math.min(room.height - 150, 300))}
          />
        {:else if drawn === 'polar' && values}
          <PolarPlot
            {...common}
            {values}
            at={at ?? { column: columns >> 1, row: rows >> 1 }}
            height={Math.max(160, Math.min(room.height - 150, 300))}
          />
        {:else}
          <MapPlot
            {...common}
            {values}
            {palette}
            {lines}
            {under}
            place={units.place}
            names={directions ? { x: 'azimuth', y: 'elevation' } : undefined}
            below
            width={room.width}
            height={Math.min(room.height - 150, room.width)}
            bind:cross
            bind:fixed
            bind:canvas
          />
        {/if}
      {/if}
      <MapNumbers {numbers} {units} {under} floor={detector?.floor ?? 0} parts={bySource} />
      {#if detector}
        <p class="actions">
          <Button small data-testid="map-to-board" onclick={() => onboard(detector)}>Put on a board</Button>
          <select
            aria-label="Require a number of this detector"
            data-testid="map-require"
            value=""
            onchange={(event) => {
              require(event.currentTarget.value);
              event.currentTarget.value = '';
            }}
          >
            <option value="" hidden>Require…</option>
            {#each offered as { id, title } (id)}<option value={id}>{title}</option>{/each}
          </select>
        </p>
      {/if}
    </div>
  {/if}
</Tile>

<style>
  select {
    max-width: 130px;
    padding: 0 2px;
    font-size: var(--size-small);
  }

  input[type='range'] {
    width: 90px;
    accent-color: var(--accent);
  }

  .none {
    color: var(--muted);
  }

  .room {
    display: flex;
    flex-direction: column;
    gap: 4px;
    height: 100%;
    overflow: hidden;
  }

  .actions {
    display: flex;
    gap: 6px;
    margin: 4px 0 0;
  }

  .stale {
    opacity: 0.45;
  }
</style>
