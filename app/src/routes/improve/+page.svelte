<script lang="ts">
  import { findParameter } from '@ulvex/core';
  import Trouble from '$lib/components/Trouble.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Checks from '$lib/improve/Checks.svelte';
  import FreeNumbers from '$lib/improve/FreeNumbers.svelte';
  import { freeAddresses } from '$lib/improve/goal-edits.ts';
  import Goals from '$lib/improve/Goals.svelte';
  import Limits from '$lib/improve/Limits.svelte';
  import Moves from '$lib/improve/Moves.svelte';
  import Run from '$lib/improve/Run.svelte';
  import { GlassChoice } from '$lib/improve/glass-choice.svelte.ts';
  import { runsOf } from '$lib/improve/runs-of.ts';
  import Search from '$lib/improve/Search.svelte';

  const desk = useDesk();
  const { polish: run, search, moves } = runsOf(desk);
  const glass = new GlassChoice(desk);
  const query = desk.live.query(() => ({ kind: 'merit', state: 'designed' }));
  const stand = $derived(query.answer?.ok ? query.answer.value : null);

  /** Where the run has taken each free number. */
  const moved = $derived.by(() => {
    const { latest } = run;
    if (!latest) return new Map<string, number>();
    return new Map(
      freeAddresses(desk.base).flatMap((address): [string, number][] => {
        const there = findParameter(latest.project, address);
        return there.ok ? [[address, there.value.value]] : [];
      }),
    );
  });
  const running = $derived.by(() => {
    if (!run.latest) return null;
    // eslint-disable-next-line svelte/prefer-svelte-reactivity -- made anew each time
    const squares = new Map<string, number>();
    for (const { goal, square } of run.latest.contributions)
      if (goal !== null) squares.set(goal, (squares.get(goal) ?? 0) + square);
    return squares;
  });
</script>

<div class="room">
  <div class="numbers">
    <svelte:boundary>
      <FreeNumbers {moved} />
      {#snippet failed(error, reset)}<Trouble what="list of free numbers" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
  <div class="wanted">
    <svelte:boundary>
      <Goals {stand} {running} />
      {#if desk.lens}
        <Limits {stand} />
        <Checks {stand} />
      {/if}
      {#snippet failed(error, reset)}<Trouble what="table of goals" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
  <div class="runs">
    <svelte:boundary>
      <Run {run} />
      {#if desk.lens}
        <Moves run={moves} {glass} />
        <Search run={search} {glass} />
      {/if}
      {#snippet failed(error, reset)}<Trouble what="run" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: minmax(312px, 0.8fr) minmax(510px, 1.2fr) minmax(360px, 1fr);
    height: 100%;
  }

  .numbers,
  .wanted,
  .runs {
    min-height: 0;
    overflow: auto;
    scrollbar-width: thin;
  }

  .wanted,
  .runs {
    border-left: 1px solid var(--line);
  }
</style>
