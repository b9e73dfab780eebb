<script lang="ts">
  import { failure, findMeasure, MEASURES, success, type Requirement } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import RequirementChip from '$lib/requirements/RequirementChip.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import { addRequirement, limitText, readLimit, requirementTitle, setLimit } from '$lib/desk/requirement-edits.ts';

  const desk = useDesk();
  const lens = $derived(desk.lens!);
  const requirements = $derived(desk.project.requirements);
  let wanted = $state('');

  function limit(requirement: Requirement, key: 'min' | 'max', value: number | undefined) {
    const set = setLimit(requirement, key, value);
    if (set.ok) desk.commit(set.value.edits, set.value.label);
    else desk.notice = { tone: 'refused', title: set.reason };
  }

  function takesField(requirement: Requirement): readonly string[] | null {
    const spec = findMeasure(requirement.measure)?.settings.field;
    return spec?.kind === 'field' ? spec.also : null;
  }

  function fieldOf(requirement: Requirement): string {
    const spec = findMeasure(requirement.measure)?.settings.field;
    return String(requirement.settings.field ?? (spec?.kind === 'field' ? (spec.fallback ?? '') : ''));
  }

  function add() {
    const added = addRequirement(desk.project, lens, wanted);
    if (added.ok) desk.commit(added.value.edits, added.value.label);
    wanted = '';
  }

  const stated = $derived(desk.base.states !== undefined);
  const columns = $derived(
    stated
      ? 'minmax(104px, 1fr) 96px 110px 50px 50px 24px 94px 24px'
      : 'minmax(110px, 1fr) 112px 66px 66px 26px 96px 24px',
  );
  const heads = $derived([
    'what',
    'of',
    ...(stated ? ['in'] : []),
    { number: 'at least' },
    { number: 'at most' },
    '',
    'now',
    '',
  ]);
</script>

<section aria-label="Requirements">
  <h2>Requirements</h2>
  <CellGrid {columns} {heads}>
    {#each requirements as requirement, i (requirement.id)}
      {@const measure = findMeasure(requirement.measure)}
      {@const also = takesField(requirement)}
      <Cell
        label="Name of requirement {requirementTitle(requirement)}"
        text={requirementTitle(requirement)}
        align="left"
        row={i}
        col={0}
        read={(text) => (text.length > 80 ? failure('At most 80 characters.') : success(text.trim()))}
        oncommit={(label) =>
          desk.commit(
            [{ kind: 'set', path: `requirements.${requirement.id}.label`, value: label || undefined }],
            'Name of a requirement',
          )}
      />
      {#if also}
        <select
          aria-label="Field of {requirementTitle(requirement)}"
          value={fieldOf(requirement)}
          onchange={(event) =>
            desk.commit(
              [
                {
                  kind: 'set',
                  path: `requirements.${requirement.id}.settings.field`,
                  value: event.currentTarget.value,
                },
              ],
              `Field of ${requirementTitle(requirement)}`,
            )}
        >
          {#each also as word (word)}<option value={word}>{word === 'all' ? 'all fields' : `${word} field`}</option
            >{/each}
          {#each lens.fields.points as point (point.id)}
            <option value={point.id}>{fieldLabel(lens.fields.kind, point)} {point.id}</option>
          {/each}
        </select>
      {:else}<span class="muted">lens</span>{/if}
      {#if desk.base.states}
        <select
          aria-label="State of {requirementTitle(requirement)}"
          data-testid="state-{requirement.id}"
          value={requirement.state ?? ''}
          onchange={(event) =>
            desk.commit(
              [
                {
                  kind: 'set',
                  path: `requirements.${requirement.id}.state`,
                  value: event.currentTarget.value || undefined,
                },
              ],
              `State of ${requirementTitle(requirement)}`,
            )}
        >
          <option value="">as designed</option>
          {#each desk.base.states as { id, name } (id)}<option value={id}>{name}</option>{/each}
          <option value="every">every state</option>
        </select>
      {/if}
      <Cell
        label="{requirementTitle(requirement)}: at least"
        testid="min-{requirement.id}"
        text={limitText(requirement.min)}
        row={i}
        col={1}
        read={(text) => readLimit(text, requirement.min)}
        oncommit={(value) => limit(requirement, 'min', value)}
      />
      <Cell
        label="{requirementTitle(requirement)}: at most"
        testid="max-{requirement.id}"
        text={limitText(requirement.max)}
        row={i}
        col={2}
        read={(text) => readLimit(text, requirement.max)}
        oncommit={(value) => limit(requirement, 'max', value)}
      />
      <span class="muted" title={measure?.meaning}>{measure?.unit ?? ''}</span>
      <RequirementChip {requirement} brief />
      <Button
        small
        aria-label="Remove requirement {requirementTitle(requirement)}"
        onclick={() =>
          desk.commit(
            [{ kind: 'remove', list: 'requirements', id: requirement.id }],
            `Remove ${requirementTitle(requirement)}`,
          )}>−</Button
      >
    {:else}
      <p>What must the lens do? Choose a measure and give it limits.</p>
    {/each}
  </CellGrid>
  <div class="add">
    <select bind:value={wanted} aria-label="Measure for a new requirement">
      <option value="">a measure…</option>
      {#each MEASURES as { id, title, unit } (id)}<option value={id}>{title}{unit ? `, ${unit}` : ''}</option>{/each}
    </select>
    <Button small disabled={!wanted} onclick={add} data-testid="add-requirement">+ requirement</Button>
    {#if wanted}<span class="muted">{findMeasure(wanted)?.meaning}</span>{/if}
  </div>
</section>

<style>
  .add {
    display: flex;
    gap: 8px;
    align-items: baseline;
    margin-top: 6px;
  }

  .muted {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .add > * {
    flex-shrink: 0;
  }

  .add > .muted {
    flex-shrink: 1;
  }
</style>
