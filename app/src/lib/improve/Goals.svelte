<script lang="ts">
  import {
    failure,
    findMeasure,
    MEASURES,
    subjectOf,
    success,
    type Goal,
    type GoalStand,
    type MeritStand,
    type Outcome,
  } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { limitText, readLimit } from '$lib/desk/requirement-edits.ts';
  import { plain, significant } from '$lib/format.ts';
  import SettingField from '$lib/tiles/SettingField.svelte';
  import {
    addImageGoal,
    addMeasureGoal,
    goalName,
    goalsFromRequirements,
    removeGoal,
    setGoal,
  } from './goal-edits.ts';
  import ImageHeat from './ImageHeat.svelte';

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
  const largest = $derived(
    Math.max(1e-12, ...goals.map(({ id }) => standsOf(id).reduce((sum, { square }) => sum + square, 0))),
  );
  const fromBrief = $derived(goalsFromRequirements(desk.base));

  function standsOf(id: string): readonly GoalStand[] {
    return stand?.goals.filter(({ goal }) => goal === id) ?? [];
  }

  function commit(
    done: Outcome<{ readonly edits: readonly import('@ulvex/core').Edit[]; readonly label: string }>,
  ) {
    if (done.ok) desk.commitDesign(done.value.edits, done.value.label);
    else desk.notice = { tone: 'refused', title: done.reason };
  }

  async function add(word: string) {
    if (word === '') return;
    if (word === ':spot' || word === ':wavefront') {
      if (lens) commit(success(addImageGoal(desk.base, lens, word === ':spot' ? 'spot' : 'wavefront')));
      return;
    }
    // What it is now becomes the target: a goal that is added takes nothing away unasked.
    const subject = subjectOf(desk.base, findMeasure(word)!, lens?.id ?? null) ?? '';
    const query = { kind: 'measure', measure: word, lens: subject, settings: {} } as const;
    let now: number | null = null;
    await desk.pool.run('evaluate', { project: desk.base, queries: [{ key: 'now', query }] }, (part) => {
      for (const { answer } of part) if (answer.ok) now = (answer.value as { value: number }).value;
    }).result;
    commit(addMeasureGoal(desk.base, lens, word, now));
  }

  function readWeight(text: string): Outcome<number> {
    const value = Number(text.trim().replace(',', '.'));
    return value >= 0 && text.trim() !== '' && Number.isFinite(value) ? success(value) : failure('A weight is a number, 0 or above.'); // prettier-ignore
  }

  function valueText(one: GoalStand): string {
    if (one.value === null) return '–';
    const unit = one.unit === '' ? '' : one.unit === '°' ? '°' : ` ${one.unit}`;
    return `${significant(one.value, 5)}${unit}`;
  }

  const stateName = (id: string) =>
    id === 'designed' ? 'as designed' : (desk.base.states?.find((one) => one.id === id)?.name ?? id);

  /** What a goal about a scene can be about there. */
  function idsOf(goal: Goal, setting: string): readonly (readonly [string, string])[] | undefined {
    const scene = desk.base.scenes?.find(({ id }) => id === goal.of);
    const things = setting === 'detector' ? scene?.detectors : setting === 'part' ? scene?.parts : undefined;
    return things && [['', 'the first'], ...things.map(({ id, name }) => [id, name ?? id] as const)];
  }

  function settingsOf(goal: Extract<Goal, { kind: 'measure' }>) {
    return Object.entries(findMeasure(goal.measure)?.settings ?? {});
  }
</script>

