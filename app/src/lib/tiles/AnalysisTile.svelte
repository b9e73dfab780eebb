<script lang="ts" module>
  import type MapPanels from './MapPanels.svelte';
  import type PicturePanels from './PicturePanels.svelte';

  // What draws maps and pictures comes when the first of them is shown: most tiles have none.
  let Maps = $state.raw<typeof MapPanels | null>(null);
  let Pictures = $state.raw<typeof PicturePanels | null>(null);
</script>

<script lang="ts">
  import {
    analysisSettings,
    findAnalysis,
    looksAtScene,
    panelRows,
    type Analysed,
    type DotPanel,
    thingTitle,
    type SettingSpec,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels, surfaceLabels } from '$lib/desk/lens-words.ts';
  import { significant } from '$lib/format.ts';
  import { withError } from '$lib/plots/light-map.ts';
  import Chart from './Chart.svelte';
  import DotPanels from './DotPanels.svelte';
  import ExportMenu from './ExportMenu.svelte';
  import {
    areDots,
    earlierOf,
    isChart,
    layoutOf,
    legendOf,
    panelOption,
    shownName,
    type ChartPanel,
  } from './panel-option.ts';
  import { panelStyle } from './panel-style.ts';
  import PanelTable from './PanelTable.svelte';
  import SettingField from '$lib/components/SettingField.svelte';
  import Tile from './Tile.svelte';
  import { greyWords } from './underneath.ts';

  interface Props {
    /** Id of the analysis. */
    kind: string;
    settings: unknown;
    onsettings: (settings: Readonly<Record<string, string | number>>) => void;
  }
  let { kind, settings: stored, onsettings }: Props = $props();
  const desk = useDesk();
  const analysis = $derived(findAnalysis(kind)!);
  /** Settings as a project may hold them: where any is not legal, all fall back to their defaults. */
  const settings = $derived.by((): Readonly<Record<string, string | number>> => {
    const read = analysisSettings(analysis, stored ?? {});
    if (read.ok) return read.value;
    const plain = analysisSettings(analysis, {});
    return plain.ok ? plain.value : {};
  });
  /** Id of the lens or scene that it looks at; null where the project has none. */
  const subject = $derived((looksAtScene(analysis) ? desk.scene : desk.lens)?.id ?? null);
  const ask = (id: string, resolved?: Analysed['resolved']) =>
    ({
      kind: 'analysis',
      analysis: analysis.id,
      lens: looksAtScene(analysis) ? '' : id,
      ...(looksAtScene(analysis) && { scene: id }),
      settings: { ...settings, ...resolved },
      detail: 'full',
    }) as const;
  const query = desk.live.query(() => (subject === null ? null : ask(subject)));
  const found = $derived(query.answer?.ok ? query.answer.value : null);
  // By the same ranges and scales, so that both can be compared.
  const beforeQuery = desk.referenceLive.query(() =>
    desk.reference && subject !== null ? ask(subject, found?.resolved) : null,
  );
  const before = $derived(desk.reference && beforeQuery.answer?.ok ? beforeQuery.answer.value : null);
  const labels = $derived(new Map([...surfaceLabels(desk.lens), ...fieldLabels(desk.lens)]));
  const style = $derived(panelStyle(desk.lens?.fields.points.length ?? 0));
  const of = <K extends Analysed['panels'][number]['kind']>(from: Analysed | null, wanted: K) =>
    (from?.panels ?? []).filter(
      (panel): panel is Extract<Analysed['panels'][number], { kind: K }> => panel.kind === wanted,
    );
  const charts = $derived((found?.panels ?? []).filter(isChart));
  const earlier = $derived<readonly ChartPanel[]>((before?.panels ?? []).filter(isChart));
  const maps = $derived(of(found, 'map'));
  const pictures = $derived(of(found, 'picture'));
  const tables = $derived(of(found, 'table'));
  const legend = $derived(legendOf(charts, style, labels));
  const layout = $derived(layoutOf(charts, found ?? {}));
  const dotted = $derived(areDots(charts, layout));
  const figures = $derived(
    (dotted ? [] : (found?.panels ?? [])).flatMap(({ title, figures: own }, i) =>
      (own ?? []).map((figure) => ({
        ...figure,
        of: maps.length > 1 ? title : '',
        key: `${i} ${figure.name}`,
        was: before?.panels[i]?.figures?.find(({ name, unit }) => name === figure.name && unit === figure.unit)?.value,
      })),
    ),
  );
  /** Whether the reference can be laid under: its axes may differ, as angles differ from heights. */
  const laid = $derived(charts.length === 0 || charts.some((panel) => earlierOf(earlier, panel)));
  const about = $derived(
    [
      ...(found?.about ?? []),
      ...(query.pending && query.answer ? ['coarse, being refined'] : []),
      ...(before ? [laid ? greyWords(desk.reference?.label) : 'the reference has other units and is not shown'] : []),
    ].join(' · '),
  );
  $effect(() => {
    if (maps.length > 0 && !Maps) void import('./MapPanels.svelte').then((part) => (Maps = part.default));
    if (pictures.length > 0 && !Pictures)
      void import('./PicturePanels.svelte').then((part) => (Pictures = part.default));
  });
  /** Whether what draws the answer is still to come. */
  const awaited = $derived((maps.length > 0 && !Maps) || (pictures.length > 0 && !Pictures));
  let table = $state(false);
  /** Whether tables are shown. */
  const listed = $derived(tables.length > 0 && (table || charts.length + maps.length === 0));
  let painted = $state(-1);
  /** Whether a chart is shown: it is drawn later than it is known. */
  const charted = $derived(maps.length + pictures.length === 0 && charts.length > 0 && !table && !dotted);
  let compare = $state<'beside' | 'difference'>('beside');
  let heights = $state(false);
  let chart = $state<Chart | null>(null);
  let map = $state<MapPanels | null>(null);
  let picture = $state<PicturePanels | DotPanels | null>(null);

  /** What an id of the scene can be, by the setting that it is for. */
  function idsOf(setting: string): readonly (readonly [string, string])[] | undefined {
    const { scene } = desk;
    if (!scene || !looksAtScene(analysis)) return undefined;
    const named = (things: readonly { readonly id: string; readonly name?: string }[], none: string) => [
      ['', none] as const,
      ...things.map((thing) => [thing.id, thingTitle(thing)] as const),
    ];
    if (setting === 'detector') return named(scene.detectors, 'the first');
    return setting === 'source' ? named(scene.sources, 'all') : undefined;
  }

  const change = (id: string, value: string | number) => onsettings({ ...settings, [id]: value });
  const specs = $derived(
    (Object.entries(analysis.settings) as [string, SettingSpec][]).filter(
      ([, { when }]) => !when || when.is.includes(String(settings[when.setting])),
    ),
  );
  const exports = $derived({
    ...(charts.length + maps.length + pictures.length > 0 &&
      !table && {
        svg: () => (picture ?? map ?? chart)?.svg() ?? null,
      }),
    csv: () => (found ? panelRows(found.panels) : null),
    legend: () => legend,
  });
