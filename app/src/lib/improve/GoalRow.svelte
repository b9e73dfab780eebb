<script lang="ts">
  import { success, type Goal, type GoalStand, type ImageGoal } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { limitText, readLimit } from '$lib/desk/requirement-edits.ts';
  import { plain, significant } from '$lib/format.ts';
  import { commitGoal } from './commit-goal.ts';
  import { goalName, readWeight, removeGoal, setGoal } from './goal-edits.ts';
  import GoalChoices from './GoalChoices.svelte';

  interface Props {
    goal: Goal;
    /** How it stands in each of its states. */
    stands: readonly GoalStand[];
    row: number;
    /** Whether it stands under the name of a group. */
    grouped: boolean;
    /** Whether it, or its group, is switched off. */
    off: boolean;
    /** Square of the merit, and the largest that a goal makes of it. */
    total: number;
    largest: number;
    /** What it makes of it in the run that is shown beside. */
    running: number | null;
    opened: boolean;
    onopen: () => void;
  }
  let { goal, stands, row, grouped, off, total, largest, running, opened, onopen }: Props = $props();
  const desk = useDesk();
  const commit = (done: Parameters<typeof commitGoal>[1]) => commitGoal(desk, done);
  const square = $derived(stands.reduce((sum, one) => sum + one.square, 0));
  const errors = $derived(stands.flatMap(({ standardError = 0 }) => (standardError > 0 ? [standardError] : [])));

  function imageWords(goal: ImageGoal): string {
    if (goal.what === 'mtf') return `MTF at ${goal.frequency}/mm`;
    if (goal.by === 'peak') return goal.what === 'spot' ? 'spot, largest' : 'wavefront, peak to valley';
    return goal.what === 'spot' && goal.workshop
      ? goal.workshop === 'tolerances'
        ? 'spot of 90 % as made'
        : `spot as built, ${goal.workshop}`
      : goal.what;
  }

  function valueText(one: GoalStand): string {
    if (one.value === null) return '–';
    const unit = one.unit === '' ? '' : one.unit === '°' ? '°' : ` ${one.unit}`;
    return `${significant(one.value, 5)}${unit}`;
  }
</script>

<input
  type="checkbox"
  checked={!goal.off}
  aria-label="{goalName(goal)} counts"
  title={goal.off ? 'Switch this goal on' : 'Switch this goal off; it is kept'}
  data-testid="goal-on-{goal.id}"
  onchange={() => commit(setGoal(goal, 'off', goal.off ? undefined : true))}
/>
<button
  class="name"
  class:off
  class:grouped
  aria-expanded={opened}
  title="Choices of this goal"
  data-testid="goal-{goal.id}"
  onclick={onopen}
  >{opened ? '▾' : '▸'}
  {goalName(goal)}{#if goal.kind === 'image_quality'}<small> {imageWords(goal)}</small>{/if}</button
>
<span class="num now" title={stands.map((one) => one.why ?? '').join(' ')} data-testid="goal-now-{goal.id}"
  >{stands.length === 0 ? '–' : stands.map(valueText).join(' · ')}{#if errors.length > 0}<small
      >± {errors.map((error) => significant(error, 2)).join(' · ')}</small
    >{/if}</span
>
{#if goal.kind === 'measure'}
  {#each ['target', 'min', 'max'] as const as key, column (key)}
    <Cell
      label="{goalName(goal)}: {key === 'target' ? 'target' : key === 'min' ? 'at least' : 'at most'}"
      text={limitText(goal[key])}
      muted={goal[key] === undefined}
      {row}
      col={column}
      testid="goal-{key}-{goal.id}"
      read={(text) => readLimit(text, goal[key] ?? stands[0]?.value ?? undefined)}
      oncommit={(value) => value !== goal[key] && commit(setGoal(goal, key, value))}
    />
  {/each}
{:else}<span></span><span></span><span></span>{/if}
<Cell
  label="Weight of {goalName(goal)}"
  text={plain(goal.weight)}
  {row}
  col={3}
  testid="goal-weight-{goal.id}"
  read={readWeight}
  oncommit={(value) => value !== goal.weight && commit(setGoal(goal, 'weight', value))}
/>
<span class="num share" title={goal.weight === 0 ? 'Weight 0: no effect' : 'Share of the square of the merit'}
  >{off ? 'off' : goal.weight === 0 ? '! 0' : total > 0 ? `${((100 * square) / total).toFixed(0)} %` : ''}</span
>
<Button
  small
  aria-label="Remove the goal {goalName(goal)}"
  title="Remove"
  onclick={() => commit(success(removeGoal(desk.base, goal)))}>−</Button
>
<div class="bar" aria-hidden="true">
  <i style:width="{(100 * square) / largest}%"></i>
  {#if running !== null}<i class="run" style:width="{Math.min(100, (100 * running) / largest)}%"></i>{/if}
</div>
{#if opened}<GoalChoices {goal} {stands} />{/if}

<style>
  .num {
    padding-right: 5px;
    color: var(--muted);
    font-size: var(--size-small);
    text-align: right;
  }

  .now {
    color: var(--ink);
    font-size: inherit;
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }

  .name {
    padding: 0 2px;
    border: 0;
    background: none;
    line-height: 1.15;
    text-align: left;
  }

  .name:hover {
    color: var(--accent);
  }

  .grouped {
    padding-left: 12px;
  }

  small {
    margin-left: 3px;
    color: var(--muted);
  }

  .share {
    white-space: nowrap;
  }

  .now small {
    display: block;
    line-height: 1;
  }

  .off {
    color: var(--muted);
    text-decoration: line-through;
  }

  .bar {
    position: relative;
    grid-column: 2 / -1;
    height: 6px;
    margin-bottom: 2px;
    border-bottom: 1px solid var(--line);
  }

  .bar i {
    position: absolute;
    bottom: 0;
    left: 0;
    height: 3px;
    background: var(--muted);
  }

  .bar .run {
    bottom: 3px;
    background: var(--accent);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
