<script lang="ts">
  import { findMeasure, findParameter, MEASURES, listParameters, panelRows, type SettingSpec } from '@ulvex/core';
  import { untrack } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels, surfaceLabels } from '$lib/desk/lens-words.ts';
  import { plain, significant } from '$lib/format.ts';
  import { heldWords, numberTitle } from '$lib/desk/number-state.ts';
  import { seenProject } from '$lib/desk/seen-project.ts';
  import { useTileState } from '$lib/desk/tile-state.ts';
  import Chart from './Chart.svelte';
  import ExportMenu from './ExportMenu.svelte';
  import MapPanels from './MapPanels.svelte';
  import { isChart, panelOption, type ChartPanel } from './panel-option.ts';
  import { panelStyle } from './panel-style.ts';
  import PanelTable from './PanelTable.svelte';
  import { scanPanels } from './scan-panels.ts';
  import { ScanRun } from './scan-run.svelte.ts';
  import {
    MOST_MEASURES,
    rangeAbout,
    rangeTrouble,
    scanAxis,
    scanRequests,
    scanSettings,
    type ScanRange,
    type ScanSettings,
  } from './scan-settings.ts';
  import SettingField from '$lib/components/SettingField.svelte';
  import Tile from './Tile.svelte';
  import { greyWords } from './underneath.ts';

  interface Props {
    settings: unknown;
    onsettings: (settings: ScanSettings) => void;
  }
  let { settings: stored, onsettings }: Props = $props();
  /** Scans of so many points begin by themselves when the model rests. */
  const BY_ITSELF = 60;
  /** Scans that are kept: as many as boards usually have. */
  const KEPT = 8;
  const desk = useDesk();
  const place = useTileState();
  /** What is scanned: the project in the state of this place, and the reference in the same one. */
  const project = $derived(seenProject(desk.base, desk.project, place?.state ?? null));
  const lens = $derived(project.lenses.find(({ id }) => id === desk.lens?.id) ?? null);
  const reference = $derived(
    desk.reference && seenProject(desk.reference.project, desk.reference.project, place?.state ?? null),
  );
  const settings = $derived(scanSettings(stored, project, lens));

  const points = $derived(settings.axes.reduce((product, axis) => product * axis.points, 1));
  const asked = $derived(`${place?.state ?? ''} ${JSON.stringify(settings)}`);
  const urgent = () => desk.live.untilFree > 0;
  const run = $derived(desk.runs.of('scan', asked, () => new ScanRun(desk.runs, urgent), KEPT));
  const earlier = $derived(
    desk.runs.of('scan', `reference ${asked}`, () => new ScanRun(desk.runs, () => urgent() || run.active), KEPT),
  );
  const current = $derived(run.project === project);
  const held = $derived(settings.axes.map(({ address }) => heldWords(project, address)).find((one) => one !== null));

  function start() {
    if (!lens || held) return;
    const axes = settings.axes.map(scanAxis);
    const requests = scanRequests(settings, project, lens);
    run.start(project, axes, requests);
    if (reference) earlier.start(reference, axes, requests);
  }

  // A short scan is made anew once the model rests; a long one on request.
  $effect(() => {
    const resting = desk.live.settled === desk.revision && desk.shown === desk.project;
    void [asked, project, reference];
    const behind = () => !current || (reference !== null && earlier.project !== reference);
    if (resting && points <= BY_ITSELF) untrack(() => behind() && start());
  });

  const words = $derived(
    settings.axes.map(({ address }) => {
      const parameter = findParameter(project, address);
      return {
        title: numberTitle(project, address),
        unit: parameter.ok ? parameter.value.spec.unit : '',
      };
    }),
  );
  const made = $derived(run.rows.length > 0 ? scanPanels(settings, run.rows, words) : []);
  const was = $derived(
    reference && earlier.project === reference && earlier.done > 0 ? scanPanels(settings, earlier.rows, words) : [],
  );
  const charts = $derived(made.filter(isChart));
  const before = $derived<readonly ChartPanel[]>(was.filter(isChart));
  const maps = $derived(made.filter((panel) => panel.kind === 'map'));
  const tables = $derived(made.filter((panel) => panel.kind === 'table'));
  const labels = $derived(new Map([...surfaceLabels(lens), ...fieldLabels(lens)]));
  const style = $derived(panelStyle(3));
  const figures = $derived(
    made.flatMap(({ title, figures: own }) => (own ?? []).map((figure, k) => ({ ...figure, of: title, k }))),
  );
  let table = $state(false);
  let compare = $state<'beside' | 'difference'>('beside');
  let chart = $state<Chart | null>(null);
  let map = $state<MapPanels | null>(null);
  let painted = $state(-1);
  let wrong = $state<string | null>(null);
  const about = $derived(
    [
      words.map(({ title }, k) => `${title} in ${settings.axes[k].points} points`).join(' × '),
      ...(run.active ? [`${run.done} of ${run.of}`] : []),
      ...(current || run.state === 'none' ? [] : ['of an earlier version: scan again']),
      ...(was.length > 0 ? [greyWords(desk.reference?.label)] : []),
    ].join(' · '),
  );

  /** All numbers that can be turned, by what they belong to. */
  const numbers = $derived.by(() => {
    const all = listParameters(project).map(({ address }) => {
      const title = numberTitle(project, address);
      const parts = address.split('.');
      return {
        address,
        title,
        group: parts[2] === 'surfaces' ? title.split(' ').slice(0, -1).join(' ') : parts[0],
      };
    });
    const groups = [...new Set(all.map(({ group }) => group))];
    return groups.map((group) => [group, all.filter((one) => one.group === group)] as const);
  });

  function setAxis(index: number, axis: ScanRange | null) {
    wrong = axis && rangeTrouble(axis);
    if (wrong) return;
    const axes = axis ? settings.axes.with(index, axis) : settings.axes.filter((_, k) => k !== index);
    onsettings({ ...settings, axes });
  }

  function otherNumber(index: number, address: string) {
    const parameter = findParameter(project, address);
    if (parameter.ok)
      setAxis(index, { ...rangeAbout(address, parameter.value.value), points: settings.axes[index].points });
  }

  function addAxis() {
    const radius = listParameters(project).find(({ address }) => address.endsWith('.radius'));
    if (radius) onsettings({ ...settings, axes: [...settings.axes, rangeAbout(radius.address, radius.value)] });
  }

  function setMeasure(index: number, measure: string, own: Readonly<Record<string, unknown>>) {
    onsettings({ ...settings, measures: settings.measures.with(index, { measure, settings: own }) });
  }

  const number = (text: string) => Number(text.trim().replace('−', '-').replace(',', '.'));
