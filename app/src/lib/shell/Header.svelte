<script lang="ts">
  import HistoryIcon from '@lucide/svelte/icons/history';
  import Moon from '@lucide/svelte/icons/moon';
  import Redo from '@lucide/svelte/icons/redo-2';
  import Sun from '@lucide/svelte/icons/sun';
  import Undo from '@lucide/svelte/icons/undo-2';
  import { failure, success } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { clock } from '$lib/format.ts';
  import { MOST_WORKERS } from '$lib/compute/workers-wanted.ts';
  import { KEYMAP, keysText } from '$lib/keymap.ts';
  import { theme } from '$lib/theme.svelte.ts';
  import AskBar from '$lib/ask/AskBar.svelte';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import type { Run } from '$lib/compute/run.svelte.ts';

  const desk = useDesk();
  const computing = $derived(desk.activity.running + desk.activity.waiting > 0);
  const runs = $derived(desk.runs.active);
  const busy = $derived(computing || desk.relations.busy || runs.length > 0);
  const running = $derived(computing ? desk.pool.jobs.running : []);
  const labelOf = ({ title, progress }: Run) =>
    progress === null ? title : `${title} ${Math.floor(100 * progress)} %`;
  const words = $derived(
    runs.length > 0
      ? labelOf(runs[0]) + (runs.length > 1 ? ` and ${runs.length - 1} more` : '')
      : desk.relations.busy
        ? 'following links'
        : busy
          ? 'computing'
          : 'idle',
  );
  let activity: HTMLDetailsElement | undefined = $state();
  const closeUnlessIn = (target: EventTarget | null) => {
    if (activity && !activity.contains(target as Node | null)) activity.open = false;
  };
  const nextUndo = $derived(desk.history.entries[desk.history.head]?.label);
  const nextRedo = $derived(desk.history.entries[desk.history.redo.at(-1) ?? -1]?.label);
</script>

