<script lang="ts">
  import { failure, parseQuantity, success, type Outcome } from '@ulvex/core';
  import {
    compensatorTitle,
    compensatorUnit,
    keeps,
    summaryOf,
    yieldInterval,
    type LotTrial,
    type WatchedRequirement,
  } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { percent, significant } from '$lib/format.ts';
  import { MOST_TRIALS, type LotRun } from './lot-run.svelte.ts';
  import type { RoomStudy } from './study-of.ts';
  import { badness } from './limits.ts';
  import { limitHandles } from './limit-handles.ts';
  import WatchTable from './WatchTable.svelte';
  import { againstChoices, type TrialPoint } from './scatter.ts';
  import Scatter from './Scatter.svelte';
  import Yield from './Yield.svelte';
  import ExportMenu from '$lib/tiles/ExportMenu.svelte';

  interface Props {
    run: LotRun;
    study: RoomStudy;
    /** What is watched, with limits of now. */
    watched: readonly WatchedRequirement[];
    /** Id of the requirement that is looked at. */
    looked: string | null;
    /** Values of the design, compensated, in the order of what is watched; empty before they are known. */
    nominals: readonly Outcome<number>[];
    onopen: (trial: LotTrial) => void;
    /** Keeps the trial that is looked at as a state. */
    onkeep: () => void;
    /** The trial that is looked at in every room. */
    opened: number | null;
  }
  let { run, study, watched, looked = $bindable(), nominals, onopen, onkeep, opened }: Props = $props();
  const desk = useDesk();
  let count = $state(500);
  let seed = $state(1);
  let within = $state<number | null>(null);
  const stale = $derived(run.study !== null && !run.isOf(study));
  const trials = $derived(run.trials);
  /** What was watched, with the limits of now. */
  const columns = $derived((run.study?.watched ?? []).map((one) => watched.find(({ id }) => id === one.id) ?? one));
  const summaries = $derived(
    columns.map((limits, k) =>
      summaryOf(
        trials.map(({ values }) => values[k]),
        limits,
        trials.map(({ errors }) => errors?.[k] ?? null),
      ),
    ),
  );
  /** Which of them count now. */
  const counted = $derived(columns.map((one) => watched.some(({ id }) => id === one.id)));
  const keepsAll = (values: LotTrial['values']) => values.every((value, i) => !counted[i] || keeps(value, columns[i]));
  const passed = $derived(trials.filter(({ values }) => keepsAll(values)).length);
  const range = $derived(trials.length > 0 ? yieldInterval(passed, trials.length) : null);
  const lost = $derived(trials.filter(({ reason }) => reason !== undefined));
  const nominal = $derived.by(() => {
    const found = nominals[k];
    return found?.ok ? found.value : null;
  });
  const k = $derived(columns.findIndex(({ id }) => id === looked));
  const summary = $derived(k < 0 ? null : summaries[k]);
  const values = $derived(
    k < 0 ? [] : trials.flatMap(({ values: all }) => (all[k] === null ? [] : [all[k] as number])),
  );
  /** The trials to look at first: the worst, the middle one and the best of the measure at hand. */
  const picks = $derived.by(() => {
    if (k < 0 || values.length < 3) return [];
    const bad = badness(columns[k], summary?.mean ?? 0);
    const sorted = trials
      .filter(({ values: all }) => all[k] !== null)
      .sort((a, b) => bad(b.values[k] as number) - bad(a.values[k] as number));
    return [
      { word: 'worst', trial: sorted[0] },
      { word: 'median', trial: sorted[Math.floor(sorted.length / 2)] },
      { word: 'best', trial: sorted[sorted.length - 1] },
      ...lost.slice(0, 1).map((trial) => ({ word: 'lost', trial })),
    ];
  });
  /** Requirements that the design itself misses: no tolerance makes good for them. */
  const missed = $derived(
    columns.filter((one, i) => {
      const found = nominals[i];
      return counted[i] && found?.ok && !keeps(found.value, one);
    }),
  );
  const summaryById = $derived(
    Object.fromEntries(columns.flatMap(({ id }, i) => (summaries[i] ? [[id, summaries[i]]] : []))),
  );
  /** How far what is set after making moved. */
  const moves = $derived(
    (run.study?.compensators ?? []).flatMap((one, i) => {
      const found = summaryOf(
        trials.flatMap(({ moved }) => (moved.length > i ? [moved[i]] : [])),
        {},
      );
      const unit = compensatorUnit(desk.base, one);
      return found ? [{ id: one.id, title: compensatorTitle(desk.base, one), unit, ...found }] : [];
    }),
  );

  /** Trials that a cloud of points has: more of them hide each other. */
  const SHOWN = 2000;
  const AGAINST = ['Requirements', 'Set after making', 'Tolerances'] as const;
  const choices = $derived(run.study ? againstChoices(run.study, run.seed) : []);
  /** What the requirement at hand is drawn against; its distribution for nothing. */
  let againstId = $state('');
  const against = $derived(choices.find(({ id }) => id === againstId && id !== `watched ${looked}`));
  const points = $derived.by(() => {
    if (!against || k < 0) return [];
    const shown = trials.slice(0, SHOWN);
    const xs = against.of(shown);
    return shown.flatMap(({ trial, values }, i): TrialPoint[] => {
      const [x, y] = [xs[i], values[k]];
      return x === null || y === null ? [] : [{ trial, x, y, passes: keepsAll(values) }];
    });
  });

  let picture = $state<Yield | null>(null);
  let cloud = $state<Scatter | null>(null);
  const exports = $derived({ csv: rows, ...(k >= 0 && { svg: () => (cloud ?? picture)?.svg() ?? null }) });

  const whole =
    (least: number, most: number) =>
    (text: string): Outcome<number> => {
      const read = parseQuantity(text, { kind: 'number' });
      if (!read.ok) return read;
      const wrong = !Number.isInteger(read.value) || read.value < least || read.value > most;
      return wrong ? failure(`A whole number from ${least} to ${most} is wanted.`) : read;
    };
  function readWithin(text: string): Outcome<number | null> {
    if (/^\s*(–|-|none)?\s*$/.test(text)) return success(null);
    const read = parseQuantity(text.replace('%', ''), { kind: 'number' });
    if (!read.ok) return read;
    return read.value > 0 && read.value < 50 ? success(read.value / 100) : failure('From 0.1 to 50 %, or nothing.');
  }

  function rows(): (string | number)[][] {
    return [
      [
        'trial',
        ...columns.map(({ title, unit }) => `${title}${unit && `, ${unit}`}`),
        ...moves.map(({ title, unit }) => `${title}${unit && `, ${unit}`}`),
        'passed',
        'reason',
      ],
      ...trials.map((one) => [
        one.trial,
        ...one.values.map((value) => value ?? ''),
        ...moves.map((_, i) => one.moved[i] ?? ''),
        keepsAll(one.values) ? 1 : 0,
        one.reason ?? '',
      ]),
    ];
  }
