<script lang="ts">
  import { failure, success, type GoalGroup } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';
  import { commitGoal } from './commit-goal.ts';
  import { readWeight, removeGroup, setGroup } from './goal-edits.ts';

  interface Props {
    group: GoalGroup;
    row: number;
    /** Share of the square of the merit, 0 to 1; null where there is none. */
    share: number | null;
  }
  let { group, row, share }: Props = $props();
  const desk = useDesk();
  const set = (key: keyof GoalGroup, value: unknown) => commitGoal(desk, success(setGroup(group, key, value)));
  const readName = (text: string) =>
    text.trim() === '' ? failure('A group needs a name.') : success(text.trim().slice(0, 60));
</script>

<input
  type="checkbox"
  checked={!group.off}
  aria-label="{group.name} counts"
  title={group.off ? 'Switch this group on' : 'Switch this group off; its goals are kept'}
  data-testid="group-on-{group.id}"
  onchange={() => set('off', group.off ? undefined : true)}
/>
<div class="name" class:off={group.off}>
  <Cell
    label="Name of the group"
    text={group.name}
    {row}
    col={-1}
    align="left"
    testid="group-name-{group.id}"
    read={readName}
    oncommit={(value) => value !== group.name && set('name', value)}
  />
</div>
<span class="rule">its goals count times</span>
<Cell
  label="Weight of {group.name}"
  text={plain(group.weight)}
  {row}
  col={3}
  testid="group-weight-{group.id}"
  read={readWeight}
  oncommit={(value) => value !== group.weight && set('weight', value)}
/>
<span class="num">{group.off ? 'off' : share === null ? '' : `${(100 * share).toFixed(0)} %`}</span>
<Button
  small
  aria-label="Dissolve {group.name}"
  data-testid="group-dissolve-{group.id}"
  title="Ungroup: its goals stay, with their own weights"
  onclick={() => commitGoal(desk, success(removeGroup(desk.base, group)))}>−</Button
>

<style>
  .name {
    min-width: 0;
    font-weight: 650;
  }

  .off {
    color: var(--muted);
    text-decoration: line-through;
  }

  .rule {
    grid-column: span 4;
    padding-right: 5px;
    color: var(--muted);
    font-size: var(--size-small);
    text-align: right;
  }

  .num {
    padding-right: 5px;
    color: var(--muted);
    font-size: var(--size-small);
    text-align: right;
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
