<script lang="ts">
  import type { MakingCheck } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';

  const desk = useDesk();
  const query = desk.live.query(() =>
    desk.lens ? { kind: 'making_checks', lens: desk.lens.id, state: 'designed' } : null,
  );
  /** Limits stand in the table beside, each with its closest place. */
  const checks = $derived(query.answer?.ok ? query.answer.value.filter(({ kind }) => kind !== 'limit') : []);

  function mend({ remedy }: MakingCheck) {
    if (!remedy) return;
    desk.commitDesign(remedy.edits, remedy.label);
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
        <span>! {check.text}</span>
        {#if check.remedy}
          <button data-testid="mend-{check.surface}" onclick={() => mend(check)}>{check.remedy.label}</button>
        {/if}
      </li>
    {:else}
      <li class="none">
        {query.answer?.ok
          ? '✓ No element is nearly symmetric, no radius nearly flat or nearly another one.'
          : ''}
      </li>
    {/each}
  </ul>
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

  .none {
    color: var(--muted);
  }

  button {
    padding: 0 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  button:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
