<script lang="ts">
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import type { MoveKind, TriedMove } from '@ulvex/core';
  import { glassShortlist } from '@ulvex/core/improve';
  import { SvelteSet } from 'svelte/reactivity';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import type { MovesRun } from './moves-run.svelte.ts';
  import type { GlassChoice } from './glass-choice.svelte.ts';
  import Shortlist from './Shortlist.svelte';

  let { run, glass }: { run: MovesRun; glass: GlassChoice } = $props();
  const desk = useDesk();
  const KINDS: readonly (readonly [MoveKind, string, string])[] = [
    ['glass', 'glasses', 'Each element in neighbouring glasses of the shortlist'],
    ['split', 'split', 'Each single element split in two'],
    ['asphere', 'asphere', 'Surfaces made aspheric, the most promising first'],
    ['cement', 'cement', 'Elements cemented across an air gap'],
    ['drop', 'drop', 'One of the weakest elements removed'],
    ['flip', 'flip', 'Each single element reversed'],
  ];
  const SHOWN = 8;
  const kinds = new SvelteSet<MoveKind>(['glass', 'split', 'asphere']);
  let all = $state(false);
  const tried = $derived(run.found?.tried ?? []);
  const shown = $derived(all ? tried : tried.slice(0, SHOWN));

  function begin() {
    if (!desk.lens) return;
    all = false;
    run.start({ lens: desk.lens.id, kinds: [...kinds], shortlist: glassShortlist(glass.rules) });
  }

  function gainText({ gain }: TriedMove): string {
    if (gain === null) return '✕';
    return `${gain <= 0 ? '−' : '+'}${significant(100 * Math.abs(gain), 2)} %`;
  }
</script>

<PanelFrame title="Other forms" parted data-testid="moves" data-running={run.active} data-tried={tried.length}>
  {#snippet tools()}
    {#if run.active}
      <Button strong data-testid="moves-stop" onclick={() => run.stop()}>stop</Button>
    {:else}
      <Button strong data-testid="moves-begin" disabled={kinds.size === 0} onclick={begin}>try</Button>
      {#if tried.length > 0}<Button onclick={() => run.throwAway()}>discard</Button>{/if}
    {/if}
    {#if run.found}
      <span class="muted"
        >{run.found.done} of {run.found.of} · unchanged, polished: {significant(run.found.base, 4)}</span
      >
    {/if}
  {/snippet}
  {#if !run.active}
    <p class="choices">
      {#each KINDS as [kind, words, meaning] (kind)}
        <label title={meaning}
          ><input
            type="checkbox"
            checked={kinds.has(kind)}
            data-testid="move-{kind}"
            onchange={() => (kinds.has(kind) ? kinds.delete(kind) : kinds.add(kind))}
          />
          {words}</label
        >
      {/each}
    </p>
    {#if kinds.has('glass')}<Shortlist choice={glass} panel="forms" />{/if}
  {/if}
  {#if run.reason}<p class="bad" role="alert" data-testid="moves-failure">✕ {run.reason}</p>{/if}
  {#if run.stale && tried.length > 0}
    <p class="warn">! The lens has changed since. These results are for the earlier lens: run again.</p>
  {/if}
  {#if tried.length === 0 && !run.reason}
    <p class="muted">
      {run.active
        ? 'Polishing the unchanged lens for comparison…'
        : 'Each variant changes one thing and is polished with the same settings as the unchanged lens.'}
    </p>
  {/if}
  <ol>
    {#each shown as move (move.title)}
      <li>
        <span class="gain" class:good={(move.gain ?? 1) < 0}>{gainText(move)}</span>
        <span class="what" title={move.why ?? `merit ${significant(move.merit ?? NaN, 5)}`}
          >{move.title}{move.why ? ': some rays fail' : ''}</span
        >
        {#if move.project}
          <Button
            data-testid="move-keep"
            disabled={run.stale || run.active}
            aria-label="Keep {move.title}"
            onclick={() => run.keep(move)}>keep</Button
          >
        {/if}
      </li>
    {/each}
  </ol>
  {#if tried.length > SHOWN}
    <p>
      <Button onclick={() => (all = !all)}>{all ? 'best only' : `${tried.length - SHOWN} more`}</Button>
    </p>
  {/if}
</PanelFrame>

<style>
  .choices {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: baseline;
    margin: 0;
  }

  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: grid;
    grid-template-columns: 62px 1fr auto;
    gap: 8px;
    align-items: baseline;
    padding: 1px 0;
    border-bottom: 1px solid var(--line);
  }

  .gain {
    font-variant-numeric: tabular-nums;
    text-align: right;
  }

  .good {
    color: var(--good);
    font-weight: 650;
  }

  .what {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
