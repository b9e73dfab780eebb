<script lang="ts">
  import { findMeasure, MADE_BY, type Goal, type GoalStand, type ImageGoal } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';
  import SettingField from '$lib/components/SettingField.svelte';
  import { commitGoal } from './commit-goal.ts';
  import {
    goalName,
    groupGoal,
    IMAGE_KINDS,
    imageKindOf,
    readFrequency,
    setGoal,
    setImageKind,
    type ImageKind,
  } from './goal-edits.ts';
  import ImageHeat from './ImageHeat.svelte';

  interface Props {
    goal: Goal;
    /** How it stands in each of its states. */
    stands: readonly GoalStand[];
  }
  let { goal, stands }: Props = $props();
  const desk = useDesk();
  const lens = $derived(desk.lens);
  const commit = (done: Parameters<typeof commitGoal>[1]) => commitGoal(desk, done);
  const set = (key: string, value: unknown) => commit(setGoal(goal, key, value));

  const stateName = (id: string) =>
    id === 'designed' ? 'as designed' : (desk.base.states?.find((one) => one.id === id)?.name ?? id);

  /** What a goal about a scene can be about there. */
  function idsOf(setting: string): readonly (readonly [string, string])[] | undefined {
    const scene = desk.base.scenes?.find(({ id }) => id === goal.of);
    const things = setting === 'detector' ? scene?.detectors : setting === 'part' ? scene?.parts : undefined;
    return things && [['', 'the first'], ...things.map(({ id, name }) => [id, name ?? id] as const)];
  }

  /** Whether it can be about chief rays, and without lateral colour: rays alone can. */
  const aboutRays = (image: ImageGoal) => image.what === 'spot' && image.workshop === undefined;
</script>

<div class="choices">
  <label
    >in <select
      value={goal.state ?? ''}
      aria-label="State of {goalName(goal)}"
      onchange={(event) => set('state', event.currentTarget.value || undefined)}
    >
      <option value="">as designed</option>
      {#each desk.base.states ?? [] as { id, name } (id)}<option value={id}>{name}</option>{/each}
      {#if desk.base.states}<option value="every">every state</option>{/if}
    </select></label
  >
  <label
    >group <select
      value={goal.group ?? ''}
      data-testid="goal-group-{goal.id}"
      onchange={(event) => commit(groupGoal(desk.base, goal, event.currentTarget.value))}
    >
      <option value="">none</option>
      {#each desk.base.goalGroups ?? [] as { id, name } (id)}<option value={id}>{name}</option>{/each}
      <option value=":new">a new one</option>
    </select></label
  >
  {#if goal.kind === 'image_quality'}
    <label
      >by <select
        value={imageKindOf(goal)}
        data-testid="goal-what-{goal.id}"
        onchange={(event) => commit(setImageKind(goal, event.currentTarget.value as ImageKind))}
        >{#each IMAGE_KINDS as [kind, title] (kind)}<option value={kind}>{title}</option>{/each}</select
      ></label
    >
    {#if goal.what === 'mtf'}
      <label class="frequency"
        >at <Cell
          label="Frequency of {goalName(goal)}, cycles/mm"
          text={plain(goal.frequency ?? 0)}
          row={0}
          col={0}
          testid="goal-frequency-{goal.id}"
          read={readFrequency}
          oncommit={(value) => value !== goal.frequency && set('frequency', value)}
        /> cycles/mm</label
      >
    {/if}
    {#if goal.what === 'spot' && goal.by !== 'peak'}
      <label
        title="The RMS spot expected after manufacture, refocused. The measure As-built spot lists what each grade assumes."
        >of the lens <select
          value={goal.workshop ?? ''}
          data-testid="goal-workshop-{goal.id}"
          onchange={(event) => set('workshop', event.currentTarget.value || undefined)}
        >
          <option value="">as drawn</option>
          {#each MADE_BY as name (name)}<option value={name}
              >{name === 'tolerances' ? 'as made, 90 % within the tolerances' : `as built, ${name} workshop`}</option
            >{/each}
        </select></label
      >
    {/if}
    {#if aboutRays(goal)}
      <label
        >about <select value={goal.about} onchange={(event) => set('about', event.currentTarget.value)}
          ><option value="centroid">the centroid</option><option value="chief">the chief ray</option></select
        ></label
      >
      <label
        ><input
          type="checkbox"
          checked={goal.lateralColour}
          onchange={() => set('lateralColour', !goal.lateralColour)}
        /> lateral colour counts</label
      >
    {/if}
    {#each stands as one, k (one.state)}
      {#if one.parts}
        <ImageHeat parts={one.parts} unit={one.unit} title={stands.length > 1 ? stateName(one.state) : ''} />
      {/if}
      {#if one.sampling && one.sampling !== stands[k + 1]?.sampling}<p>{one.sampling}.</p>{/if}
      {#if one.why}<p class="bad">✕ {one.why}</p>{/if}
    {/each}
  {:else}
    {#each Object.entries(findMeasure(goal.measure)?.settings ?? {}) as [id, spec] (id)}
      <SettingField
        {spec}
        {lens}
        ids={idsOf(id)}
        value={(goal.settings[id] as string | number | undefined) ??
          (spec.fallback === null ? (lens?.fields.points[0]?.id ?? '') : spec.fallback)}
        testid="goal-setting-{id}"
        onchange={(value) => set('settings', { ...goal.settings, [id]: value })}
      />
    {/each}
    {#each stands as one (one.state)}
      {#if one.why}<p class="bad">
          ✕ {stands.length > 1 ? `${stateName(one.state)}: ` : ''}{one.why}
        </p>{/if}
    {/each}
    <p>{findMeasure(goal.measure)?.meaning}</p>
  {/if}
</div>

<style>
  .choices {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    grid-column: 2 / -1;
    padding: 2px 0 8px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  p {
    width: 100%;
    margin: 0;
  }

  .frequency {
    display: inline-grid;
    grid-template-columns: auto 56px auto;
    gap: 4px;
    align-items: center;
  }

  .bad {
    color: var(--bad);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
