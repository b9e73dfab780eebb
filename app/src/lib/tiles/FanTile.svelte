<script lang="ts">
  import { waveColour } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels, rayWords, waveWords } from '$lib/desk/lens-words.ts';
  import { significant } from '$lib/format.ts';
  import { token } from '$lib/theme.svelte.ts';
  import Chart from './Chart.svelte';
  import ExportMenu from './ExportMenu.svelte';
  import { waveLegend } from './legends.ts';
  import { fanOption, fanRows, fanScale } from './fan-option.ts';
  import { fanSettings, type FanSettings } from './settings.ts';
  import Tile from './Tile.svelte';
  import { comparable, referenceWords } from './underneath.ts';

  const RAYS = 41;
  interface Props {
    settings: unknown;
    onsettings: (settings: FanSettings) => void;
    /** Distances in the image, or waves at the reference sphere. */
    quantity?: 'ray_fans' | 'opd_fans';
  }
  let { settings: stored, onsettings, quantity = 'ray_fans' }: Props = $props();
  const desk = useDesk();
  const settings = $derived(fanSettings(stored));
  const change = (part: Partial<FanSettings>) => onsettings({ ...settings, ...part });
  const query = desk.live.query(() =>
    desk.lens ? { kind: quantity, lens: desk.lens.id, rays: RAYS, pupil: settings.pupil } : null,
  );
  const beforeQuery = desk.referenceLive.query(() =>
    desk.reference && desk.lens ? { kind: quantity, lens: desk.lens.id, rays: RAYS, pupil: settings.pupil } : null,
  );
  const fans = $derived(query.answer?.ok ? query.answer.value : null);
  const reference = $derived(desk.reference && beforeQuery.answer?.ok ? beforeQuery.answer.value : null);
  const before = $derived(comparable(fans, reference));
  const labels = $derived(fieldLabels(desk.lens));
  const style = $derived({
    ink: token('--ink'),
    muted: token('--muted'),
    line: token('--line'),
    grid: token('--grid'),
    wave: (nm: number) => waveColour(nm).replace('var(--wave-light)', token('--wave-light')),
  });
  const about = $derived(
    fans
      ? [
          fanRows(settings).join(' and '),
          waveWords(desk.lens),
          `±${significant(fanScale(fans, settings), 2)} ${fans.unit} about the ` +
            (fans.unit === 'λ' ? 'chief ray of each colour, leading is positive' : 'primary chief ray'),
          'pupil −1 to 1 across',
          `${RAYS} rays`,
          ...rayWords(fans.aim, settings.pupil),
          ...referenceWords(fans, reference, desk.reference?.label),
        ].join(' · ')
      : '',
  );
  const title = $derived(quantity === 'ray_fans' ? 'Ray fans' : 'Wavefront fans');
  let chart = $state<Chart | null>(null);

  function csv() {
    if (!fans) return null;
    const rows: (string | number)[][] = [['field', 'fan', 'wavelength nm', 'pupil', `error ${fans.unit}`]];
    for (const { field, fans: outcome } of fans.fields) {
      if (!outcome.ok) continue;
      for (const row of fanRows(settings)) {
        for (const { nm, pupil, error } of outcome.value[row])
          pupil.forEach((p, i) => rows.push([field, row, nm, p, error[i]]));
      }
    }
    return rows;
  }
  let painted = $state(-1);
</script>

<Tile
  {title}
  {about}
  testid={quantity === 'ray_fans' ? 'fan-tile' : 'opd-tile'}
  carries={query.answer?.ok ? painted : query.revision}
>
  {#snippet tools()}<ExportMenu
      name={quantity.replace('_', '-')}
      exports={{ svg: () => chart?.svg() ?? null, csv, legend: () => waveLegend(desk.lens) }}
    />{/snippet}
  {#snippet choices()}
    <label
      >fans <select
        value={settings.direction}
        onchange={(event) => change({ direction: event.currentTarget.value as 'both' })}
      >
        <option value="both">tangential and sagittal</option><option value="tangential">tangential</option><option
          value="sagittal">sagittal</option
        >
      </select></label
    >
    <label data-explain="word:pupil"
      >pupil <select
        value={settings.pupil}
        onchange={(event) => change({ pupil: event.currentTarget.value as 'full' })}
      >
        <option value="clipped">clipped where set</option><option value="full">full</option>
      </select></label
    >
    <label data-explain="word:scale"
      >scale <select
        value={String(settings.scale ?? '')}
        onchange={(event) => change({ scale: Number(event.currentTarget.value) || null })}
      >
        <option value="">fits all rays</option>
        {#each quantity === 'opd_fans' ? [0.1, 0.25, 0.5, 1, 2, 5, 10, 20] : [1, 2, 5, 10, 20, 50, 100, 200, 500] as scale (scale)}<option
            value={String(scale)}>±{scale} {fans?.unit ?? 'µm'}</option
          >{/each}
      </select></label
    >
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if fans}
    <Chart
      revision={query.revision}
      bind:painted
      bind:this={chart}
      option={(width, height) => fanOption(fans, settings, labels, style, { width, height }, before)}
      label="{quantity === 'ray_fans' ? 'Transverse ray fans' : title}. {about}"
    />
  {/if}
</Tile>

<style>
  .none {
    color: var(--bad);
    font-size: var(--size-small);
  }
</style>
