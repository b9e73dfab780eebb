<script lang="ts">
  import type { Finding, Gesture, Outcome } from '@ulvex/core';
  import {
    insertElement,
    insertSurface,
    lensTable,
    looksLikeTable,
    pasteTable,
    removeElement,
    removeSurface,
  } from '@ulvex/core';
  import { tick } from 'svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { KEYMAP, keysText, pressed } from '$lib/keymap.ts';
  import MediumLine from './MediumLine.svelte';
  import { prescriptionRows } from './rows.ts';
  import SurfaceLine from './SurfaceLine.svelte';

  interface Props {
    findings: readonly Finding[];
    /** Semi-apertures in mm by surface id, automatic ones included. */
    semis: ReadonlyMap<string, { readonly semi: number; readonly automatic: boolean }>;
  }
  let { findings, semis }: Props = $props();
  const desk = useDesk();
  const rows = $derived(desk.lens ? prescriptionRows(desk.shown, desk.lens, findings) : []);
  let table: HTMLElement;

  /** The project as it was before the cell that is being edited. */
  const lens = $derived(desk.project.lenses[0]);

  async function perform(gesture: Gesture | Outcome<Gesture>, col: number) {
    const focus = desk.perform(gesture);
    if (!focus) return;
    desk.selected = focus;
    await tick();
    table.querySelector<HTMLElement>(`[data-surface="${focus}"] [data-col="${col}"]`)?.focus();
  }

  /** The surface that a key press in a line belongs to: the line's own, or the one in front of its medium. */
  function surfaceOf(target: EventTarget | null): string | null {
    return (target as HTMLElement).closest<HTMLElement>('[data-surface]')?.dataset.surface ?? null;
  }

  function onkeydown(event: KeyboardEvent) {
    const id = surfaceOf(event.target);
    if (!id || !lens) return;
    const onMedium = (event.target as HTMLElement).closest('[data-medium]') !== null;
    const onHandle = (event.target as HTMLElement).closest('[data-handle]') !== null;
    if (pressed(event, KEYMAP.insertSurface)) {
      event.preventDefault();
      void perform(insertSurface(lens, id), 1);
    } else if (pressed(event, KEYMAP.insertElement)) {
      event.preventDefault();
      void perform(insertElement(desk.project, lens, id), 1);
    } else if (onHandle && (event.key === 'Delete' || event.key === 'Backspace')) {
      event.preventDefault();
      void perform(onMedium ? removeElement(desk.project, lens, id) : removeSurface(lens, id), 0);
    }
  }

  /** A table from a spreadsheet lands on the surfaces from the one that has the focus; a single value goes into its cell. */
  function onpaste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    const id = surfaceOf(event.target);
    if (!id || !looksLikeTable(text)) return;
    event.preventDefault();
    const result = pasteTable(desk.project, lens.id, id, text);
    if (!result.ok) {
      const places = result.problems.map(
        ({ row, column, reason }) => `row ${row}, column ${column}: ${reason}`,
      );
      desk.notice = {
        tone: 'refused',
        title: 'The table was not pasted; nothing was changed.',
        lines: places.slice(0, 20),
      };
      return;
    }
    void perform(result.gesture, 1);
    const added = result.added > 0 ? `, ${result.added} of them new surfaces` : '';
    desk.notice = { tone: 'done', title: `Pasted ${result.rows} rows${added}.` };
  }

  async function copyTable() {
    try {
      await navigator.clipboard.writeText(lensTable(desk.project, lens));
      desk.notice = { tone: 'done', title: 'The prescription is on the clipboard, ready for a spreadsheet.' };
    } catch (error) {
      desk.notice = {
        tone: 'refused',
        title: `The browser does not give the clipboard: ${(error as Error).message}`,
      };
    }
  }

  const target = $derived(desk.selected ?? lens?.surfaces.at(-2)?.id ?? lens?.surfaces[0]?.id);
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div class="prescription" bind:this={table} data-walk {onkeydown} {onpaste} data-testid="prescription">
  <div class="line head" aria-hidden="true">
    <span></span><span>surface / medium</span><span></span><span class="num">radius / thickness</span><span
      class="num">conic</span
    ><span class="num">semi-ap.</span>
  </div>
  <div class="lines">
    {#each rows as row (row.surface.id)}
      <SurfaceLine {row} semi={semis.get(row.surface.id)} />
      {#if row.medium}<MediumLine {row} medium={row.medium} />{/if}
    {/each}
  </div>
  <div class="tools">
    <button
      title="{keysText(KEYMAP.insertSurface)} in a line"
      onclick={() => target && perform(insertSurface(lens, target), 1)}>+ surface</button
    >
    <button
      title="{keysText(KEYMAP.insertElement)} in a line"
      onclick={() => target && perform(insertElement(desk.project, lens, target), 1)}>+ element</button
    >
    <button
      title="Delete on the name of a line"
      disabled={!desk.selected}
      onclick={() => desk.selected && perform(removeSurface(lens, desk.selected), 0)}>− surface</button
    >
    <button title="Copy the prescription for a spreadsheet; paste a table on any surface" onclick={copyTable}
      >copy table</button
    >
    <span class="hint">F2 every digit · Alt ↑↓ turns</span>
  </div>
</div>

<style>
  .prescription {
    --columns: 16px minmax(84px, 1fr) 20px 104px 68px 74px;
    display: flex;
    flex-direction: column;
    min-height: 0;
  }

  .line {
    display: grid;
    grid-template-columns: var(--columns);
    gap: 4px;
  }

  .head {
    padding: 0 6px 5px 4px;
    border-bottom: 1px solid var(--line);
    color: var(--muted);
    font-size: var(--size-small);
  }

  .num {
    padding-right: 5px;
    text-align: right;
  }

  .lines {
    overflow: hidden auto;
    scrollbar-width: thin;
  }

  .tools {
    display: flex;
    align-items: center;
    gap: 6px;
    padding: 8px 0 6px;
  }

  .hint {
    margin-left: auto;
    color: var(--muted);
    font-size: 11px;
  }

  button {
    padding: 1px 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    white-space: nowrap;
  }

  button:hover:not(:disabled) {
    border-color: var(--accent);
    color: var(--accent);
  }

  button:disabled {
    color: var(--muted);
    cursor: default;
  }
</style>
