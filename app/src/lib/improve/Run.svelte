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
    flat: 'It stopped at a place where every slope has vanished.',
    steps: 'It stopped after the steps that it may take.',
    noise: 'It stopped because goals differ by no more than their standard errors: more rays a goal would tell more.',
    evaluations: 'It stopped after the evaluations that it may take.',
    no_start: 'It has no value to start from.',
  };
  const METHODS: readonly (readonly [PolishMethod | '', string])[] = [
    ['', 'by Ulvex’s choice'],
    ['squares', 'by damped least squares'],
    ['slopes', 'by slopes alone'],
    ['values', 'by values alone'],
  ];
  const METHOD_WORDS =
    'Damped least squares is quickest where goals can be met. Slopes alone (quasi-Newton) do better where ' +
    'most cannot. Values alone (an evolution strategy) need no derivatives and are Ulvex’s choice for ' +
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
  title="The run"
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
          title="Goes on from the lens as the run has it"
          onclick={() => run.goOn()}>go on</Button
        >
      {/if}
      <Button
        strong={!run.over}
        data-testid="run-begin"
        disabled={run.asking}
        title={run.over ? 'Starts anew from the project as it is' : undefined}
        onclick={() => void run.look()}>{run.over ? 'start anew' : 'polish'}</Button
      >
      <select
        aria-label="How it looks for the minimum"
        title={METHOD_WORDS}
        data-testid="run-method"
        bind:value={run.method}
      >
        {#each METHODS as [method, words] (method)}<option value={method}>{words}</option>{/each}
      </select>
    {/if}
    {#if run.over}
      <Button data-testid="run-keep" disabled={!run.better} onclick={() => run.keep()}>keep</Button>
      <Button data-testid="run-throw" onclick={() => run.throwAway()}>throw away</Button>
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
        Run all the same?
        <Button onclick={() => run.start()} data-testid="run-anyway">yes, without limits</Button>
        <Button onclick={() => run.throwAway()}>no</Button>
      </p>
    {/if}
  {/each}
  {#if run.foreign}<p class="warn">! This run is of another project: open that one to keep it, or throw it away.</p>
  {:else if changed}
    <p class="warn">
      ! The project has changed since the run began. Neither is lost: keeping writes the run’s free numbers into it, and
      nothing else.
    </p>
  {/if}
  {#if run.line.length > 0}
    <MeritLine line={run.line} />
    {#if run.section}
      <div class="sketch"><FormSketch section={run.section} label="The lens as the run has it" /></div>
    {/if}
  {:else if run.state === 'none' && !run.asking}
    <p class="muted">
      A polish turns the free numbers to the nearest minimum of what is wanted, within bounds and making-limits. It
      works beside you: nothing changes until you keep it.
    </p>
  {/if}
  {#if run.over}
    {#if run.diagnosis}
      <Why
        diagnosis={run.diagnosis}
        {unfinished}
        reason={run.state === 'cancelled'
          ? 'You stopped it; this is how it stood.'
          : run.outcome
            ? REASONS[run.outcome.reason]
            : ''}
      />
    {:else if run.diagnosing}<p class="muted">Looking at why it stopped…</p>{/if}
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
