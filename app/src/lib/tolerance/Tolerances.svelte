<script lang="ts">
  import { untrack } from 'svelte';
  import { listParameters, success, type Outcome, type Tolerance } from '@ulvex/core';
  import {
    addTolerance,
    applyGrade,
    changeTolerances,
    GRADES,
    readGroup,
    readLimits,
    removeTolerances,
    tolerancePlaces,
    type ToleranceChange,
  } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import AfterMaking from './AfterMaking.svelte';
  import ToleranceFindings from './ToleranceFindings.svelte';
  import MoreTolerances from './MoreTolerances.svelte';
  import { nearest } from './nearest.ts';
  import NumberPicker from '$lib/components/NumberPicker.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { numberTitle } from '$lib/desk/number-state.ts';
  import {
    commonLimits,
    limitsText,
    pastedLimits,
    sameFor,
    toleranceGroups,
    type ToleranceGroup,
    type ToleranceRow,
    withText,
  } from './groups.ts';

  interface Props {
    /** Id of the tolerance that is looked at. */
    chosen: string | null;
  }
  let { chosen = $bindable() }: Props = $props();
  const desk = useDesk();
  const tolerances = $derived(desk.shown.tolerancing?.tolerances ?? []);
  const groups = $derived(toleranceGroups(desk.base, tolerances));
  /** Tolerances from which on a list begins closed. */
  const LONG = 150;
  /** Kinds that are closed: all of them in a long list. */
  let folded = $state.raw<readonly string[]>(
    untrack(() => (tolerances.length > LONG ? groups.map(({ id }) => id) : [])),
  );
  let grade = $state('standard');

  const DISTRIBUTIONS = [
    { id: 'uniform', title: 'uniform', value: null },
    { id: 'triangular', title: 'triangular', value: { kind: 'triangular' } },
    { id: 'normal', title: 'normal, 2σ', value: { kind: 'normal', sigmas: 2, truncated: true } },
    { id: 'ends', title: 'at the ends', value: { kind: 'ends' } },
  ] as const;

  type Limits = Pick<Tolerance, 'lower' | 'upper'>;

  function gestureFor(rows: readonly ToleranceRow[], change: ToleranceChange) {
    return changeTolerances(desk.base, sameFor(rows, change));
  }

  function commit(rows: readonly ToleranceRow[], change: ToleranceChange) {
    const gesture = gestureFor(rows, change);
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
    else desk.notice = { tone: 'refused', title: gesture.reason };
  }

  function preview(rows: readonly ToleranceRow[], change: ToleranceChange) {
    const gesture = gestureFor(rows, change);
    if (gesture.ok) desk.previewDesign(gesture.value.edits);
  }

  /** Reads limits of rows; a factor is of what the first of them has now, not of what is being typed. */
  const reader =
    (rows: readonly ToleranceRow[]) =>
    (text: string): Outcome<Limits> => {
      const [{ tolerance }] = rows;
      const kept = desk.base.tolerancing?.tolerances.find(({ id }) => id === tolerance.id) ?? tolerance;
      const limits = readLimits(text, kept);
      if (!limits.ok) return limits;
      const gesture = gestureFor(rows, limits.value);
      return gesture.ok ? success(limits.value) : gesture;
    };

  function apply() {
    const chosenGrade = GRADES.find(({ id }) => id === grade);
    if (!desk.lens || !chosenGrade) return;
    const { edits, label } = applyGrade(desk.base, desk.lens, chosenGrade);
    desk.commitDesign(edits, label);
  }

  function applyPlaces() {
    if (!desk.scene) return;
    const { edits, label } = tolerancePlaces(desk.base, desk.scene);
    desk.commitDesign(edits, label);
  }

  const choices = $derived(
    listParameters(desk.base)
      .filter(({ spec }) => spec.id !== 'weight')
      .map(({ address }) => ({ address, title: numberTitle(desk.base, address) })),
  );

  function add(address: string) {
    const gesture = addTolerance(desk.base, { kind: 'number', address });
    if (!gesture.ok) {
      desk.notice = { tone: 'refused', title: gesture.reason };
      return;
    }
    desk.commitDesign(gesture.value.edits, gesture.value.label);
    chosen = gesture.value.id;
  }

  function remove(id: string) {
    const { edits, label } = removeTolerances(desk.base, [id]);
    desk.commitDesign(edits, label);
  }

  /** Lines of a spreadsheet, from the cell that they are pasted into on. */
  function paste(event: ClipboardEvent) {
    const lines = (event.clipboardData?.getData('text/plain') ?? '')
      .split(/\r?\n/)
      .filter((line) => line.trim() !== '');
    const into = (event.target as HTMLElement).dataset.testid?.replace(/^limits-/, '');
    const shown = groups.flatMap((group) => (folded.includes(group.id) ? [] : group.rows));
    const from = shown.findIndex(({ tolerance }) => tolerance.id === into);
    if (lines.length < 2 || from < 0) return;
    event.preventDefault();
    const changes = pastedLimits(shown, from, lines);
    const gesture = changes.ok ? changeTolerances(desk.base, changes.value) : changes;
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
    else desk.notice = { tone: 'refused', title: `${gesture.reason} Nothing was changed.` };
  }

  function fold(id: string) {
    folded = folded.includes(id) ? folded.filter((one) => one !== id) : [...folded, id];
  }

  const unitOf = ({ unit }: ToleranceGroup) => unit ?? '';
  const kindOf = (tolerance: Tolerance) => tolerance.distribution?.kind ?? 'uniform';
  const rowOf = $derived(
    new Map(
      groups
        .flatMap((group) => [
          `:${group.id}`,
          ...(folded.includes(group.id) ? [] : group.rows.map((row) => row.tolerance.id)),
        ])
        .map((key, k) => [key, k]),
    ),
  );