</script>

<Tile title="Scan" {about} testid="scan-tile" carries={desk.revision} computing={run.active}>
  {#snippet tools()}
    {#if run.active}
      <Button small onclick={() => run.stop()} data-testid="scan-stop">stop</Button>
    {:else}
      <Button small onclick={start} disabled={Boolean(held)} data-testid="scan-start">scan</Button>
    {/if}
    {#if was.length > 0 && maps.length > 0}
      <Button small onclick={() => (compare = compare === 'beside' ? 'difference' : 'beside')}>{compare}</Button>
    {/if}
    <Button small aria-pressed={table} onclick={() => (table = !table)}>{table ? 'chart' : 'table'}</Button>
    <ExportMenu
      name="scan"
      exports={{
        ...(!table && { svg: () => (map ?? chart)?.svg() ?? null }),
        csv: () => (tables.length > 0 ? panelRows(tables) : null),
      }}
    />
  {/snippet}
  {#snippet choices()}
    {#each settings.axes as axis, index (index)}
      <div class="axis">
        <select
          aria-label="Number that is turned"
          value={axis.address}
          data-testid="scan-number-{index}"
          onchange={(event) => otherNumber(index, event.currentTarget.value)}
        >
          {#each numbers as [group, own] (group)}
            <optgroup label={group}>
              {#each own as { address, title } (address)}<option value={address}>{title}</option>{/each}
            </optgroup>
          {/each}
        </select>
        <label
          >from <input
            value={plain(axis.from, 8)}
            data-testid="scan-from-{index}"
            onchange={(event) => setAxis(index, { ...axis, from: number(event.currentTarget.value) })}
          /></label
        >
        <label
          >to <input
            value={plain(axis.to, 8)}
            data-testid="scan-to-{index}"
            onchange={(event) => setAxis(index, { ...axis, to: number(event.currentTarget.value) })}
          /></label
        >
        <label
          >points <input
            value={axis.points}
            data-testid="scan-points-{index}"
            onchange={(event) => setAxis(index, { ...axis, points: number(event.currentTarget.value) })}
          /></label
        >
        {#if settings.axes.length > 1}<Button small aria-label="Remove this number" onclick={() => setAxis(index, null)}
            >✕</Button
          >{/if}
      </div>
    {/each}
    {#if settings.axes.length < 2}<Button small onclick={addAxis} data-testid="scan-second">and a second number</Button
      >{/if}
    {#each settings.measures as { measure, settings: own }, index (index)}
      {@const spec = findMeasure(measure)}
      <div class="axis">
        <select
          aria-label="Measure"
          value={measure}
          data-testid="scan-measure-{index}"
          onchange={(event) => setMeasure(index, event.currentTarget.value, {})}
        >
          {#each MEASURES as { id, title } (id)}<option value={id}>{title}</option>{/each}
        </select>
        {#each Object.entries(spec?.settings ?? {}) as [id, setting] (id)}
          <SettingField
            spec={setting as SettingSpec}
            {lens}
            value={(own[id] as string | number | undefined) ??
              (setting.fallback === null ? (lens?.fields.points[0]?.id ?? '') : setting.fallback)}
            testid="scan-setting-{index}-{id}"
            onchange={(value) => setMeasure(index, measure, { ...own, [id]: value })}
          />
        {/each}
        {#if settings.measures.length > 1}
          <Button
            small
            aria-label="Remove this measure"
            onclick={() => onsettings({ ...settings, measures: settings.measures.filter((_, k) => k !== index) })}
            >✕</Button
          >
        {/if}
      </div>
    {/each}
    {#if settings.measures.length < MOST_MEASURES}
      <Button
        small
        data-testid="scan-more"
        onclick={() =>
          onsettings({
            ...settings,
            measures: [...settings.measures, { measure: 'effective_focal_length', settings: {} }],
          })}>and another measure</Button
      >
    {/if}
    {#if wrong}<p class="none" role="alert">✕ {wrong}</p>{/if}
  {/snippet}
  {#if held}
    <p class="none">✕ {numberTitle(project, settings.axes[0].address)}: {held}</p>
  {:else if run.state === 'failed'}
    <p class="none">✕ {run.reason}</p>
  {:else if made.length === 0}
    <p class="wait">{points} points: “scan” begins.</p>
  {:else}
    <div class="room">
      {#if run.active}<progress value={run.done} max={run.of} aria-label="Points scanned"></progress>{/if}
      <div class="main" class:scrolls={table}>
        {#if table}
          {#each tables as panel (panel.title)}<PanelTable {panel} before={null} {labels} />{/each}
        {:else if maps.length > 0}
          <MapPanels
            bind:this={map}
            panels={maps}
            before={was.filter((panel) => panel.kind === 'map')}
            {labels}
            {compare}
            heights={false}
          />
        {:else}
          <Chart
            bind:this={chart}
            revision={run.done}
            bind:painted
            option={(width, height) =>
              panelOption(charts, before, { columns: Math.min(charts.length, 2), compact: false }, labels, style, {
                width,
                height,
              })}
            label="Scan. {about}"
          />
        {/if}
      </div>
      <p class="foot" data-testid="scan-figures" data-done={run.done} data-state={run.state}>
        {#each figures as { name, value, unit, of, k } (`${of} ${k}`)}
          <span
            >{settings.measures.length > 1 && k === 0 ? `${of}: ` : ''}{name}
            <strong>{significant(value, 5)}</strong>
            {unit}</span
          >
        {/each}
      </p>
    </div>
  {/if}
</Tile>

<style>
  .room {
    display: flex;
    flex-direction: column;
    height: 100%;
  }

  .main {
    flex: 1;
    min-height: 0;
    overflow: hidden;
  }

  .scrolls {
    overflow: auto;
  }

  progress {
    width: 100%;
    height: 4px;
    accent-color: var(--accent);
  }

  .axis {
    display: flex;
    flex-wrap: wrap;
    flex-basis: 100%;
    gap: 4px 10px;
    align-items: center;
  }

  .axis input {
    width: 72px;
  }

  .none,
  .wait,
  .foot {
    margin: 0;
    font-size: var(--size-small);
  }

  .none {
    color: var(--bad);
  }

  .wait,
  .foot {
    color: var(--muted);
  }

  .foot {
    display: flex;
    flex-wrap: wrap;
    gap: 0 12px;
  }

  .foot strong {
    color: var(--ink);
    font-weight: 500;
  }
</style>
