<script lang="ts">
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import type { PolishMethod, StopReason } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import FormSketch from '$lib/drawing/FormSketch.svelte';
  import MeritLine from './MeritLine.svelte';
  import type { PolishRun } from './polish-run.svelte.ts';
  import Why from './Why.svelte';

  let { run }: { run: PolishRun } = $props();
  const desk = useDesk();

  const REASONS: Readonly<Record<StopReason, string>> = {
    gain: 'It stopped because a step gains less than a millionth of the sum of squares, and none was found that gains more.',
    slow: 'It stopped because twenty steps together gained less than a hundredth of the sum of squares.',
    step: 'It stopped because steps have become too short to change anything.',
    flat: 'It stopped where every derivative vanishes.',
    steps: 'It reached its limit of steps.',
    noise:
      'It stopped because the changes of the goals are within their standard errors. More rays per goal would resolve them.',
    evaluations: 'It reached its limit of evaluations.',
    no_start: 'The merit cannot be computed at the start.',
  };
  const METHODS: readonly (readonly [PolishMethod | '', string])[] = [
    ['', 'automatic method'],
    ['squares', 'by damped least squares'],
    ['slopes', 'by gradients only'],
    ['values', 'by values only'],
  ];
  const METHOD_WORDS =
    'Damped least squares is quickest where goals can be met. Gradients only (quasi-Newton) do better where ' +
    'most cannot. Values only (an evolution strategy) need no derivatives and are Ulvex’s choice for ' +
    'goals in a scene, which are sampled by rays.';
  /** Ends at which it was still gaining. */
  const GAINING: readonly StopReason[] = ['slow', 'steps', 'evaluations'];
  const unfinished = $derived(
    run.state === 'cancelled' ||
      run.state === 'failed' ||
      (run.outcome !== null && GAINING.includes(run.outcome.reason)),
  );
  /** By how much a merit has changed; nothing if that would round to nothing. */
  function changeWords(from: number, to: number): string {
    const percent = from > 0 ? 100 * (to / from - 1) : 0;
    return Math.abs(percent) < 0.05 ? '' : `(${percent < 0 ? '−' : '+'}${significant(Math.abs(percent), 2)} %)`;
  }
  const first = $derived(run.line[0]?.[1] ?? null);
  const changed = $derived(run.project !== null && run.state !== 'none' && run.project !== desk.base);
</script>

<PanelFrame
  title="Run"
  data-testid="run"
  data-status={run.asking ? 'asking' : run.state}
  data-merit={run.latest?.merit ?? ''}
>
  {#snippet tools()}
    {#if run.active}
      <Button data-testid="run-pause" onclick={() => run.pause()}>pause</Button>
      <Button strong data-testid="run-stop" onclick={() => run.stop()}>stop</Button>
    {:else if run.state === 'paused'}
      <Button strong data-testid="run-on" onclick={() => run.goOn()}>go on</Button>
      <Button data-testid="run-stop" onclick={() => run.stop()}>stop</Button>
    {:else}
      {#if run.over}
        <Button
          strong={unfinished}
          data-testid="run-further"
          title="Continue from the lens of this run"
          onclick={() => run.goOn()}>go on</Button
        >
      {/if}
      <Button
        strong={!run.over}
        data-testid="run-begin"
        disabled={run.asking}
        title={run.over ? 'Start again from the current project' : undefined}
        onclick={() => void run.look()}>{run.over ? 'restart' : 'polish'}</Button
      >
      <select aria-label="Method" title={METHOD_WORDS} data-testid="run-method" bind:value={run.method}>
        {#each METHODS as [method, words] (method)}<option value={method}>{words}</option>{/each}
      </select>
    {/if}
    {#if run.over}
      <Button data-testid="run-keep" disabled={!run.better} onclick={() => run.keep()}>keep</Button>
      <Button data-testid="run-throw" onclick={() => run.throwAway()}>discard</Button>
    {/if}
    {#if run.latest && first !== null}
      <span class="figures"
        >merit {significant(first, 4)} → <b>{significant(run.latest.merit, 4)}</b>
        {changeWords(first, run.latest.merit)} ·
        {run.latest.evaluations} evaluations</span
      >
    {/if}
  {/snippet}
  {#if run.reason}<p class="bad" role="alert" data-testid="run-failure">✕ {run.reason}</p>{/if}
  {#each run.warnings as { text, asks } (text)}
    <p class="warn">! {text}</p>
    {#if asks && run.asking}
      <p class="ask" data-testid="run-ask">
        Run anyway?
        <Button onclick={() => run.start()} data-testid="run-anyway">yes, without limits</Button>
        <Button onclick={() => run.throwAway()}>no</Button>
      </p>
    {/if}
  {/each}
  {#if run.foreign}<p class="warn">
      ! This run belongs to another project. Open that project to keep it, or discard it.
    </p>
  {:else if changed}
    <p class="warn">
      ! The project has changed since the run began. Keeping writes only the run’s free numbers into it.
    </p>
  {/if}
  {#if run.line.length > 0}
    <MeritLine line={run.line} />
    {#if run.section}
      <div class="sketch"><FormSketch section={run.section} label="The lens of this run" /></div>
    {/if}
  {:else if run.state === 'none' && !run.asking}
    <p class="muted">
      A polish moves the free numbers to the nearest minimum of the merit, within bounds and making-limits. It runs in
      the background; nothing changes until you keep its result.
    </p>
  {/if}
  {#if run.state === 'cancelled' && !run.latest}
    <p class="muted" data-testid="run-early">You stopped it before its first evaluation. Nothing has changed.</p>
  {/if}
  {#if run.over}
    {#if run.diagnosis}
      <Why
        diagnosis={run.diagnosis}
        {unfinished}
        reason={run.state === 'cancelled' ? 'You stopped it.' : run.outcome ? REASONS[run.outcome.reason] : ''}
      />
    {:else if run.diagnosing}<p class="muted">Analysing why it stopped…</p>{/if}
  {/if}
</PanelFrame>

<style>
  .figures {
    color: var(--muted);
    font-variant-numeric: tabular-nums;
  }

  .figures b {
    color: var(--ink);
  }

  .sketch {
    flex: 0 0 220px;
  }

  select {
    color: var(--muted);
  }
</style>