</script>

<PanelFrame title="Tolerances" data-testid="tolerances">
  {#snippet tools()}
    <span class="muted">{tolerances.length === 0 ? 'none yet' : tolerances.length}</span>
  {/snippet}
  {#if desk.lens}
    <div class="tools">
      <label
        >Grade <select bind:value={grade} data-testid="grade"
          >{#each GRADES as { id, title, drawing } (id)}<option value={id} title="ISO 10110: {drawing}">{title}</option
            >{/each}</select
        ></label
      >
      <Button small data-testid="apply-grade" title="Tolerances of this grade for the whole lens" onclick={apply}
        >Apply</Button
      >
    </div>
  {/if}
  {#if desk.scene && desk.scene.sources.length > 0}
    <div class="tools">
      {desk.scene.name}
      <Button
        small
        data-testid="apply-places"
        title="Places and tilts of its sources and parts, and the flux of its sources"
        onclick={applyPlaces}>Add tolerances of places</Button
      >
    </div>
  {/if}
  {#if desk.lens || tolerances.length > 0}<AfterMaking />{/if}
  <ToleranceFindings bind:chosen />
  {#if tolerances.length === 0}
    <p class="muted">
      Nothing has a tolerance yet.
      {#if desk.lens}Apply a grade to the whole lens, then change single limits, or add a number below.{:else}Add a
        number below.{/if}
    </p>
  {/if}
  <div class="list" onpaste={paste}>
    <CellGrid columns="18px minmax(0, 1fr) 84px 42px 76px 16px">
      {#each groups as group (group.id)}
        {@const common = commonLimits(group)}
        <button
          class="fold"
          aria-expanded={!folded.includes(group.id)}
          aria-label={group.title}
          onclick={() => fold(group.id)}>{folded.includes(group.id) ? '▸' : '▾'}</button
        >
        <span class="group">{group.title} <span class="muted">{group.rows.length}</span></span>
        {#if group.unit !== null && group.rows.length > 1}
          <Cell
            label="{group.title}: limits of all"
            text={common ? limitsText(common) : 'mixed'}
            muted={!common}
            strong
            row={rowOf.get(`:${group.id}`)!}
            col={0}
            testid="limits-of-{group.id}"
            read={reader(group.rows)}
            onpreview={(limits) => preview(group.rows, limits)}
            onend={() => desk.endPreview()}
            oncommit={(limits) => commit(group.rows, limits)}
          />
          <span class="unit">{unitOf(group)}</span>
        {:else}<span></span><span></span>{/if}
        <span></span><span></span>
        {#if !folded.includes(group.id)}
          {#each group.rows as row (row.tolerance.id)}
            {@const { tolerance, title, short, unit } = row}
            <input
              type="checkbox"
              checked={!tolerance.off}
              aria-label="{title} counts"
              title="Counts in all studies"
              onchange={(event) => commit([row], { off: event.currentTarget.checked ? null : true })}
            />
            <button
              class="name"
              {@attach nearest(chosen === tolerance.id)}
              class:off={tolerance.off}
              aria-pressed={chosen === tolerance.id}
              data-testid="tolerance-{tolerance.id}"
              {title}
              onclick={() => (chosen = tolerance.id)}>{short}{tolerance.with ? ` · ${withText(tolerance)}` : ''}</button
            >
            <Cell
              label="{title}: limits"
              text={limitsText(tolerance)}
              muted={Boolean(tolerance.off)}
              row={rowOf.get(tolerance.id)!}
              col={0}
              testid="limits-{tolerance.id}"
              read={reader([row])}
              onpreview={(limits) => preview([row], limits)}
              onend={() => desk.endPreview()}
              oncommit={(limits) => commit([row], limits)}
              onfocus={() => (chosen = tolerance.id)}
            />
            <span class="unit">{unit}</span>
            <select
              aria-label="{title}: distribution"
              value={kindOf(tolerance)}
              onchange={(event) => {
                const found = DISTRIBUTIONS.find(({ id }) => id === event.currentTarget.value);
                if (found) commit([row], { distribution: found.value });
              }}
            >
              {#each DISTRIBUTIONS as { id, title: word } (id)}<option value={id}>{word}</option>{/each}
              {#if kindOf(tolerance) === 'table'}<option value="table">table</option>{/if}
            </select>
            <Button
              small
              bare
              aria-label="Delete the tolerance of {title}"
              title="Delete"
              onclick={() => remove(tolerance.id)}>−</Button
            >
            {#if chosen === tolerance.id}
              <span></span>
              <span class="with muted" title="A group departs together: made with one tool, or in one setting"
                >with group</span
              >
              <Cell
                label="{title}: group that it departs with"
                text={withText(tolerance)}
                row={rowOf.get(tolerance.id)!}
                col={1}
                testid="with-{tolerance.id}"
                read={readGroup}
                oncommit={(group) => commit([row], { with: group })}
              />
              <span></span><span></span><span></span>
            {/if}
          {/each}
        {/if}
      {/each}
    </CellGrid>
  </div>
  {#if desk.lens}<MoreTolerances lens={desk.lens} {grade} />{/if}
  <NumberPicker
    placeholder="a tolerance of another number…"
    label="A number to give a tolerance to"
    testid="tolerance-more"
    wanted="number"
    {choices}
    onpick={add}
  />
</PanelFrame>

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: center;
    font-size: var(--size-small);
  }

  select {
    min-width: 0;
    max-width: 130px;
    padding: 0 2px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    font-size: var(--size-small);
  }

  .tools select,
  select:hover,
  select:focus {
    border-color: var(--line);
    background: var(--card);
  }

  .list {
    min-width: 0;
  }

  .fold,
  .name {
    padding: 0;
    border: 0;
    background: none;
    text-align: left;
  }

  .fold {
    color: var(--muted);
  }

  .group {
    padding-top: 4px;
    font-weight: 600;
  }

  .group .muted {
    font-weight: 400;
  }

  .name {
    overflow: hidden;
    padding: 1px 4px;
    border-radius: var(--radius);
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .name[aria-pressed='true'] {
    background: var(--accent-ground);
    color: var(--accent);
  }

  .with {
    padding-left: 12px;
    font-size: var(--size-small);
  }

  .off {
    color: var(--muted);
    text-decoration: line-through;
  }

  .unit {
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .muted {
    color: var(--muted);
  }

  p {
    margin: 0;
    font-size: var(--size-small);
  }

  input[type='checkbox'] {
    margin: 0;
    accent-color: var(--accent);
  }
</style>
