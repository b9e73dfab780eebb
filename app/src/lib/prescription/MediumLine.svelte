<script lang="ts">
  import {
    abbeNumber,
    failure,
    setMedium,
    setThickness,
    success,
    suggestMaterials,
    type FocusCriterion,
    type Gesture,
    type Outcome,
  } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { numberCell } from './number-cell.ts';
  import { glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, lengthText } from '$lib/format.ts';
  import { KEYMAP, keysText } from '$lib/keymap.ts';
  import Handle from './Handle.svelte';
  import type { MediumRow, SurfaceRow } from './rows.ts';

  interface Props {
    row: SurfaceRow;
    medium: MediumRow;
    /** Column that is marked together with others; 0 the line itself. */
    marked: number | null;
  }
  let { row, medium, marked }: Props = $props();
  const desk = useDesk();
  const id = $derived(row.surface.id);
  const lens = $derived(desk.lensIn(desk.project)!);
  const at = $derived(2 * row.index + 1);
  const path = $derived(`lenses.${lens.id}.surfaces.${id}.after`);
  const toImage = $derived(row.index === (desk.lens?.surfaces.length ?? 0) - 2);
  const tint = $derived(medium.solid && medium.material ? glassTint(abbeNumber(medium.material.dispersion)) : null);
  const listId = $props.id();
  let suggesting = $state(false);

  const materialText = $derived(row.surface.reflects ? 'mirror' : (medium.material?.label ?? `${medium.materialId}?`));
  const select = () => (desk.selected = id);
  const numbers = numberCell(desk);

  function readMedium(text: string): Outcome<Gesture> {
    if (text.trim().toLowerCase() === materialText.toLowerCase()) return success({ edits: [], label: '', focus: id });
    if (!lens) return failure('No lens.');
    return setMedium(desk.project, lens, id, text);
  }
</script>

<div
  class="line {medium.solid ? 'solid' : 'gap'}"
  class:marked={marked === 0}
  class:out={row.surface.after?.excluded}
  data-surface={id}
  data-medium
  style:--tint={tint}
>
  <span></span>
  <Handle
    title={medium.title}
    label="{medium.solid ? 'Element' : 'Gap'} {medium.title} after {row.title}.{medium.solid
      ? ` Delete removes it, F2 renames it, Space ${row.surface.after?.excluded ? 'includes it again' : 'excludes it'}.`
      : ''}"
    name={row.surface.after?.name ?? ''}
    row={at}
    strong={medium.solid}
    onfocus={select}
    onrename={(name) =>
      medium.solid &&
      desk.commit([{ kind: 'set', path: `${path}.name`, value: name || undefined }], 'Rename an element')}
  />
  <span></span>
  <Cell
    label="Thickness of {medium.title} after {row.title} in mm"
    testid="thickness-{id}"
    address="lenses.{lens.id}.surfaces.{id}.thickness"
    marked={marked === 1}
    explain="word:thickness"
    text={lengthText(medium.thickness)}
    exact={exactText(medium.thickness)}
    row={at}
    col={1}
    read={(text) => setThickness(desk.project, lens, id, text)}
    onfocus={select}
    {...numbers}
  />
  <span class="material">
    <span class="word">
      <Cell
        label="Material after {row.title}"
        testid="material-{id}"
        barAt="lenses.{lens.id}.surfaces.{id}.material"
        marked={marked === 3}
        explain="word:material"
        text={materialText}
        align="left"
        strong={medium.solid}
        muted={!medium.solid}
        row={at}
        col={3}
        list={listId}
        read={readMedium}
        onfocus={() => {
          suggesting = true;
          select();
        }}
        oncommit={(gesture) => gesture.edits.length > 0 && desk.perform(gesture)}
      />
    </span>
    {#if toImage}
      <span class="refocus">
        <button
          title="Last distance for the smallest RMS spot over the weighted fields and colours ({keysText(
            KEYMAP.refocus,
          )})"
          data-testid="refocus"
          onclick={() => desk.refocus()}>refocus</button
        >
        <select
          aria-label="Refocus by another criterion"
          title="Refocus by another criterion"
          data-testid="refocus-by"
          value=""
          onchange={(event) => {
            void desk.refocus(event.currentTarget.value as FocusCriterion);
            event.currentTarget.value = '';
          }}
        >
          <option value="" hidden></option>
          <option value="centroid">RMS spot about the centroid</option>
          <option value="chief">RMS spot about the chief ray</option>
          <option value="paraxial">paraxial image</option>
        </select>
      </span>
    {:else if row.surface.after?.excluded}<span class="family" data-testid="out-{id}">excluded</span>
    {:else if medium.solid}<span class="family" title={medium.material?.family}>{medium.material?.family ?? ''}</span
      >{/if}
  </span>
  {#if suggesting}
    <datalist id={listId}>
      {#each suggestMaterials(desk.project, '') as material (material.id)}
        <option value={material.label}>{material.family}</option>
      {/each}
      <option value="mirror">the surface reflects</option>
    </datalist>
  {/if}
</div>

<style>
  .line {
    display: grid;
    grid-template-columns: var(--columns);
    gap: 4px;
    align-items: center;
    padding: 0 6px 0 4px;
  }

  .solid {
    min-height: 31px;
    border-left: 3px solid var(--glass-edge);
    background: var(--tint, var(--glass-1));
  }

  .gap {
    min-height: 23px;
    border-left: 3px dotted var(--line);
    color: var(--muted);
  }

  .marked {
    box-shadow: inset 3px 0 var(--accent);
  }

  .material {
    display: flex;
    grid-column: 5 / -1;
    align-items: center;
    gap: 4px;
    min-width: 0;
  }

  .word {
    flex: 0 0 72px;
  }

  .out {
    opacity: 0.55;
    background: repeating-linear-gradient(135deg, transparent 0 5px, var(--line) 5px 6px);
  }

  .family {
    overflow: hidden;
    font-size: 11px;
    line-height: 1.1;
    opacity: 0.85;
  }

  .refocus {
    display: flex;
  }

  .refocus > * {
    padding: 0 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    font-size: var(--size-small);
  }

  .refocus select {
    width: 20px;
    margin-left: -1px;
    padding: 0;
  }

  .refocus > *:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
