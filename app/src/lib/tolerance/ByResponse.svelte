<script lang="ts">
  import { untrack } from 'svelte';
  import { toleranceTitle, type Response, type WatchedRequirement } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { percent, significant } from '$lib/format.ts';
  import type { JointRun } from './joint-run.svelte.ts';
  import { limitHandles } from './limit-handles.ts';
  import { ResponseLot } from './response-lot.svelte.ts';
  import type { RoomStudy } from './study-of.ts';
  import WatchTable from './WatchTable.svelte';
  import Yield from './Yield.svelte';

  interface Props {
    run: JointRun;
    study: RoomStudy;
    /** By derivatives; null before it is known. */
    response: Response | null;
    /** Whether a newer one is on its way. */
    pending: boolean;
    /** Why there is none; empty where nothing is wrong. */
    reason: string;
    /** What is watched, with limits of now. */
    watched: readonly WatchedRequirement[];
    /** Id of the requirement that is looked at. */
    looked: string | null;
  }
  let { run, study, response, pending, reason, watched, looked = $bindable() }: Props = $props();
  const desk = useDesk();
  const lot = new ResponseLot(desk);
  const fit = $derived(run.isOf(study) ? run.joint : null);
  const used = $derived(fit?.response ?? response);
  /** Requirements in the order of the response, with their limits of now. */
  const columns = $derived((used?.compositions ?? []).flatMap(({ id }) => watched.filter((one) => one.id === id)));
  const tolerances = $derived((desk.shown.tolerancing?.tolerances ?? []).filter(({ off }) => !off));
  $effect(() => {
    const [of, made, kept] = [columns.length === used?.compositions.length ? used : null, tolerances, columns];
    untrack(() => lot.ask(of, made, kept));
  });
  const found = $derived(lot.summary);
  const summaries = $derived(
    Object.fromEntries(
      lot.watched.flatMap(({ id }, k) => (found?.measures[k] ? [[id, found.measures[k].summary]] : [])),
    ),
  );
  const unknown = $derived(lot.watched.filter((_, k) => found && !found.measures[k]));
  const k = $derived(lot.watched.findIndex(({ id }) => id === looked));
  const shown = $derived(k < 0 ? null : (found?.measures[k] ?? null));
  const nominal = $derived.by(() => {
    const value = used?.design[used.compositions.findIndex(({ id }) => id === looked)];
    return value?.ok ? value.value : null;
  });
  /** The worst fit of what is watched, in words. */
  const judged = $derived.by(() => {
    if (!fit) return null;
    const known = fit.quality.flatMap((one, i) => (one ? [{ ...one, id: fit.response.compositions[i].id }] : []));
    const [worst] = known.sort((a, b) => b.error - a.error);
    if (!worst) return null;
    const bends = worst.bends.flatMap((id) => tolerances.filter((one) => one.id === id));
    return {
      ...worst,
      title: watched.find(({ id }) => id === worst.id)?.title ?? '',
      bends: bends.map((one) => toleranceTitle(desk.base, one)),
    };
  });
</script>

<PanelFrame title="By response" data-testid="by-response" class="lot">
  {#snippet tools()}
    {#if run.active}
      <span class="muted">{run.done} of {run.of} trials</span>
      <Button small onclick={() => run.stop()}>Stop</Button>
    {:else}
      <Button
        small
        disabled={!response || pending || fit !== null}
        data-testid="joint-run"
        title="Traces trials spread over all ranges and fits what derivatives miss"
        onclick={() => response && run.start(response)}>{fit ? 'Fitted' : 'Check and fit'}</Button
      >
    {/if}
  {/snippet}
  {#if run.state === 'failed'}<p class="bad" role="alert">✕ {run.reason}</p>{/if}
  {#if lot.reason || reason}<p class="bad" role="alert">✕ {lot.reason || reason}</p>{/if}
  {#if !found}
    <p class="muted">
      {#if tolerances.length === 0}No tolerances yet: apply a grade at the left.
      {:else if watched.length === 0}Nothing is watched: set requirements with limits in Brief.
      {:else if !lot.reason && !reason}Derivatives at the design are being computed…{/if}
    </p>
  {:else if unknown.length === lot.watched.length}
    <p class="muted">
      None of these requirements is known by derivatives at the design. “Check and fit” looks for a response by traced
      trials; or make a lot of them.
    </p>
  {:else}
    <p class="yield">
      <strong data-testid="response-yield" data-value={found.passed / found.trials} data-trials={found.trials}
        >{percent(found.passed / found.trials)}</strong
      >
      of {found.trials.toLocaleString('en')} keep {unknown.length === 0 ? 'every requirement' : 'those that are known'}
      <span class="muted">{percent(found.yieldRange[0])} to {percent(found.yieldRange[1])} at 95 %</span>
    </p>
    <p data-testid="fit" data-verdict={judged?.verdict ?? 'unchecked'}>
      {#if judged}
        <strong class={judged.verdict}
          >{judged.verdict === 'good' ? '✓' : judged.verdict === 'doubtful' ? '!' : '✕'} {judged.verdict} fit</strong
        >
        <span
          >{judged.title} is off by {percent(judged.error)} of its σ in {judged.trials} traced trials{judged.verdict !==
            'good' && judged.bends.length > 0
            ? `; bent most by ${judged.bends.join(', ')}`
            : ''}.</span
        >
      {:else}<span class="muted"
          >By derivatives at the design, all tolerances together. Not checked by traced trials.</span
        >{/if}
    </p>
    {#if unknown.length > 0}
      <p class="warn">
        ! Not known by derivatives: {unknown.map(({ title }) => title).join(', ')}. “Check and fit” finds them.
      </p>
    {/if}
    <WatchTable {watched} {summaries} bind:looked missing="not known" />
    {#if shown}
      <Yield
        values={shown.steps}
        of={found.trials}
        title={lot.watched[k].title}
        unit={lot.watched[k].unit}
        limits={watched.find(({ id }) => id === looked) ?? {}}
        mean={shown.summary.mean}
        deviation={shown.summary.deviation}
        {nominal}
        marked={null}
        {...limitHandles(desk, looked)}
      />
      <p class="muted" title="Below these values are 10, 50, 90 and 98 % of the trials">
        10 · 50 · 90 · 98 %: {Object.values(shown.summary.percentiles)
          .map((value) => significant(value, 4))
          .join(' · ')}
      </p>
    {/if}
  {/if}
</PanelFrame>

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 8px;
    align-items: baseline;
    margin: 0;
    font-size: var(--size-small);
  }

  .yield strong {
    font-size: 20px;
    font-variant-numeric: tabular-nums;
    line-height: 1.1;
  }

  .muted {
    color: var(--muted);
  }

  .good {
    color: var(--ok);
  }

  .warn,
  .doubtful {
    color: var(--warn);
  }

  .bad,
  .unusable {
    color: var(--bad);
  }
</style>
