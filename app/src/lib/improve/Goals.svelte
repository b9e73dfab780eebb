<script lang="ts">
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import {
    isOfScene,
    findMeasure,
    MEASURES,
    subjectOf,
    success,
    type GoalGroup,
    type GoalStand,
    type MeritStand,
    type Outcome,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import { commitGoal, type Done } from './commit-goal.ts';
  import { addImageGoal, addMeasureGoal, goalsFromRequirements, IMAGE_KINDS, type ImageKind } from './goal-edits.ts';
  import GoalGroupRow from './GoalGroupRow.svelte';
  import GoalRow from './GoalRow.svelte';

  interface Props {
    stand: MeritStand | null;
    /** Shares of the merit's square in the run that is shown beside, by goal. */
    running: ReadonlyMap<string, number> | null;
  }
  let { stand, running }: Props = $props();
  const desk = useDesk();
  const goals = $derived(desk.base.goals ?? []);
  const lens = $derived(desk.lens);
  let opened = $state<string | null>(null);
  const total = $derived((stand?.merit ?? 0) ** 2);
  /** Goals without a group, then each group under its name. */
  const rows = $derived.by(() => {
    const groups = desk.base.goalGroups ?? [];
    const known = new Set(groups.map(({ id }) => id));
    const loose = goals.filter(({ group }) => group === undefined || !known.has(group));
    return [
      ...loose.map((goal) => ({ key: goal.id, goal, group: undefined })),
      ...groups.flatMap((group) => [
        { key: `:${group.id}`, goal: null, group },
        ...goals.filter((goal) => goal.group === group.id).map((goal) => ({ key: goal.id, goal, group })),
      ]),
    ];
  });
  const largest = $derived(
    Math.max(1e-12, ...goals.map(({ id }) => standsOf(id).reduce((sum, { square }) => sum + square, 0))),
  );
  const fromBrief = $derived(goalsFromRequirements(desk.base));

  function standsOf(id: string): readonly GoalStand[] {
    return stand?.goals.filter(({ goal }) => goal === id) ?? [];
  }

  const commit = (done: Outcome<Done>) => commitGoal(desk, done);

  async function add(word: string) {
    if (word === '') return;
    if (word.startsWith(':')) {
      if (lens) commit(success(addImageGoal(desk.base, lens, word.slice(1) as ImageKind)));
      return;
    }
    // What it is now becomes the target: a goal that is added takes nothing away unasked.
    const subject = subjectOf(desk.base, findMeasure(word)!, lens?.id ?? null) ?? '';
    const query = { kind: 'measure', measure: word, lens: subject, settings: {} } as const;
    let now: number | null = null;
    const job = desk.pool.run('evaluate', { project: desk.base, queries: [{ key: 'now', query }] }, (part) => {
      for (const { answer } of part) if (answer.ok) now = (answer.value as { value: number }).value;
    });
    await desk.awaiting(job.result);
    commit(addMeasureGoal(desk.base, lens, word, now));
  }

  /** Measures that can be goals, those of what the project is about first. */
  const offered = $derived(
    [
      { heading: 'Of the lens', measures: lens ? MEASURES.filter((measure) => !isOfScene(measure)) : [] },
      { heading: 'Of the light', measures: desk.base.scenes?.length ? MEASURES.filter(isOfScene) : [] },
    ].filter(({ measures }) => measures.length > 0),
  );

  /** What the goals of a group make of the square of the merit. */
  function shareOf({ id }: GoalGroup): number | null {
    const own = goals.filter(({ group, off }) => group === id && !off).flatMap((goal) => standsOf(goal.id));
    return total > 0 ? own.reduce((sum, { square }) => sum + square, 0) / total : null;
  }
</script>

<PanelFrame title="Goals" data-testid="goals">
  {#snippet tools()}
    <span class="merit" data-testid="merit" data-merit={stand?.merit ?? ''}
      >merit {stand ? significant(stand.merit, 5) : '–'}</span
    >
  {/snippet}
  <p class="tools">
    <select
      aria-label="Add a goal"
      data-testid="add-goal"
      value=""
      disabled={!lens && !desk.base.scenes}
      onchange={(event) => {
        void add(event.currentTarget.value);
        event.currentTarget.value = '';
      }}
    >
      <option value="" hidden>+ goal…</option>
      {#if lens}
        {#each IMAGE_KINDS as [kind, title] (kind)}<option value=":{kind}">Image quality: {title}</option>{/each}
      {/if}
      {#each offered as { heading, measures } (heading)}
        <optgroup label={heading}
          >{#each measures as { id, title, unit } (id)}<option value={id}>{title}{unit ? `, ${unit}` : ''}</option
            >{/each}</optgroup
        >
      {/each}
    </select>
    <Button
      disabled={fromBrief.edits.length === 0}
      title="Limits of the requirements become limits of goals"
      data-testid="goals-from-brief"
      onclick={() => commit(success(fromBrief))}>from the requirements</Button
    >
  </p>
  <CellGrid
    columns="16px minmax(72px, 1fr) minmax(66px, auto) 56px 56px 56px 38px 40px 20px"
    heads={[
      '',
      'goal',
      { number: 'now' },
      { number: 'target' },
      { number: 'at least' },
      { number: 'at most' },
      { number: 'weight' },
      { number: 'share' },
      '',
    ]}
  >
    {#each rows as { key, goal, group }, k (key)}
      {#if goal}
        <GoalRow
          {goal}
          stands={standsOf(goal.id)}
          row={k}
          grouped={group !== undefined}
          off={goal.off === true || group?.off === true}
          {total}
          {largest}
          running={running?.get(goal.id) ?? null}
          opened={opened === goal.id}
          onopen={() => (opened = opened === goal.id ? null : goal.id)}
        />
      {:else if group}
        <GoalGroupRow {group} row={k} share={shareOf(group)} />
      {/if}
    {:else}
      <p>
        {lens
          ? 'No goals yet. Add image quality, and what the lens must keep, such as its focal length.'
          : 'No goals yet. Add what the light should do: its half-angle, flux, uniformity or place on a detector.'}
      </p>
    {/each}
  </CellGrid>
</PanelFrame>

<style>
  .merit {
    font-variant-numeric: tabular-nums;
    font-weight: 650;
  }

  .tools {
    display: flex;
    gap: 6px;
    margin: 0;
  }
</style>
