<script lang="ts">
  import type { MakingCheck, MeritStand } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  import { significant } from '$lib/format.ts';
  import Plates from './Plates.svelte';
  import { runsOf } from './runs-of.ts';

  let { stand }: { stand: MeritStand | null } = $props();
  const desk = useDesk();
  const { plates } = runsOf(desk);
  /** What was mended last, and the merit before. */
  let mended = $state.raw<{ readonly label: string; readonly merit: number; readonly of: string } | null>(null);
  const query = desk.live.query(() =>
    desk.lens ? { kind: 'making_checks', lens: desk.lens.id, state: 'designed' } : null,
  );
  /** Limits stand in the table beside, each with its closest place. */
  const checks = $derived(query.answer?.ok ? query.answer.value.filter(({ kind }) => kind !== 'limit') : []);

  function mend({ remedy }: MakingCheck) {
    if (!remedy) return;
    const before = desk.base;
    mended = stand && { label: remedy.label, merit: stand.merit, of: desk.projectId };
    desk.commitDesign(remedy.edits, remedy.label);
    if (!desk.reference) desk.setReferenceVersion(`before: ${remedy.label}`, before);
    desk.notice = {
      tone: 'done',
      title: `${remedy.label}: done. Polish again to win back what it cost.`,
      action: { label: 'Undo', run: () => desk.undo() },
    };
  }
</script>

<section aria-label="Making-checks" data-testid="making-checks" data-found={checks.length}>
  <h2>Making-checks</h2>
  <ul>
    {#each checks as check (`${check.kind} ${check.surface}`)}
      <li>
        <span class:bad={check.kind === 'impossible'}>{check.kind === 'impossible' ? '✕' : '!'} {check.text}</span>
        {#if check.remedy}
          <Button data-testid="mend-{check.surface}" onclick={() => mend(check)}>{check.remedy.label}</Button>
        {/if}
      </li>
    {:else}
      <li class="none">
        {query.answer?.ok
          ? '✓ No element is nearly symmetric, no radius nearly flat or nearly another one, no glass poor.'
          : ''}
      </li>
    {/each}
  </ul>
  {#if mended && stand && mended.of === desk.projectId && (stand.goals.length > 0 || stand.limits.length > 0)}
    <p data-testid="mended" data-before={mended.merit}>
      {mended.label}: merit {significant(mended.merit, 4)} → <b>{significant(stand.merit, 4)}</b>
    </p>
  {/if}
  <Plates run={plates} />
</section>

<style>
  section {
    padding: 4px 12px 12px;
  }

  ul {
    margin: 4px 0 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 10px;
    align-items: baseline;
    padding: 2px 0;
    font-size: var(--size-small);
  }

  li span {
    flex: 1 1 240px;
    color: var(--warn);
  }

  li .bad {
    color: var(--bad);
  }

  p {
    margin: 2px 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  b {
    color: var(--ink);
  }

  .none {
    color: var(--muted);
  }
</style>
