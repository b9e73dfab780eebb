<script lang="ts">
  import { IMAGE_LAWS, IMAGE_SCALES, type ImageLaw, type ImageScale } from '@ulvex/core';
  import { waveColour } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { token } from '$lib/theme.svelte.ts';
  import Chart from './Chart.svelte';
  import ExportMenu from './ExportMenu.svelte';
  import { waveLegend } from './legends.ts';
  import { fieldCurvesOption } from './field-curves-option.ts';
  import Tile from './Tile.svelte';
  import { comparable, referenceWords } from './underneath.ts';

  interface Props {
    settings: unknown;
    onsettings: (settings: { readonly law: ImageLaw; readonly scale: ImageScale }) => void;
  }
  let { settings, onsettings }: Props = $props();
  const desk = useDesk();
  const given = $derived((settings ?? {}) as { law?: unknown; scale?: unknown });
  const law = $derived(IMAGE_LAWS.find((one) => one === given.law) ?? IMAGE_LAWS[0]);
  const scale = $derived(IMAGE_SCALES.find((one) => one === given.scale) ?? IMAGE_SCALES[0]);
  const query = desk.live.query(() => (desk.lens ? { kind: 'field_curves', lens: desk.lens.id, law, scale } : null));
  const beforeQuery = desk.referenceLive.query(() =>
    desk.reference && desk.lens ? { kind: 'field_curves', lens: desk.lens.id, law, scale } : null,
  );
  const curves = $derived(query.answer?.ok ? query.answer.value : null);
  const reference = $derived(desk.reference && beforeQuery.answer?.ok ? beforeQuery.answer.value : null);
  const before = $derived(comparable(curves, reference));
  const style = $derived({
    ink: token('--ink'),
    muted: token('--muted'),
    grid: token('--grid'),
    wave: (nm: number) => waveColour(nm).replace('var(--wave-light)', token('--wave-light')),
  });
  const SCALE_WORDS: Readonly<Record<ImageScale, string>> = {
    'image surface': 'the scale of the image surface',
    'paraxial image': 'the scale of the paraxial image',
    calibrated: 'the scale of least largest error',
  };
  const about = $derived(
    curves
      ? [
          'tangential full, sagittal dashed, each colour',
          `distortion about ${curves.unit === '°' ? `${law}, ` : ''}${SCALE_WORDS[scale]}`,
          'illumination of the whole pupil, dotted through set apertures',
          `field to ${Number(curves.largest.toPrecision(5))} ${curves.unit}`,
          curves.aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil',
          ...referenceWords(curves, reference, desk.reference?.label),
        ].join(' · ')
      : '',
  );
  let chart = $state<Chart | null>(null);

  function csv() {
    if (!curves) return null;
    const head = curves.foci.flatMap(({ nm }) => [`tangential mm ${nm} nm`, `sagittal mm ${nm} nm`]);
    const rows: (string | number)[][] = [
      [`field ${curves.unit}`, ...head, 'distortion %', 'relative illumination', 'through set apertures'],
    ];
    curves.share.forEach((share, k) =>
      rows.push([
        share * curves.largest,
        ...curves.foci.flatMap(({ tangential, sagittal }) => [tangential[k], sagittal[k]]),
        curves.distortion[k],
        curves.illumination[k],
        curves.vignetted[k],
      ]),
    );
    return rows;
  }
  let painted = $state(-1);
</script>

<Tile title="Field curves" {about} testid="field-tile" carries={query.answer?.ok ? painted : query.revision}>
  {#snippet tools()}<ExportMenu
      name="field"
      exports={{ svg: () => chart?.svg() ?? null, csv, legend: () => waveLegend(desk.lens) }}
    />{/snippet}
  {#snippet choices()}
    <label
      >distortion about <select
        value={law}
        data-testid="field-law"
        onchange={(event) => onsettings({ scale, law: event.currentTarget.value as ImageLaw })}
      >
        {#each IMAGE_LAWS as one (one)}<option value={one}>{one}</option>{/each}
      </select></label
    >
    <label
      >to the scale of <select
        value={scale}
        data-testid="field-scale"
        onchange={(event) => onsettings({ law, scale: event.currentTarget.value as ImageScale })}
      >
        {#each IMAGE_SCALES as one (one)}<option value={one}>{one}</option>{/each}
      </select></label
    >
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if curves}
    <Chart
      revision={query.revision}
      bind:painted
      bind:this={chart}
      option={(width, height) => fieldCurvesOption(curves, style, { width, height }, before)}
      label="Field curves. {about}"
    />
  {/if}
</Tile>

<style>
  .none {
    color: var(--bad);
    font-size: var(--size-small);
  }
</style>