<section aria-label="What is wanted" data-testid="goals">
  <header>
    <h2>What is wanted</h2>
    <span class="merit" data-testid="merit" data-merit={stand?.merit ?? ''}
      >merit {stand ? significant(stand.merit, 5) : '–'}</span
    >
  </header>
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
        <option value=":spot">Image quality by spots</option>
        <option value=":wavefront">Image quality by wavefront</option>
      {/if}
      {#each MEASURES as { id, title, unit } (id)}<option value={id}>{title}{unit ? `, ${unit}` : ''}</option
        >{/each}
    </select>
    <button
      disabled={fromBrief.edits.length === 0}
      title="Limits of the requirements become limits of goals"
      data-testid="goals-from-brief"
      onclick={() => commit(success(fromBrief))}>from the requirements</button
    >
  </p>
  <div class="table" data-walk>
    <span></span><span>goal</span><span class="num">now</span><span class="num">target</span><span class="num"
      >at least</span
    ><span class="num">at most</span><span class="num">weight</span><span class="num">share</span><span
    ></span>
    {#each goals as goal, k (goal.id)}
      {@const stands = standsOf(goal.id)}
      {@const square = stands.reduce((sum, one) => sum + one.square, 0)}
      {@const errors = stands.flatMap(({ standardError = 0 }) => (standardError > 0 ? [standardError] : []))}
      <input
        type="checkbox"
        checked={!goal.off}
        aria-label="{goalName(goal)} counts"
        title={goal.off ? 'It does not count: switch it on' : 'It counts: switch it off without losing it'}
        data-testid="goal-on-{goal.id}"
        onchange={() => commit(setGoal(goal, 'off', goal.off ? undefined : true))}
      />
      <button
        class="name"
        class:off={goal.off}
        aria-expanded={opened === goal.id}
        title="Choices of this goal"
        data-testid="goal-{goal.id}"
        onclick={() => (opened = opened === goal.id ? null : goal.id)}
        >{opened === goal.id ? '▾' : '▸'}
        {goalName(goal)}{#if goal.kind === 'image_quality'}<small> {goal.what}</small>{/if}</button
      >
      <span
        class="num now"
        title={stands.map((one) => one.why ?? '').join(' ')}
        data-testid="goal-now-{goal.id}"
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
            row={k}
            col={column}
            testid="goal-{key}-{goal.id}"
            read={readLimit}
            oncommit={(value) => value !== goal[key] && commit(setGoal(goal, key, value))}
          />
        {/each}
      {:else}<span></span><span></span><span></span>{/if}
      <Cell
        label="Weight of {goalName(goal)}"
        text={plain(goal.weight)}
        row={k}
        col={3}
        testid="goal-weight-{goal.id}"
        read={readWeight}
        oncommit={(value) => value !== goal.weight && commit(setGoal(goal, 'weight', value))}
      />
      <span
        class="num share"
        title={goal.weight === 0 ? 'Weight 0: it counts nothing' : 'Share of the square of the merit'}
        >{goal.off
          ? 'off'
          : goal.weight === 0
            ? '! 0'
            : total > 0
              ? `${((100 * square) / total).toFixed(0)} %`
              : ''}</span
      >
      <button
        aria-label="Want {goalName(goal)} no more"
        title="Remove"
        onclick={() => commit(success(removeGoal(desk.base, goal)))}>−</button
      >
      <div class="bar" aria-hidden="true">
        <i style:width="{(100 * square) / largest}%"></i>
        {#if running?.has(goal.id)}<i
            class="run"
            style:width="{Math.min(100, (100 * running.get(goal.id)!) / largest)}%"
          ></i>{/if}
      </div>
      {#if opened === goal.id}
        <div class="choices">
          <label
            >in <select
              value={goal.state ?? ''}
              aria-label="State of {goalName(goal)}"
              onchange={(event) => commit(setGoal(goal, 'state', event.currentTarget.value || undefined))}
            >
              <option value="">as designed</option>
              {#each desk.base.states ?? [] as { id, name } (id)}<option value={id}>{name}</option>{/each}
              {#if desk.base.states}<option value="every">every state</option>{/if}
            </select></label
          >
          {#if goal.kind === 'image_quality'}
            <label
              >by <select
                value={goal.what}
                data-testid="goal-what-{goal.id}"
                onchange={(event) => commit(setGoal(goal, 'what', event.currentTarget.value))}
                ><option value="spot">RMS spot</option><option value="wavefront">RMS wavefront</option
                ></select
              ></label
            >
            <label
              >about <select
                value={goal.about}
                disabled={goal.what === 'wavefront'}
                onchange={(event) => commit(setGoal(goal, 'about', event.currentTarget.value))}
                ><option value="centroid">the centroid</option><option value="chief">the chief ray</option
                ></select
              ></label
            >
            <label
              ><input
                type="checkbox"
                checked={goal.lateralColour}
                disabled={goal.what === 'wavefront'}
                onchange={() => commit(setGoal(goal, 'lateralColour', !goal.lateralColour))}
              /> lateral colour counts</label
            >
            {#each stands as one (one.state)}
              {#if one.parts}
                <ImageHeat
                  parts={one.parts}
                  unit={one.unit}
                  title={stands.length > 1 ? stateName(one.state) : ''}
                />
              {/if}
              {#if one.sampling}<p>{one.sampling}.</p>{/if}
              {#if one.why}<p class="bad">✕ {one.why}</p>{/if}
            {/each}
          {:else}
            {#each settingsOf(goal) as [id, spec] (id)}
              <SettingField
                {spec}
                {lens}
                ids={idsOf(goal, id)}
                value={(goal.settings[id] as string | number | undefined) ??
                  (spec.fallback === null ? (lens?.fields.points[0]?.id ?? '') : spec.fallback)}
                testid="goal-setting-{id}"
                onchange={(value) => commit(setGoal(goal, 'settings', { ...goal.settings, [id]: value }))}
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
      {/if}
    {:else}
      <p class="none">
        Nothing is wanted yet: add image quality, and what the lens has to keep, such as its focal length.
      </p>
    {/each}
  </div>
</section>

<style>
  section {
    display: flex;
    flex-direction: column;
    gap: 6px;
    padding: 10px 12px 0;
  }

  header {
    display: flex;
    gap: 14px;
    align-items: baseline;
    justify-content: space-between;
  }

  .merit {
    font-variant-numeric: tabular-nums;
    font-weight: 650;
  }

  .tools {
    display: flex;
    gap: 6px;
    margin: 0;
  }

  .table {
    display: grid;
    grid-template-columns: 16px minmax(104px, 1fr) minmax(74px, auto) 58px 50px 50px 40px 42px 18px;
    gap: 1px 4px;
    align-items: center;
  }

  .table > span {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .num {
    padding-right: 5px;
    text-align: right;
  }

  .table > .now {
    color: var(--ink);
    font-size: inherit;
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }

  .name {
    padding: 0 2px;
    border: 0;
    line-height: 1.15;
    text-align: left;
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

  .choices {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    grid-column: 2 / -1;
    padding: 2px 0 8px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .choices p {
    width: 100%;
    margin: 0;
  }

  .none {
    grid-column: 1 / -1;
    margin: 4px 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .bad {
    color: var(--bad);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }

  button,
  select {
    padding: 0 5px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
  }

  button:hover:not(:disabled),
  select:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
