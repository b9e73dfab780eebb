<script lang="ts">
  import { fieldColours } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels } from '$lib/desk/lens-words.ts';
  import { exactText, significant } from '$lib/format.ts';
  import { token } from '$lib/theme.svelte.ts';
  import { cssColour } from '$lib/css-colour.ts';
  import Chart from './Chart.svelte';
  import ExportMenu from './ExportMenu.svelte';
  import { fieldLegend } from './legends.ts';
  import { mtfOption } from './mtf-option.ts';
  import { mtfSettings, type MtfSettings } from './settings.ts';
  import Tile from './Tile.svelte';
  import { comparable, referenceWords } from './underneath.ts';

  interface Props {
    settings: unknown;
    onsettings: (settings: MtfSettings) => void;
  }
  let { settings: stored, onsettings }: Props = $props();
  const desk = useDesk();
  const settings = $derived(mtfSettings(stored));
  const change = (part: Partial<MtfSettings>) => onsettings({ ...settings, ...part });
  const query = desk.live.query(() =>
    desk.lens ? { kind: 'mtf', lens: desk.lens.id, detail: 'full', ...settings } : null,
  );
  const beforeQuery = desk.referenceLive.query(() =>
    desk.reference && desk.lens ? { kind: 'mtf', lens: desk.lens.id, detail: 'full', ...settings } : null,
  );
  const chart = $derived(query.answer?.ok ? query.answer.value : null);
  const reference = $derived(desk.reference && beforeQuery.answer?.ok ? beforeQuery.answer.value : null);
  const before = $derived(comparable(chart, reference));
  const labels = $derived(fieldLabels(desk.lens));
  const style = $derived({
    muted: token('--muted'),
    grid: token('--grid'),
    fields: fieldColours(chart?.fields.length ?? 0).map((colour) => cssColour(colour)),
  });
  const METHODS: Readonly<Record<MtfSettings['method'], string>> = {
    physical: 'pupil on the reference sphere',
    simple: 'pupil in ray coordinates (faster, off by up to 0.03, more with long throws)',
    geometric: 'of the spot alone, without diffraction',
  };
  const failed = $derived(chart?.fields.filter(({ curves }) => !curves.ok) ?? []);
  const about = $derived.by(() => {
    if (!chart) return '';
    const residual = Math.max(0, ...chart.fields.map(({ curves }) => (curves.ok ? curves.value.residual : 0)));
    return [
      METHODS[settings.method],
      settings.colours === 'all' ? 'all colours by weight' : 'primary colour',
      'tangential full, sagittal dashed, limit of diffraction dotted',
      'full pupil',
      chart.aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil',
      ...(chart.detail === 'draft' ? ['coarse, being refined'] : []),
      ...(residual > 0 ? [`fits leave ${significant(residual, 1)} λ`] : []),
      ...referenceWords(chart, reference, desk.reference?.label),
    ].join(' · ');
  });
  let drawn = $state<Chart | null>(null);
  let wrong = $state<string | null>(null);

  /** A frequency as typed; nothing leaves it to the image. */
  function typed(text: string) {
    const highest = text.trim() === '' ? null : Number(text.trim().replace(',', '.'));
    const legal = highest === null || (highest > 0 && highest <= 1e6);
    wrong = legal
      ? null
      : `“${text}” is no frequency: a number above 0 and up to 1,000,000, or nothing; it stays as it was.`;
    if (legal) change({ highest });
  }

  function csv() {
    if (!chart) return null;
    const rows: (string | number)[][] = [
      ['field', `cycles/${chart.unit}`, 'tangential', 'sagittal', 'tangential limit', 'sagittal limit'],
    ];
    for (const { field, curves } of chart.fields) {
      if (!curves.ok) continue;
      const { tangential, sagittal, limits } = curves.value;
      chart.frequencies.forEach((nu, k) =>
        rows.push([field, nu, tangential[k], sagittal[k], limits.tangential[k], limits.sagittal[k]]),
      );
    }
    return rows;
  }
  let painted = $state(-1);
</script>

<Tile
  title="MTF"
  {about}
  testid="mtf-tile"
  carries={query.answer?.ok ? painted : query.revision}
  computing={query.pending}
>
  {#snippet tools()}<ExportMenu
      name="mtf"
      exports={{ svg: () => drawn?.svg() ?? null, csv, legend: () => fieldLegend(desk.lens) }}
    />{/snippet}
  {#snippet choices()}
    <label
      >method <select
        value={settings.method}
        data-testid="mtf-method"
        onchange={(event) => change({ method: event.currentTarget.value as 'physical' })}
      >
        <option value="physical">physical</option><option value="simple">simple</option><option value="geometric"
          >geometric</option
        >
      </select></label
    >
    <label
      >colours <select
        value={settings.colours}
        onchange={(event) => change({ colours: event.currentTarget.value as 'all' })}
      >
        <option value="all">all</option><option value="primary">primary</option>
      </select></label
    >
    <label
      >up to <input
        value={settings.highest === null ? '' : exactText(settings.highest)}
        placeholder={chart ? `${significant(chart.suggested, 3)}, by its limit` : 'by its limit'}
        title="Highest frequency; empty: a part of the image's own cutoff{chart
          ? `, ${significant(chart.cutoff, 3)} cycles/${chart.unit}`
          : ''}"
        aria-invalid={wrong !== null}
        data-testid="mtf-highest"
        onchange={(event) => typed(event.currentTarget.value)}
      />
      cycles/{chart?.unit ?? 'mm'}</label
    >
    {#if wrong}<em role="alert">✕ {wrong}</em>{/if}
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if chart}
    {#each failed as { field, curves } (field)}
      <p class="none">✕ {labels.get(field) ?? field}: {curves.ok ? '' : curves.reason}</p>
    {/each}
    <div class="room">
      <Chart
        revision={query.revision}
        bind:painted
        bind:this={drawn}
        option={() => mtfOption(chart, labels, style, before)}
        label="MTF. {about}"
      />
      <ul aria-label="Fields">
        {#each chart.fields as { field }, i (field)}
          <li><i style:background={style.fields[i]}></i>{labels.get(field) ?? field}</li>
        {/each}
      </ul>
    </div>
  {/if}
</Tile>

<style>
  .none {
    margin: 0;
    color: var(--bad);
    font-size: var(--size-small);
  }

  .room {
    display: grid;
    grid-template-columns: 1fr auto;
    height: 100%;
  }

  em {
    color: var(--bad);
    font-style: normal;
  }

  input {
    width: 9em;
    font-family: var(--font-mono);
  }

  ul {
    margin: 8px 0 0;
    padding: 0;
    color: var(--muted);
    font-size: var(--size-small);
    list-style: none;
  }

  i {
    display: inline-block;
    width: 12px;
    height: 3px;
    margin-right: 5px;
    vertical-align: middle;
  }
</style>
