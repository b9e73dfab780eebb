<script lang="ts">
  import type { Finding, Gesture, Outcome } from '@ulvex/core';
  import {
    cellText,
    duplicateSurfaces,
    elementSurfaces,
    fillDown,
    insertElement,
    insertSurface,
    isSolid,
    lensTable,
    looksLikeTable,
    moveElement,
    moveSurfaces,
    pasteTable,
    removeElement,
    removeSurface,
    removeSurfaces,
    setCells,
    toggleExcluded,
  } from '@ulvex/core';
  import { tick } from 'svelte';
  import { giveBars, type Bar } from '$lib/components/bars.ts';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { KEYMAP, keysText, pressed } from '$lib/keymap.ts';
  import { FIRST_OPERATION } from '$lib/operations/first.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { columns, OPTIONAL_COLUMNS } from './columns.svelte.ts';
  import { Marking, tableColumn, type MarkPlace } from './marking.svelte.ts';
  import MediumLine from './MediumLine.svelte';
  import { DRAWN_WHOLE, rowWindow, scrollTo } from './row-window.ts';
  import { prescriptionRows, rowKeeper } from './rows.ts';
  import SurfaceLine from './SurfaceLine.svelte';

  const NO_BARS: ReadonlyMap<string, Bar> = new Map();

  interface Props {
    findings: readonly Finding[];
    /** Semi-apertures in mm by surface id, automatic ones included. */
    semis: ReadonlyMap<string, { readonly semi: number; readonly automatic: boolean }>;
  }
  let { findings, semis }: Props = $props();
  const desk = useDesk();
  /** Bars beside the numbers: how much a requirement spreads by their tolerances. */
  let bars = $state.raw<ReadonlyMap<string, Bar>>(NO_BARS);
  let sensitivity = $state(false);
  giveBars((address) => bars.get(address));
  const kept = rowKeeper();
  const rows = $derived(kept(desk.lens ? prescriptionRows(desk.shown, desk.lens, findings) : []));
  let table: HTMLElement;
  let lines: HTMLElement;
  /** How far the lines are scrolled, the height in which they are seen, and the surface whose cell has the focus: a long list is drawn in part. */
  let top = $state(0);
  let seen = $state(600);
  let focused = $state<string | null>(null);
  const { drawn, after } = $derived(rowWindow(rows, top, seen, focused));
  const shownColumns = $derived(OPTIONAL_COLUMNS.filter(({ id }) => columns.shown.has(id)));

  /** The project as it was before the cell that is being edited. */
  const lens = $derived(desk.lensIn(desk.project)!);

  const marking = new Marking();
  const marked = $derived(desk.lens ? marking.ids(desk.lens) : []);
  const markedCol = (id: string, medium: boolean) =>
    marking.place?.medium === medium && marked.includes(id) ? marking.place.col : null;

  async function perform(gesture: Gesture | Outcome<Gesture>, col: number, medium = false) {
    const focus = desk.perform(gesture);
    if (!focus) return;
    desk.selected = focus;
    await tick();
    await focusCell({ surface: focus, medium, col });
  }

  async function focusCell({ surface, medium, col }: MarkPlace) {
    if (!drawn.some(({ row }) => row.surface.id === surface)) {
      lines.scrollTop = scrollTo(rows, surface, seen) ?? lines.scrollTop;
      top = lines.scrollTop;
      await tick();
    }
    const line = `[data-surface="${surface}"]${medium ? '[data-medium]' : ':not([data-medium])'}`;
    table.querySelector<HTMLElement>(`${line} [data-col="${col}"]`)?.focus();
  }

  /** The cell that an event belongs to; null outside of cells. */
  function placeOf(target: EventTarget | null): MarkPlace | null {
    const cell = (target as HTMLElement).closest<HTMLElement>('[data-col]');
    const line = cell?.closest<HTMLElement>('[data-surface]');
    if (!cell || !line) return null;
    return {
      surface: line.dataset.surface!,
      medium: line.dataset.medium !== undefined,
      col: Number(cell.dataset.col),
    };
  }

  /** What a gesture on a line is about: the marked lines, or the line itself, an element whole. */
  function linesOf({ surface, medium }: MarkPlace): readonly string[] {
    if (marked.length > 0 && marking.place?.col === 0) return marked;
    return medium ? elementSurfaces(desk.project, lens, surface) : [surface];
  }

  /** Takes what is being typed before something else is done; false when it is wrong, and stays to be mended. */
  function committed(target: EventTarget | null): boolean {
    if (!(target instanceof HTMLInputElement)) return true;
    if (target.ariaInvalid === 'true') return false;
    target.blur();
    return true;
  }

  function onkeydown(event: KeyboardEvent) {
    const place = placeOf(event.target);
    if (!place || !lens) return;
    const does = onName(event, place) ?? anywhere(event, place);
    if (!does) return;
    event.preventDefault();
    does();
  }

  /** Keys on any cell. */
  function anywhere(event: KeyboardEvent, place: MarkPlace): (() => void) | null {
    const { surface, medium, col } = place;
    if (pressed(event, KEYMAP.insertSurface))
      return () => committed(event.target) && void perform(insertSurface(lens, surface), 1);
    if (pressed(event, KEYMAP.insertElement))
      return () => committed(event.target) && void perform(insertElement(desk.project, lens, surface), 1);
    if (pressed(event, KEYMAP.markUp) || pressed(event, KEYMAP.markDown))
      return () => {
        const reached = marking.extend(lens, place, event.key === 'ArrowUp' ? -1 : 1);
        void focusCell({ surface: reached, medium, col });
      };
    const column = tableColumn(place);
    if (pressed(event, KEYMAP.fillDown) && marked.length > 1 && column)
      return () => void perform(fillDown(desk.project, lens.id, marked, column), col, medium);
    return null;
  }

  const afterOf = (id: string) => lens.surfaces.find((surface) => surface.id === id)?.after;

  /** Keys on the name of a line. */
  function onName(event: KeyboardEvent, place: MarkPlace): (() => void) | null {
    if (!(event.target as HTMLElement).closest('[data-handle]')) return null;
    const { surface, medium } = place;
    const lines = linesOf(place);
    if (event.key === 'Delete' || event.key === 'Backspace')
      return () =>
        void perform(
          marked.length > 1
            ? removeSurfaces(desk.project, lens.id, lines)
            : medium
              ? removeElement(desk.project, lens, surface)
              : removeSurface(lens, surface),
          0,
        );
    if (event.key === ' ' && medium && isSolid(desk.project, afterOf(surface)))
      return () => void perform(toggleExcluded(lens, surface), 0, true);
    if (pressed(event, KEYMAP.duplicate)) return () => void perform(duplicateSurfaces(lens, lines), 0, medium);
    if (pressed(event, KEYMAP.nudgeUp) || pressed(event, KEYMAP.nudgeDown)) {
      const by = event.key === 'ArrowUp' ? -1 : 1;
      return () =>
        void perform(
          medium ? moveElement(desk.project, lens.id, surface, by) : moveSurfaces(lens, lines, by),
          0,
          medium,
        );
    }
    return null;
  }

  /** Enter on a typed text sets every marked cell; comes before the cell's own Enter. */
  function onkeydowncapture(event: KeyboardEvent) {
    const place = placeOf(event.target);
    const input = event.target as HTMLInputElement;
    const column = place && tableColumn(place);
    if (event.key !== 'Enter' || marked.length < 2 || !column || input.dataset.draft === undefined) return;
    if (event.ctrlKey || event.metaKey || event.altKey || markedCol(place.surface, place.medium) !== place.col) return;
    event.preventDefault();
    event.stopPropagation();
    const set = setCells(desk.project, lens.id, marked, column, input.value);
    if (!set.ok) {
      desk.notice = { tone: 'refused', title: `Nothing was changed. ${set.reason}` };
      return;
    }
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true })); // what was typed is done here
    void perform(set, place.col, place.medium);
  }

  function onpointerdown(event: PointerEvent) {
    const place = placeOf(event.target);
    if (!event.shiftKey) marking.clear();
    else if (place) {
      event.preventDefault();
      marking.reach(placeOf(document.activeElement), place);
      void focusCell(place);
    }
  }

  /** Going to a cell that is not marked ends the marking. */
  function onfocusin(event: FocusEvent) {
    const place = placeOf(event.target);
    focused = place?.surface ?? null;
    if (!place || !marked.includes(place.surface) || markedCol(place.surface, place.medium) !== place.col)
      marking.clear();
  }

  function oncopy(event: ClipboardEvent) {
    if (marked.length < 2 || !marking.place) return;
    const column = tableColumn(marking.place);
    const surfaces = lens.surfaces.filter(({ id }) => marked.includes(id));
    const text = column
      ? surfaces.map((surface) => `${cellText(desk.project, surface, column)}\n`).join('')
      : lensTable(desk.project, lens, surfaces);
    event.preventDefault();
    event.clipboardData?.setData('text/plain', text);
    desk.notice = {
      tone: 'done',
      title: `${surfaces.length} ${column ? 'cells' : 'surfaces'} are on the clipboard.`,
    };
  }

  /** A table from a spreadsheet lands on the surfaces from the one that has the focus; a single value goes into its cell. */
  function onpaste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    const place = placeOf(event.target);
    if (!place || !looksLikeTable(text)) return;
    event.preventDefault();
    const column = tableColumn(place);
    const result = pasteTable(desk.project, lens.id, place.surface, text, column ?? undefined);
    if (!result.ok) {
      const places = result.problems.map(({ row, column, reason }) => `row ${row}, column ${column}: ${reason}`);
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
<div
  class="prescription"
  bind:this={table}
  style:--columns={columns.template}
  data-walk
  {onkeydown}
  {onkeydowncapture}
  {onpointerdown}
  {onfocusin}
  {oncopy}
  {onpaste}
  data-testid="prescription"
>
  <div class="line head" aria-hidden="true">
    <span></span><span>surface / medium</span><span></span><span class="num">radius / thickness</span
    >{#each shownColumns as { id, title } (id)}<span class={id === 'comment' ? '' : 'num'}>{title}</span>{/each}
  </div>
  <div
    class="lines"
    bind:this={lines}
    bind:clientHeight={seen}
    onscroll={() => {
      if (rows.length > DRAWN_WHOLE) top = lines.scrollTop;
    }}
  >
    {#each drawn as { row, before } (row.surface.id)}
      {#if before > 0}<div style:height="{before}px"></div>{/if}
      <SurfaceLine {row} semi={semis.get(row.surface.id)} marked={markedCol(row.surface.id, false)} />
      {#if row.medium}<MediumLine {row} medium={row.medium} marked={markedCol(row.surface.id, true)} />{/if}
    {/each}
    {#if after > 0}<div style:height="{after}px"></div>{/if}
  </div>
  {#if sensitivity}
    {#await import('$lib/tolerance/Sensitivity.svelte') then { default: Sensitivity }}<Sensitivity bind:bars />{/await}
  {/if}
  <div class="tools">
    <Button
      small
      title="{keysText(KEYMAP.insertSurface)} in a line"
      onclick={() => target && perform(insertSurface(lens, target), 1)}>+ surface</Button
    >
    <Button
      small
      title="{keysText(KEYMAP.insertElement)} in a line"
      onclick={() => target && perform(insertElement(desk.project, lens, target), 1)}>+ element</Button
    >
    <Button
      small
      title="Delete on the name of a line"
      disabled={!desk.selected}
      onclick={() => desk.selected && perform(removeSurface(lens, desk.selected), 0)}>− surface</Button
    >
    <Button small title="Copy the prescription for a spreadsheet; paste a table on any surface" onclick={copyTable}
      >copy</Button
    >
    <Button
      small
      title="Turn around, flip, scale, split …: tried before they are done ({keysText(KEYMAP.operations)})"
      aria-pressed={ui.operating !== null}
      data-testid="operations"
      onclick={() => (ui.operating = ui.operating === null ? FIRST_OPERATION : null)}>operations</Button
    >
    <details class="choose">
      <summary title="Which columns are shown" data-testid="columns-menu">columns</summary>
      <div>
        {#each OPTIONAL_COLUMNS as { id, title } (id)}
          <label
            ><input
              type="checkbox"
              checked={columns.shown.has(id)}
              data-testid="column-{id}"
              onchange={() => columns.toggle(id)}
            />
            {title}</label
          >
        {/each}
        <label title="Bars beside the numbers: how much a requirement spreads by their tolerances"
          ><input type="checkbox" bind:checked={sensitivity} data-testid="sensitivity-toggle" />
          sensitivity bars</label
        >
      </div>
    </details>
  </div>
</div>

<style>
  .prescription {
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
    gap: 4px;
    padding: 8px 0 6px;
  }

  .choose {
    position: relative;
    margin-left: auto;
  }

  summary {
    padding: 0 6px;
    background: var(--card);
    font-size: var(--size-small);
    border: 1px solid var(--line);
    border-radius: var(--radius);
    list-style: none;
    cursor: pointer;
  }

  .choose div {
    position: absolute;
    z-index: 6;
    right: 0;
    bottom: calc(100% + 4px);
    display: grid;
    gap: 4px;
    width: max-content;
    padding: 8px 12px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    box-shadow: var(--shadow);
  }
</style>
