<script lang="ts">
  import {
    AIR,
    CATALOGUE,
    failure,
    filmMedia,
    indexIn,
    isGas,
    parseQuantity,
    sharesOverAngle,
    sharesOverWavelength,
    STANDARD,
    type FaceMedia,
    type Finish,
    type Material,
    type Project,
  } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain, significant } from '$lib/format.ts';
  import Chart from '$lib/tiles/Chart.svelte';
  import { finishOption, linesOf, SHOWN, type Shown } from './finish-charts.ts';
  import type { ShelfStyle } from './shelf-charts.ts';

  interface Props {
    finish: Finish;
    style: ShelfStyle;
  }
  let { finish, style }: Props = $props();
  const desk = useDesk();

  let degrees = $state(0);
  let chosenNm = $state<number | null>(null);
  let chosenShown = $state<Shown | null>(null);
  let [from, to] = $state([380, 780]);
  let front = $state('air');
  let chosenBehind = $state<string | null>(null);

  const lens = $derived(desk.lens);
  const nm = $derived(chosenNm ?? lens?.wavelengths.find(({ id }) => id === lens.primary)?.nm ?? 550);
  const shown = $derived(chosenShown ?? (finish.optics.kind === 'coating' ? 'reflected' : 'all'));
  const own = $derived(desk.shown.materials.filter(({ id }) => id !== AIR.id));
  /** Of the project first, then the catalogue; air before all. */
  const media = $derived<readonly Material[]>([
    AIR,
    ...own,
    ...CATALOGUE.filter(({ id }) => id !== AIR.id && !own.some((one) => one.id === id)),
  ]);
  const behind = $derived(
    chosenBehind ?? own.find((one) => !isGas(one))?.id ?? media.find((one) => !isGas(one))?.id ?? 'air',
  );
  const count = 160;
  const nms = $derived(Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count));
  const angles = Array.from({ length: 180 }, (_, i) => i / 2);

  function mediaIn(project: Project): FaceMedia {
    const at = { ...STANDARD, ...project.surroundings };
    const index = (id: string) => {
      const material = media.find((one) => one.id === id) ?? AIR;
      return (wave: number) => indexIn(material, wave, at);
    };
    return { front: index(front), behind: index(behind), films: filmMedia(project) };
  }
  const here = $derived(mediaIn(desk.shown));
  const overWave = $derived(sharesOverWavelength(finish.optics, here, degrees, nms));
  const overAngle = $derived(sharesOverAngle(finish.optics, here, nm, angles));
  const atPoint = $derived(linesOf(sharesOverWavelength(finish.optics, here, degrees, [nm]), 'all', style));

  /** The finish of the reference, if it has one of this id. */
  const earlier = $derived.by(() => {
    const project = desk.reference?.project;
    const optics = project?.finishes?.find(({ id }) => id === finish.id)?.optics;
    if (!project || !optics) return null;
    const there = mediaIn(project);
    return {
      overWave: sharesOverWavelength(optics, there, degrees, nms),
      overAngle: sharesOverAngle(optics, there, nm, angles),
    };
  });

  function number(text: string, least: number, most: number, what: string, unit: RegExp) {
    const read = parseQuantity(text.replace(unit, ''), { kind: 'number', current: NaN });
    if (!read.ok) return read;
    return read.value >= least && read.value <= most ? read : failure(`${what} must be from ${least} to ${most}.`);
  }
  const readNm = (text: string) => number(text, 100, 20_000, 'A wavelength in nm', /\s*nm$/);
</script>

