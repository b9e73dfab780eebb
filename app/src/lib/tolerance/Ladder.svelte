<script lang="ts">
  import type { Tolerance } from '@ulvex/core';
  import { capability, influencesOf, toleranceTitle, type WatchedRequirement } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import { limitsText } from './groups.ts';
  import { boundText } from './limits.ts';
  import { nearest } from './nearest.ts';
  import type { LadderRun } from './ladder-run.svelte.ts';
  import Spark from './Spark.svelte';
  import Suggest from './Suggest.svelte';
  import type { RoomStudy } from './study-of.ts';

  interface Props {
    run: LadderRun;
    /** What would be studied now. */
    study: RoomStudy;
    /** The requirement that is looked at, with its limits of now. */
    watched: WatchedRequirement | null;
    /** Id of the tolerance that is looked at. */
    chosen: string | null;
  }
  let { run, study, watched, chosen = $bindable() }: Props = $props();
  const desk = useDesk();
  /** Tolerances with the limits that are being typed. */
  const tolerances = $derived((desk.shown.tolerancing?.tolerances ?? []).filter(({ off }) => !off));
  const current = $derived(run.isOf(study));
  const known = $derived(current || run.active ? tolerances.filter((one) => run.curvesOf(one)) : []);
  const untried = $derived(tolerances.filter((one) => !run.knows(one)).length);
  const k = $derived(run.study?.watched.findIndex(({ id }) => id === watched?.id) ?? -1);
  const influences = $derived.by(() => {
    const found = influencesOf(
      known,
      known.map((one) => run.curvesOf(one)!),
    );
    return found.ok ? found.value : null;
  });
  interface Rung {
    readonly tolerance: Tolerance;
    readonly influence: NonNullable<typeof influences>[number][number];
    readonly failure: { readonly at: number; readonly reason: string } | undefined;
  }
  /** Worst first: what spreads the measure most. */
  const rungs = $derived.by((): Rung[] => {
    if (!influences || k < 0) return [];
    return known
      .map((tolerance, i) => ({
        tolerance,
        influence: influences[i][k],
        failure: run.curvesOf(tolerance)?.failure,
      }))
      .sort((a, b) => b.influence.deviation - a.influence.deviation);
  });
  const nominal = $derived.by(() => {
    const found = run.design.values[k];
    return found?.ok ? found.value : null;
  });
  /** As if all departures were independent, their effects added: what the curves say without cross terms. */
  const sum = $derived.by(() => {
    if (nominal === null || rungs.length === 0) return null;
    const mean = nominal + rungs.reduce((total, { influence }) => total + influence.shift, 0);
    const deviation = Math.hypot(...rungs.map(({ influence }) => influence.deviation));
    return { mean, deviation, yield: capability(mean, deviation, watched ?? {}).yield };
  });
  const widest = $derived(rungs[0]?.influence.deviation ?? 0);
  /** One range for all curves, so that they can be compared. */
  const span = $derived.by((): [number, number] => {
    const values = rungs.flatMap(({ influence }) => influence.values.filter((value) => value !== null));
    return values.length === 0 ? [0, 1] : [Math.min(...values), Math.max(...values)];
  });
  let suggesting = $state(false);
  const unit = $derived(watched?.unit ? ` ${watched.unit}` : '');
  const bound = $derived(boundText(watched ?? {}));
</script>