</script>

<PanelFrame title="Lot" data-testid="lot" class="lot">
  {#snippet tools()}
    <span class="asked">
      <Cell
        label="Number of trials"
        text={String(count)}
        row={0}
        col={0}
        testid="lot-count"
        read={whole(10, MOST_TRIALS)}
        oncommit={(value) => (count = value)}
      /> trials
    </span>
    <span class="asked" title="The same seed makes the same lot">
      seed <Cell
        label="Seed"
        text={String(seed)}
        row={0}
        col={1}
        testid="lot-seed"
        read={whole(0, 4294967295)}
        oncommit={(value) => (seed = value)}
      />
    </span>
    <span class="asked" title="Ends as soon as the yield is known within so much, at 95 %">
      or yield ± <Cell
        label="Yield known within, %"
        text={within === null ? '–' : String(100 * within)}
        row={0}
        col={2}
        testid="lot-within"
        read={readWithin}
        oncommit={(value) => (within = value)}
      /> %
    </span>
    {#if run.active}
      <Button small onclick={() => run.pause()}>Pause</Button>
    {:else if run.state === 'paused'}
      <Button small onclick={() => run.resume()}>Go on</Button>
    {:else}
      <Button
        small
        strong
        disabled={study.tolerances.length === 0 || study.watched.length === 0}
        data-testid="lot-run"
        onclick={() => run.start(count, seed, within)}>{trials.length === 0 || stale ? 'Make' : 'Make again'}</Button
      >
    {/if}
  {/snippet}
  {#if run.active || run.state === 'paused'}
    <p class="muted" data-testid="lot-progress">
      {run.done} of {run.of} trials{run.state === 'paused' ? ', paused' : ''}
      <progress max={run.of} value={run.done}></progress>
    </p>
  {/if}
  {#if run.state === 'failed'}<p class="bad" role="alert">✕ {run.reason}</p>{/if}
  {#if trials.length === 0}
    {#if !run.active}
      <p class="muted">
        A lot is made at random: every trial departs by its tolerances, is refocused, and is evaluated in full. It shows
        the yield to expect.
      </p>
    {/if}
  {:else}
    {#if stale && !run.active}<p class="warn">! The design or its tolerances have changed since this lot.</p>{/if}
    <p class="yield">
      <strong data-testid="lot-yield" data-value={passed / trials.length} data-trials={trials.length}
        >{percent(passed / trials.length)}</strong
      >
      of {trials.length} keep every requirement
      {#if range}<span class="muted">{percent(range[0])} to {percent(range[1])} at 95 %</span>{/if}
      <ExportMenu title="Lot: {columns[k]?.title ?? ''}" name="lot" {exports} />
    </p>
    {#if missed.length > 0}
      <p class="warn">! The design itself misses: {missed.map(({ title }) => title).join(', ')}.</p>
    {/if}
    <WatchTable {watched} summaries={summaryById} bind:looked missing="no trial has a value" />
    {#if summary && k >= 0}
      <label class="against"
        >Picture <select bind:value={againstId} data-testid="against"
          ><option value="">distribution</option>
          {#each AGAINST as group (group)}
            {@const members = choices.filter((one) => one.group === group && one.id !== `watched ${looked}`)}
            {#if members.length > 0}
              <optgroup label="against {group.toLowerCase()}"
                >{#each members as { id, title, unit } (id)}<option value={id}>{title}{unit && `, ${unit}`}</option
                  >{/each}</optgroup
              >
            {/if}
          {/each}</select
        >{#if against && trials.length > SHOWN}<span class="muted">the first {SHOWN} trials</span>{/if}</label
      >
      {#if against}
        <Scatter
          bind:this={cloud}
          {points}
          across={against}
          up={columns[k]}
          {opened}
          onpick={(trial) => onopen(trials[trial])}
        />
      {:else}
        <Yield
          bind:this={picture}
          {values}
          title={columns[k].title}
          unit={columns[k].unit}
          limits={columns[k]}
          mean={summary.mean}
          deviation={summary.deviation}
          {nominal}
          marked={opened === null ? null : (trials[opened]?.values[k] ?? null)}
          {...limitHandles(desk, looked)}
        />
      {/if}
    {/if}
    <p class="picks">
      {#each picks as { word, trial } (word)}
        <Button
          small
          aria-pressed={opened === trial.trial}
          data-testid="open-{word}"
          title={trial.reason ?? `Look at trial ${trial.trial} in every room`}
          onclick={() => onopen(trial)}
          >{word}: {trial.trial}{k >= 0 && trial.values[k] !== null
            ? `, ${significant(trial.values[k] as number, 3)}`
            : ''}</Button
        >
      {/each}
      {#if opened !== null}<Button
          small
          data-testid="keep-as-state"
          title="A state with all numbers of trial {opened}: for boards, requirements and comparison with the design"
          onclick={onkeep}>Keep {opened} as a state</Button
        >{/if}
      {#if summary}<span class="muted" title="Below these values are 10, 50 and 90 % of the trials"
          >10 · 50 · 90 %: {significant(summary.percentiles.p10, 4)} · {significant(summary.percentiles.p50, 4)} · {significant(
            summary.percentiles.p90,
            4,
          )}</span
        >{/if}
      {#if summary?.noise}
        {@const { spread, spreadRange, deviation } = summary.noise}
        <span
          data-testid="noise"
          data-spread={spread}
          title="Independent, so that their squares add: between {spreadRange
            .map((value) => significant(value, 2))
            .join(' and ')} at two standard errors"
          >σ by tolerances {significant(spread, 3)}{spreadRange[0] === 0 ? ' (none is certain)' : ''}, by rays {significant(
            deviation,
            3,
          )}</span
        >
      {/if}
      {#each moves as { id, title, unit, mean, deviation, least, largest } (id)}
        <span
          class="muted"
          data-testid="moved-{id}"
          title="How far it was set: mean ± standard deviation; from {significant(least, 3)} to {significant(
            largest,
            3,
          )} {unit}">{title} {significant(mean, 2)} ± {significant(deviation, 2)} {unit}</span
        >
      {/each}
    </p>
    {#if lost.length > 0}
      <p class="bad">✕ {lost.length} without a value; trial {lost[0].trial}: {lost[0].reason}</p>
    {/if}
  {/if}
</PanelFrame>

<style>
  .asked {
    display: inline-flex;
    gap: 2px;
    align-items: baseline;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .asked :global(.cell) {
    width: 48px;
  }

  p {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 8px;
    align-items: baseline;
    margin: 0;
    font-size: var(--size-small);
  }

  .against {
    display: flex;
    gap: 6px;
    align-items: center;
    font-size: var(--size-small);
  }

  .against select {
    max-width: 260px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
  }

  .yield strong {
    font-size: 20px;
    font-variant-numeric: tabular-nums;
    line-height: 1.1;
  }

  progress {
    width: 120px;
    height: 6px;
    accent-color: var(--accent);
  }

  .muted {
    color: var(--muted);
  }

  .warn {
    color: var(--warn);
  }

  .bad {
    color: var(--bad);
  }
</style>