<svelte:window onpointerdown={(event) => closeUnlessIn(event.target)} />
<header>
  <svg class="mark" viewBox="0 0 24 24" aria-hidden="true">
    <path d="M15 2.5c-6 6-6 13 0 19" stroke="var(--glass-edge)" stroke-width="2.2" />
    <path d="M1.500 5l9.500 6.500 11.500 6" stroke="var(--accent)" stroke-width="1.6" />
  </svg>
  <h1>
    <Cell
      label="Project name"
      testid="project-name"
      text={desk.project.name}
      align="left"
      strong
      fit
      read={(text) => (text.trim() === '' ? failure('A project needs a name.') : success(text.trim()))}
      oncommit={(name) =>
        name !== desk.project.name && desk.commit([{ kind: 'set', path: 'name', value: name }], 'Rename the project')}
    />
  </h1>
  <span class="kept" data-testid="kept" data-state={desk.keeping.state}>
    {#if desk.keeping.state === 'kept'}kept {clock(desk.keeping.at)}
    {:else if desk.keeping.state === 'waiting'}keeping…
    {:else if desk.keeping.state === 'elsewhere'}<strong class="bad">✕ in another tab</strong>
    {:else}<strong class="bad">✕ not kept</strong>{/if}
  </span>
  <AskBar />
  <span class="space"></span>
  {#if desk.reference}
    <button class="reference" title="Remove the reference" onclick={() => desk.setReference(null)}
      >◐ reference: {desk.reference.label} ✕</button
    >
  {/if}
  <span class="count">{desk.undoable} undoable</span>
  <button
    aria-label="Undo{nextUndo ? `: ${nextUndo}` : ''}"
    title="Undo{nextUndo ? `: ${nextUndo}` : ''} ({keysText(KEYMAP.undo)})"
    disabled={desk.undoable === 0}
    onclick={() => desk.undo()}><Undo size={16} /></button
  >
  <button
    aria-label="Redo{nextRedo ? `: ${nextRedo}` : ''}"
    title="Redo{nextRedo ? `: ${nextRedo}` : ''} ({keysText(KEYMAP.redo)})"
    disabled={desk.redoable === 0}
    onclick={() => desk.redo()}><Redo size={16} /></button
  >
  <button
    aria-label="History"
    title="History ({keysText(KEYMAP.history)})"
    aria-expanded={ui.historyOpen}
    data-testid="open-history"
    onclick={() => (ui.historyOpen = !ui.historyOpen)}><HistoryIcon size={16} /></button
  >
  <details
    class="activity"
    class:busy
    bind:this={activity}
    onfocusout={({ relatedTarget }) => relatedTarget && closeUnlessIn(relatedTarget)}
  >
    <summary data-testid="activity" title="What is being computed, and by how many workers"
      ><span aria-hidden="true">{busy ? '●' : '○'}</span>
      {words} · {desk.workers}
      {desk.workers === 1 ? 'worker' : 'workers'}</summary
    >
    <div class="menu">
      {#each runs as run (run)}
        <div class="run" data-testid="active-run">
          <a href={run.room} onclick={() => activity && (activity.open = false)}>{labelOf(run)}</a>
          <Button aria-label="Stop: {run.title}" onclick={() => run.stop()}>Stop</Button>
        </div>
      {/each}
      <p>
        {computing ? `${running.join(', ')} under way, ${desk.activity.waiting} waiting` : 'Nothing is being computed.'}
      </p>
      <label
        >workers <select
          data-testid="workers"
          value={String(desk.workers)}
          onchange={(event) => desk.setWorkers(Number(event.currentTarget.value))}
        >
          {#each Array.from({ length: MOST_WORKERS }, (_, i) => i + 1) as count (count)}<option value={String(count)}
              >{count}</option
            >{/each}
        </select></label
      >
      <p>This machine has {navigator.hardwareConcurrency} processors.</p>
    </div>
  </details>
  <button
    aria-label={theme.current === 'day' ? 'Night theme' : 'Day theme'}
    title={theme.current === 'day' ? 'Night theme' : 'Day theme'}
    onclick={() => theme.toggle()}
  >
    {#if theme.current === 'day'}<Moon size={16} />{:else}<Sun size={16} />{/if}
  </button>
</header>

<style>
  header {
    display: flex;
    align-items: center;
    gap: 10px;
    height: var(--header);
    padding: 0 14px;
    border-bottom: 1px solid var(--line);
    background: var(--card);
  }

  .mark {
    width: 24px;
    height: 24px;
    fill: none;
    stroke-linecap: round;
  }

  h1 {
    font-size: 14px;
  }

  .kept,
  .count,
  .activity {
    color: var(--muted);
    font-size: var(--size-small);
    white-space: nowrap;
  }

  .reference {
    width: auto;
    padding: 0 8px;
    color: var(--muted);
    font-size: var(--size-small);
    white-space: nowrap;
  }

  .bad {
    color: var(--bad);
  }

  .space {
    flex: 1;
  }

  .activity {
    position: relative;
    min-width: 128px;
  }

  summary {
    list-style: none;
    cursor: pointer;
  }

  .menu {
    position: absolute;
    z-index: 20;
    top: calc(100% + 10px);
    right: 0;
    display: grid;
    gap: 6px;
    width: 230px;
    padding: 8px 12px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    white-space: normal;
    box-shadow: var(--shadow);
  }

  .run {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }

  .activity span {
    color: var(--ok);
  }

  .activity.busy span {
    color: var(--accent);
  }

  button {
    display: grid;
    place-items: center;
    width: 28px;
    height: 28px;
    padding: 0;
    border: 0;
    border-radius: var(--radius);
    background: none;
  }

  button:hover:not(:disabled) {
    background: var(--accent-ground);
  }

  button:disabled {
    color: var(--muted);
    opacity: 0.5;
    cursor: default;
  }
</style>