<PanelFrame title="One by one" data-testid="ladder">
  {#snippet tools()}
    {#if run.active}
      <span class="muted">{run.done} of {run.of}</span>
      <Button small onclick={() => run.stop()}>Stop</Button>
    {:else}
      {#if current && untried === 0 && rungs.length > 0}
        <Button
          small
          aria-pressed={suggesting}
          data-testid="suggest"
          title="The loosest limits for a wanted yield"
          onclick={() => (suggesting = !suggesting)}>Suggest limits</Button
        >
      {/if}
      <Button
        small
        strong={untried > 0}
        disabled={tolerances.length === 0 || study.watched.length === 0 || (current && untried === 0)}
        data-testid="ladder-run"
        onclick={() => run.start()}
        >{!current || known.length === 0 ? 'Try each' : untried > 0 ? `Try ${untried} more` : 'Tried'}</Button
      >
    {/if}
  {/snippet}
  {#if run.state === 'failed'}<p class="bad" role="alert">✕ {run.reason}</p>{/if}
  {#if study.watched.length === 0}
    <p class="muted">Nothing is watched: set requirements with limits in Brief.</p>
  {:else if rungs.length === 0}
    <p class="muted">
      {#if tolerances.length === 0}No tolerances yet: apply a grade at the left.
      {:else if run.active}Each tolerance is taken over its range, all else as designed…
      {:else if run.study && !current}The design has changed since the last study. Try each again.
      {:else}“Try each” takes every tolerance over its range, all else as designed, and ranks what it does to each
        requirement.{/if}
    </p>
  {:else}
    {#if sum}
      <p class="sum" title="Effects of all tolerances added as independent ones, without cross terms">
        <span>design <strong>{significant(nominal!, 4)}</strong></span>
        <span>mean <strong data-testid="ladder-mean" data-value={sum.mean}>{significant(sum.mean, 4)}</strong></span>
        <span
          >σ <strong data-testid="ladder-sigma" data-value={sum.deviation}>{significant(sum.deviation, 3)}</strong
          >{unit}</span
        >
        {#if bound !== '–'}<span>yield <strong>{(100 * sum.yield).toFixed(1)} %</strong> for {bound}{unit}</span>{/if}
      </p>
    {/if}
    {#if suggesting}<Suggest {run} {study} {tolerances} onclose={() => (suggesting = false)} />{/if}
    <ol>
      {#each rungs as { tolerance, influence, failure } (tolerance.id)}
        {@const share = widest > 0 ? influence.deviation / widest : 0}
        <li class:chosen={chosen === tolerance.id} {@attach nearest(chosen === tolerance.id)}>
          <button
            aria-pressed={chosen === tolerance.id}
            data-testid="rung-{tolerance.id}"
            data-deviation={influence.deviation}
            onclick={() => (chosen = tolerance.id)}
          >
            <span class="name">{toleranceTitle(desk.base, tolerance)} <i>{limitsText(tolerance)}</i></span>
            <span class="bar" style:width="{Math.max(0.5, 100 * share)}%"></span>
          </button>
          <Spark {influence} limits={tolerance} {span} />
          <span
            class="number"
            title="Standard deviation{unit}; at its limits: {influence.ends
              .map((value) => (value === null ? 'no value' : significant(value, 4)))
              .join(' and ')}"
            >{significant(influence.deviation, 3)}<br /><i>{(100 * influence.share).toFixed(0)} %</i></span
          >
          {#if failure}<span class="bad note">✕ at {significant(failure.at, 3)}: {failure.reason}</span>
          {:else if influence.error !== undefined && influence.deviation < influence.error}<span class="warn note"
              >! below the noise of rays, ±{significant(influence.error, 2)}{influence.deviation > 0
                ? `: ${significant(Math.min(1e6, (2 * influence.error) / influence.deviation) ** 2, 1)} times the rays would show it`
                : ''}</span
            >
          {:else if influence.extrapolated}<span class="warn note">! wider than it was tried: by the fit</span>
          {:else if (influence.fit?.residual ?? 0) > 0.1}<span class="warn note"
              >! bends: the fit is off by {(100 * influence.fit!.residual).toFixed(0)} % of its range</span
            >{/if}
        </li>
      {/each}
    </ol>
  {/if}
</PanelFrame>

<style>
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 70px 52px;
    gap: 0 8px;
    align-items: center;
    padding: 1px 0;
    border-top: 1px solid var(--grid);
  }

  li button {
    display: block;
    width: 100%;
    padding: 1px 4px 2px;
    border: 0;
    border-radius: var(--radius);
    background: none;
    text-align: left;
  }

  .chosen button {
    background: var(--accent-ground);
    color: var(--accent);
  }

  .name {
    display: block;
    overflow: hidden;
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  i {
    color: var(--muted);
    font-style: normal;
  }

  .bar {
    display: block;
    height: 5px;
    background: var(--glass-3);
  }

  .chosen .bar {
    background: var(--accent);
  }

  .number {
    font-size: var(--size-small);
    font-variant-numeric: tabular-nums;
    line-height: 1.15;
    text-align: right;
  }

  .note {
    grid-column: 1 / -1;
    padding-left: 4px;
    font-size: var(--size-small);
  }

  .sum {
    display: flex;
    flex-wrap: wrap;
    gap: 0 14px;
  }

  p {
    margin: 0;
    font-size: var(--size-small);
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