<section aria-label="What {finish.name} does to light">
  <div class="choices">
    <label
      >From <select bind:value={front} data-testid="curve-front">
        {#each media as one (one.id)}<option value={one.id}>{one.label}</option>{/each}
      </select></label
    >
    <label
      >into <select
        value={behind}
        onchange={(event) => (chosenBehind = event.currentTarget.value)}
        data-testid="curve-behind"
      >
        {#each media as one (one.id)}<option value={one.id}>{one.label}</option>{/each}
      </select></label
    >
    <label
      >Show <select
        value={shown}
        onchange={(event) => (chosenShown = event.currentTarget.value as Shown)}
        data-testid="curve-shown"
      >
        {#each Object.entries(SHOWN) as [id, title] (id)}<option value={id}>{title}</option>{/each}
      </select></label
    >
  </div>
  <div class="choices">
    <label
      >At <span class="cell"
        ><Cell
          label="Wavelength, nm"
          text={plain(nm, 7)}
          testid="curve-nm"
          read={readNm}
          oncommit={(value) => (chosenNm = value)}
        /></span
      > nm</label
    >
    <label
      >and <span class="cell"
        ><Cell
          label="Angle of incidence, degrees"
          text={plain(degrees, 5)}
          testid="curve-degrees"
          read={(text) => number(text, 0, 89.9, 'An angle of incidence in degrees', /\s*°$/)}
          oncommit={(value) => (degrees = value)}
        /></span
      > °:</label
    >
    <output data-testid="curve-values"
      >{#each atPoint as { name, values } (name)}<span>{name} <b>{significant(values[0], 4)} %</b></span>{/each}</output
    >
  </div>
  <div class="chart">
    <Chart
      option={() => finishOption(overWave, earlier?.overWave ?? null, 'nm', shown, nm, style)}
      label="Shares over the wavelength at {plain(degrees, 5)}°"
    />
  </div>
  <p class="ends">
    at {plain(degrees, 5)}°, from
    <span class="cell"
      ><Cell
        label="First wavelength of the chart, nm"
        text={plain(from, 6)}
        testid="curve-from"
        read={(text) => {
          const read = readNm(text);
          return read.ok && read.value >= to ? failure('It must be below the last wavelength.') : read;
        }}
        oncommit={(value) => (from = value)}
      /></span
    >
    to
    <span class="cell"
      ><Cell
        label="Last wavelength of the chart, nm"
        text={plain(to, 6)}
        testid="curve-to"
        read={(text) => {
          const read = readNm(text);
          return read.ok && read.value <= from ? failure('It must be above the first wavelength.') : read;
        }}
        oncommit={(value) => (to = value)}
      /></span
    >
    nm
  </p>
  <div class="chart">
    <Chart
      option={() => finishOption(overAngle, earlier?.overAngle ?? null, 'angle of incidence °', shown, degrees, style)}
      label="Shares over the angle of incidence at {plain(nm, 7)} nm"
    />
  </div>
  <p class="legend">
    at {plain(nm, 7)} nm ·
    {#if shown === 'all'}<i class="solid light"></i> reflected <i class="solid"></i> transmitted
      <i class="solid edge"></i> absorbed{:else}— unpolarised, - - s, ··· p{/if}{#if earlier}, grey: reference{/if}
  </p>
</section>

<style>
  section {
    display: flex;
    flex-direction: column;
    gap: 6px;
    min-width: 0;
    min-height: 0;
    padding: 12px 14px;
    border-left: 1px solid var(--line);
  }

  .choices,
  output,
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: center;
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  label {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  select {
    max-width: 130px;
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: var(--ink);
    font-size: inherit;
  }

  .cell {
    width: 68px;
    border-bottom: 1px solid var(--line);
    color: var(--ink);
  }

  b {
    color: var(--ink);
    font-weight: 600;
    font-variant-numeric: tabular-nums;
  }

  .chart {
    flex: 1;
    min-height: 0;
  }

  .ends {
    gap: 4px 6px;
  }

  .legend {
    gap: 4px 6px;
  }

  i.solid {
    display: inline-block;
    width: 16px;
    border-top: 2px solid var(--ink);
  }

  i.light {
    border-color: var(--accent);
  }

  i.edge {
    border-color: var(--glass-edge);
  }
</style>
