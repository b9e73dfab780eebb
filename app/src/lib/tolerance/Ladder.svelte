<script lang="ts">
  import type { Tolerance } from '@ulvex/core';
  import {
    capability,
    curvesOf,
    influencesOf,
    toleranceTitle,
    type Response,
    type Sampled,
    type WatchedRequirement,
    together,
  } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { percent, significant } from '$lib/format.ts';
  import { limitsText } from './groups.ts';
  import { boundText } from './limits.ts';
  import { nearest } from './nearest.ts';
  import type { LadderRun } from './ladder-run.svelte.ts';
  import Spark from './Spark.svelte';
  import Suggest from './Suggest.svelte';
  import type { RoomStudy } from './study-of.ts';

  interface Props {
    run: LadderRun;
    /** All tolerances by derivatives at the design; null while that is not known. */
    response: Response | null;
    /** The same as fitted to trials; null where that was not done. */
    fitted: Response | null;
    /** What would be studied now. */
    study: RoomStudy;
    /** The requirement that is looked at, with its limits of now. */
    watched: WatchedRequirement | null;
    /** Id of the tolerance that is looked at. */
    chosen: string | null;
  }
  let { run, response, fitted, study, watched, chosen = $bindable() }: Props = $props();
  const desk = useDesk();
  /** Tolerances with the limits that are being typed. */
  const tolerances = $derived((desk.shown.tolerancing?.tolerances ?? []).filter(({ off }) => !off));
  const current = $derived(run.isOf(study));
  const tried = $derived(current || run.active);
  /** Curves by derivatives, of the limits that are being typed, by tolerance. */
  const drawn = $derived.by(() => {
    if (!response) return {};
    const now = response.tolerances.map((one) => tolerances.find(({ id }) => id === one.id) ?? one);
    return Object.fromEntries(curvesOf({ ...response, tolerances: now }).map((one) => [one.tolerance, one]));
  });
  /** What is known of a tolerance: as it was tried, or else by derivatives, its curves in the order of what is watched now. */
  function curvesAt(one: Tolerance): Sampled | undefined {
    const traced = tried ? run.curvesOf(one) : undefined;
    if (traced) return { ...traced, curves: inOrder(traced.curves, run.study!.watched) };
    const derived = drawn[one.id] as Sampled | undefined;
    return derived && { ...derived, curves: inOrder(derived.curves, response!.compositions) };
  }
  function inOrder(curves: Sampled['curves'], of: readonly { readonly id: string }[]): Sampled['curves'] {
    return study.watched.map(({ id }) => curves[of.findIndex((one) => one.id === id)] ?? NO_CURVE);
  }
  const curves = $derived(tolerances.map(curvesAt));
  const known = $derived(tolerances.filter((_, i) => curves[i]));
  const whole = $derived(curves.filter((one) => one !== undefined));
  const untried = $derived(tolerances.filter((one) => !run.knows(one)).length);
  const k = $derived(study.watched.findIndex(({ id }) => id === watched?.id));
  const influences = $derived.by(() => {
    const found = influencesOf(known, whole);
    return found.ok ? found.value : null;
  });
  interface Rung {
    readonly tolerance: Tolerance;
    readonly influence: NonNullable<typeof influences>[number][number];
    readonly failure: { readonly at: number; readonly reason: string } | undefined;
    /** Whether it was tried, not drawn by derivatives. */
    readonly traced: boolean;
  }
  /** Worst first: what spreads the measure most. */
  const rungs = $derived.by((): Rung[] => {
    if (!influences || k < 0) return [];
    return known
      .map((tolerance, i) => ({
        tolerance,
        influence: influences[i][k],
        failure: tried ? run.curvesOf(tolerance)?.failure : undefined,
        traced: tried && run.curvesOf(tolerance) !== undefined,
      }))
      .filter(({ influence, failure }) => influence.fit !== null || failure)
      .sort((a, b) => b.influence.deviation - a.influence.deviation);
  });
  /** The design, compensated. */
  function nominalOf(id: string): number | null {
    const traced = tried ? run.design.values[run.study!.watched.findIndex((one) => one.id === id)] : undefined;
    const found = traced ?? response?.design[response.compositions.findIndex((one) => one.id === id)];
    return found?.ok ? found.value : null;
  }
  const nominal = $derived(watched && nominalOf(watched.id));
  /** Effects added: what the curves say without cross terms. */
  const sum = $derived.by(() => {
    if (nominal === null || rungs.length === 0) return null;
    const all = together(
      known,
      influences!.map((row) => row[k]),
    );
    const [mean, deviation] = [nominal + all.shift, all.deviation];
    return { mean, deviation, yield: capability(mean, deviation, watched ?? {}).yield };
  });
  /** The largest difference of what was tried from the curves by derivatives, over the range of all curves; null where nothing can be compared. */
  const apart = $derived.by(() => {
    if (!response || !tried || !watched) return null;
    const at = response.compositions.findIndex(({ id }) => id === watched.id);
    let [most, compared] = [0, 0];
    for (const { tolerance, influence, traced } of rungs) {
      const fit = (drawn[tolerance.id] as Sampled | undefined)?.curves[at]?.fit;
      if (!traced || !fit) continue;
      influence.at.forEach((x, i) => {
        const value = influence.values[i];
        if (value === null) return;
        compared++;
        most = Math.max(most, Math.abs(value - (fit.value + fit.slope * x + fit.curvature * x * x)));
      });
    }
    return compared > 0 && span[1] > span[0] ? most / (span[1] - span[0]) : null;
  });
  const widest = $derived(rungs[0]?.influence.deviation ?? 0);
  /** One range for all curves, so that they can be compared. */
  const span = $derived.by((): [number, number] => {
    const values = rungs.flatMap(({ influence }) => influence.values.filter((value) => value !== null));
    return values.length === 0 ? [0, 1] : [Math.min(...values), Math.max(...values)];
  });
  const NO_CURVE: Sampled['curves'][number] = { at: [], values: [], fit: null };
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
      {#if known.length === tolerances.length && rungs.length > 0}
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
        >{!current || untried === tolerances.length
          ? 'Try each'
          : untried > 0
            ? `Try ${untried} more`
            : 'Tried'}</Button
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
      {:else}“Try each” takes every tolerance over its range, all else as designed, and ranks what it does to each
        requirement.
        {response?.reasons?.join(' ') ?? ''}
      {/if}
    </p>
  {:else}
    {#if sum}
      <p class="sum" title="Effects of all tolerances added, those of a group as they go together, without cross terms">
        <span>design <strong>{significant(nominal!, 4)}</strong></span>
        <span>mean <strong data-testid="ladder-mean" data-value={sum.mean}>{significant(sum.mean, 4)}</strong></span>
        <span
          >σ <strong data-testid="ladder-sigma" data-value={sum.deviation}>{significant(sum.deviation, 3)}</strong
          >{unit}</span
        >
        {#if bound !== '–'}<span>yield <strong>{(100 * sum.yield).toFixed(1)} %</strong> for {bound}{unit}</span>{/if}
      </p>
    {/if}
    <p class="muted" data-testid="ladder-by" data-apart={apart}>
      {#if run.study && !current}The design has changed since it was tried: by derivatives for now.
      {:else if rungs.every(({ traced }) => !traced)}By derivatives at the design; nothing is tried yet.
      {:else if rungs.some(({ traced }) => !traced)}Dashed: by derivatives at the design, not tried yet.
      {:else if apart !== null}Derivatives at the design differ by at most {percent(apart)} of the range.{/if}
    </p>
    {#if suggesting}<Suggest
        {study}
        {tolerances}
        curves={whole}
        nominal={study.watched.map(({ id }) => nominalOf(id))}
        response={fitted ?? response}
        onclose={() => (suggesting = false)}
      />{/if}
    <ol>
      {#each rungs as { tolerance, influence, failure, traced } (tolerance.id)}
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
          <Spark {influence} limits={tolerance} {span} {traced} />
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
