<script lang="ts">
  import { setCell, setStop, type TableColumn } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { numberCell } from './number-cell.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, fixed, lengthText, significant } from '$lib/format.ts';
  import { finishSwatch } from '$lib/drawing/swatch.ts';
  import Handle from './Handle.svelte';
  import { columns } from './columns.svelte.ts';
  import { bow, type SurfaceRow } from './rows.ts';

  interface Props {
    row: SurfaceRow;
    semi: { readonly semi: number; readonly automatic: boolean } | undefined;
    /** Column that is marked together with others; 0 the line itself. */
    marked: number | null;
  }
  let { row, semi, marked }: Props = $props();
  const desk = useDesk();
  const id = $derived(row.surface.id);
  const lens = $derived(desk.lensIn(desk.project)!);
  const at = $derived(2 * row.index);
  const isStop = $derived(desk.lens?.stop === id);
  const isImage = $derived(row.surface.after === null);
  /** To tenths of a pixel: what is not seen is not drawn anew. */
  const bend = $derived(Math.round(60 * bow(row.radius, semi?.semi ?? 5)) / 10);
  /** Where a coating is drawn: on the side of the air. */
  const film = $derived(row.medium?.solid ? -3 : 3);
  const worst = $derived(row.findings.find((finding) => finding.severity === 'error') ?? row.findings[0]);
  const isMoved = $derived(
    [row.surface.frame, row.surface.behind].some((frame) => Object.values(frame ?? {}).some((part) => part !== 0)),
  );
  /** What stands out about the surface, as a mark and in words. */
  const tags = $derived(
    (
      [
        [isStop, '◉', 'the stop'],
        [row.surface.reflects, 'M', 'a mirror'],
        [isMoved, '∠', 'shifted or tilted'],
        [row.surface.phase !== undefined, '≋', 'it diffracts'],
      ] as const
    ).flatMap(([holds, mark, words]) => (holds ? [[mark, words] as const] : [])),
  );
  const select = () => (desk.selected = id);
  const numbers = numberCell(desk);

  /** What a typed text does to a cell of this surface. */
  const reader = (column: TableColumn) => (text: string) => setCell(desk.project, lens, id, column, text);
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="line"
  class:selected={desk.selected === id}
  class:hovered={desk.hovered === id}
  class:marked={marked === 0}
  data-surface={id}
  data-finish={row.surface.finish}
  onmouseenter={() => (desk.hovered = id)}
  onmouseleave={() => (desk.hovered = null)}
>
  <svg viewBox="-8 -9 16 18" aria-hidden="true">
    <path d="M{bend / 2} -8 Q{-bend / 2} 0 {bend / 2} 8" class:stop={isStop} class:mirror={row.surface.reflects} />
    {#if row.surface.finish !== undefined}
      <path
        class="film"
        d="M{bend / 2 + film} -8 Q{-bend / 2 + film} 0 {bend / 2 + film} 8"
        style:stroke={finishSwatch(row.surface.finish)}
      />
    {/if}
  </svg>
  <Handle
    title={row.title}
    label="Surface {row.title}{isStop ? ', the stop' : ''}{row.surface.finish
      ? `, coated: ${row.surface.finish}`
      : ''}. Delete removes it, F2 renames it."
    name={row.surface.name ?? ''}
    row={at}
    onfocus={select}
    onrename={(name) =>
      desk.commit(
        [{ kind: 'set', path: `lenses.${lens.id}.surfaces.${id}.name`, value: name || undefined }],
        'Rename a surface',
      )}
  />
  {#if worst}
    <span
      class="finding {worst.severity}"
      title={row.findings.map((finding) => finding.text).join('\n')}
      data-testid="finding-{id}">{worst.severity === 'error' ? '✕' : '!'}</span
    >
  {:else if tags.length > 0}
    <span class="tag" title={tags.map(([, words]) => words).join(', ')} data-testid="tag-{id}"
      >{tags.map(([mark]) => mark).join('')}</span
    >
  {:else if !isImage}
    <button
      class="makestop"
      title="Make this surface the stop"
      aria-label="Make {row.title} the stop"
      tabindex="-1"
      onclick={() => desk.perform(setStop(lens, id))}>○</button
    >
  {:else}<span></span>{/if}
  <Cell
    label="Radius of {row.title} in mm"
    testid="radius-{id}"
    address="lenses.{lens.id}.surfaces.{id}.radius"
    marked={marked === 1}
    explain="word:radius"
    text={lengthText(row.radius)}
    exact={exactText(row.radius)}
    strong
    row={at}
    col={1}
    read={reader('radius')}
    onfocus={select}
    {...numbers}
  />
  {#if columns.shown.has('conic')}
    <Cell
      label="Conic constant of {row.title}"
      testid="conic-{id}"
      address="lenses.{lens.id}.surfaces.{id}.conic"
      marked={marked === 2}
      explain="word:conic"
      text={row.conic === 0 ? (row.shapeNote ?? '') : significant(row.conic, 5)}
      exact={exactText(row.conic)}
      row={at}
      col={2}
      muted={row.conic === 0}
      read={reader('conic')}
      onfocus={select}
      {...numbers}
    />
  {/if}
  {#if columns.shown.has('semi')}
    <Cell
      label="Semi-aperture of {row.title} in mm{semi?.automatic ? ', automatic' : ', set'}"
      testid="semi-{id}"
      address="lenses.{lens.id}.surfaces.{id}.semi_aperture"
      marked={marked === 3}
      explain="word:semi_aperture"
      text={semi ? fixed(semi.semi, 2) : ''}
      exact={semi ? exactText(semi.semi) : ''}
      row={at}
      col={3}
      muted={semi?.automatic ?? true}
      read={reader('semi_aperture')}
      onfocus={select}
      {...numbers}
    />
  {/if}
  {#if columns.shown.has('comment')}
    <Cell
      label="Comment on {row.title}"
      testid="comment-{id}"
      explain="word:comment"
      marked={marked === 4}
      text={row.surface.comment ?? ''}
      align="left"
      row={at}
      col={4}
      read={(text) => setCell(desk.project, lens, id, 'comment', text)}
      onfocus={select}
      oncommit={({ edits, label }) => desk.commit(edits, label)}
    />
  {/if}
</div>

<style>
  .line {
    display: grid;
    grid-template-columns: var(--columns);
    gap: 4px;
    align-items: center;
    min-height: 25px;
    padding: 0 6px 0 4px;
    border: 1px solid transparent;
  }

  .hovered {
    background: var(--accent-ground);
  }

  .marked {
    background: var(--accent-ground);
    box-shadow: inset 3px 0 var(--accent);
  }

  .selected {
    border-color: var(--accent);
    background: var(--accent-ground);
  }

  svg {
    width: 16px;
    height: 18px;
    overflow: visible;
  }

  path {
    fill: none;
    stroke: var(--glass-edge);
    stroke-width: 1.5px;
  }

  path.stop {
    stroke: var(--ink);
    stroke-width: 2.2px;
    stroke-dasharray: 5 6;
  }

  path.mirror {
    stroke: var(--ink);
    stroke-width: 2.2px;
  }

  .tag,
  .finding,
  .makestop {
    font-size: 11px;
    text-align: center;
  }

  .tag {
    color: var(--muted);
  }

  .finding {
    font-weight: 700;
    cursor: help;
  }

  .error {
    color: var(--bad);
  }

  .warning {
    color: var(--warn);
  }

  .makestop {
    padding: 0;
    border: 0;
    background: none;
    color: transparent;
  }

  .line:hover .makestop {
    color: var(--muted);
  }
</style>