</script>

<Tile
  title={analysis.title}
  {about}
  testid="{analysis.id}-tile"
  carries={awaited ? -1 : charted ? painted : query.revision}
  computing={query.pending}
>
  {#snippet tools()}
    {#if before && maps.length > 0}
      <Button
        small
        title="Show the reference beside, or what has changed since"
        onclick={() => (compare = compare === 'beside' ? 'difference' : 'beside')}>{compare}</Button
      >
    {/if}
    {#if maps.length > 0}
      <Button small aria-pressed={heights} title="Show the values as heights" onclick={() => (heights = !heights)}
        >heights</Button
      >
    {/if}
    {#if tables.length > 0 && charts.length + maps.length > 0}
      <Button small aria-pressed={table} onclick={() => (table = !table)}>{table ? 'chart' : 'table'}</Button>
    {/if}
    <ExportMenu name={analysis.id.replaceAll('_', '-')} {exports} />
  {/snippet}
  {#snippet choices()}
    {#each specs as [id, spec] (id)}
      <SettingField
        {spec}
        value={settings[id] ?? ''}
        lens={desk.lens}
        ids={idsOf(id)}
        testid="{analysis.id}-{id}"
        onchange={(value) => change(id, value)}
      />
    {/each}
    <p class="meaning">{analysis.meaning}</p>
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if found}
    <div class="room">
      {#each found.missing ?? [] as line (line)}<p class="none">✕ {shownName(line, labels)}</p>{/each}
      {#if found.words}{@const words = found.words.map((sentence) => shownName(sentence, labels))}
        <p class="words" title={words.join('\n')}>{words.join(' ')}</p>{/if}
      <div class="main" class:scrolls={listed}>
        {#if listed}
          {#each tables as panel (panel.title)}
            <PanelTable
              {panel}
              before={of(before, 'table').find(({ title }) => title === panel.title) ?? null}
              {labels}
            />
          {/each}
        {:else if awaited}
          <p class="wait">Drawing…</p>
        {:else if pictures.length > 0}
          <Pictures bind:this={picture} panels={pictures} before={of(before, 'picture')} {labels} />
        {:else if maps.length > 0}
          <Maps bind:this={map} panels={maps} before={of(before, 'map')} {labels} {compare} {heights} />
        {:else if dotted}
          <DotPanels
            bind:this={picture}
            panels={charts as readonly DotPanel[]}
            before={earlier as readonly DotPanel[]}
            {labels}
            {style}
            columns={found.columns}
            testid="figure-{analysis.id}"
          />
        {:else if charts.length > 0}
          <Chart
            bind:this={chart}
            revision={query.revision}
            bind:painted
            option={(width, height) => panelOption(charts, earlier, layout, labels, style, { width, height })}
            label="{analysis.title}. {about}"
          />
        {/if}
      </div>
      {#if legend.length > 0 || figures.length > 0}
        <p class="foot">
          {#each legend as { name, colour, stroke } (name)}
            <span><i style:border-top="2px {stroke} {colour}"></i>{name}</span>
          {/each}
          {#each figures as { name, value, error, unit, was, of: whose, key } (key)}
            <span
              class="figure"
              data-testid="figure-{analysis.id}-{key.replaceAll(' ', '-')}"
              data-value={value}
              data-was={was}
              >{whose ? `${shownName(whose, labels)}: ` : ''}{shownName(name, labels)}
              <strong
                >{Number.isNaN(value)
                  ? '–'
                  : error === undefined
                    ? significant(value, 4)
                    : withError({ value, standardError: error }, '').trim()}</strong
              >
              {Number.isFinite(value) ? unit : ''}
              {#if was !== undefined && was !== value}<em>was {significant(was, 4)}</em>{/if}</span
            >
          {/each}
        </p>
      {/if}
    </div>
  {:else if subject === null}
    <p class="wait">
      {looksAtScene(analysis)
        ? 'This project has no scene yet: add one in Layout.'
        : 'This project has no lens yet: add one in Layout.'}
    </p>
  {:else}
    <p class="wait">Computing…</p>
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

  .none,
  .words,
  .wait,
  .foot,
  .meaning {
    margin: 0;
    font-size: var(--size-small);
  }

  .words {
    display: -webkit-box;
    flex-shrink: 0;
    overflow: hidden;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 3;
    line-clamp: 3;
  }

  .none {
    color: var(--bad);
  }

  .wait,
  .meaning,
  .foot {
    color: var(--muted);
  }

  .meaning {
    flex-basis: 100%;
    max-width: 80ch;
  }

  .foot {
    display: flex;
    flex-wrap: wrap;
    gap: 0 12px;
    max-height: 4.8em;
    overflow-y: auto;
    scrollbar-width: thin;
  }

  .foot span {
    white-space: nowrap;
  }

  .foot i {
    display: inline-block;
    width: 14px;
    margin-right: 4px;
    vertical-align: middle;
  }

  .figure strong {
    color: var(--ink);
    font-weight: 500;
    font-variant-numeric: tabular-nums;
  }

  .figure em {
    font-style: normal;
  }
</style>
