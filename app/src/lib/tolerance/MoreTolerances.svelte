<script lang="ts">
  import { surfaceTitle, type Lens } from '@ulvex/core';
  import { GRADES, toleranceFigures, toleranceGroup, toleranceHomogeneity } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    lens: Lens;
    /** Id of the grade whose limits new tolerances begin with. */
    grade: string;
  }
  let { lens, grade }: Props = $props();
  const desk = useDesk();
  const limits = $derived(GRADES.find(({ id }) => id === grade) ?? GRADES[0]);
  const surfaces = $derived(
    lens.surfaces.slice(0, -1).map((surface, index) => ({ id: surface.id, title: surfaceTitle(lens, index) })),
  );
  let from = $state('');
  let to = $state('');
  const first = $derived(surfaces.some(({ id }) => id === from) ? from : (surfaces[0]?.id ?? ''));
  const last = $derived(surfaces.some(({ id }) => id === to) ? to : (surfaces.at(-1)?.id ?? ''));

  function addFigures() {
    const { edits, label } = toleranceFigures(desk.base, lens, limits);
    desk.commitDesign(edits, label);
  }

  function addHomogeneity() {
    const { edits, label } = toleranceHomogeneity(desk.base, lens, limits);
    desk.commitDesign(edits, label);
  }

  function addGroup() {
    const gesture = toleranceGroup(desk.base, lens, first, last, limits);
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
    else desk.notice = { tone: 'refused', title: gesture.reason };
  }
</script>

<div>
  <Button
    small
    data-testid="add-figures"
    title="Irregularity of every polished face by the grade chosen above: astigmatism of any orientation"
    onclick={addFigures}>Add figure errors</Button
  >
  <Button
    small
    data-testid="add-homogeneity"
    title="Variation of the index across every piece of glass by the grade chosen above, of any orientation"
    onclick={addHomogeneity}>Add homogeneity</Button
  >
</div>
<div>
  Group from
  <select
    value={first}
    aria-label="First surface of the group"
    data-testid="group-from"
    onchange={(event) => (from = event.currentTarget.value)}
    >{#each surfaces as { id, title } (id)}<option value={id}>{title}</option>{/each}</select
  >
  to
  <select
    value={last}
    aria-label="Last surface of the group"
    data-testid="group-to"
    onchange={(event) => (to = event.currentTarget.value)}
    >{#each surfaces as { id, title } (id)}<option value={id}>{title}</option>{/each}</select
  >
  <Button small data-testid="add-group" title="Shifts and tilts of the group in its cell" onclick={addGroup}
    >Add group</Button
  >
</div>

<style>
  div {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: center;
    font-size: var(--size-small);
  }

  select {
    max-width: 110px;
    padding: 0 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
  }
</style>
