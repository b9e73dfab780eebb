<script lang="ts">
  import {
    parseQuantity,
    setConic,
    setRadius,
    setSemiAperture,
    setStop,
    success,
    type Edit,
    type Outcome,
  } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { nudged, numberReader } from '$lib/components/number-cell.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, fixed, lengthText, significant } from '$lib/format.ts';
  import Handle from './Handle.svelte';
  import { bow, shapeNumbers, type SurfaceRow } from './rows.ts';

  interface Props {
    row: SurfaceRow;
    semi: { readonly semi: number; readonly automatic: boolean } | undefined;
  }
  let { row, semi }: Props = $props();
  const desk = useDesk();
  const id = $derived(row.surface.id);
  const lens = $derived(desk.project.lenses[0]);
  const at = $derived(2 * row.index);
  const isStop = $derived(desk.lens?.stop === id);
  const isImage = $derived(row.surface.after === null);
  const bend = $derived(6 * bow(row.radius, semi?.semi ?? 5));
  const worst = $derived(row.findings.find((finding) => finding.severity === 'error') ?? row.findings[0]);
  /** As it was before what is being typed: `*1.02` starts from here. */
  const stored = $derived(lens.surfaces.find((surface) => surface.id === id));
  const before = $derived(stored ? shapeNumbers(stored.shape) : row);
  const select = () => (desk.selected = id);

  const readRadius = $derived(
    numberReader({ kind: 'length', current: before.radius, allowInfinity: true }, (value) =>
      value === 0 ? 'A radius is not 0; type “flat” for a plane.' : null,
    ),
  );
  const readConic = $derived(numberReader({ kind: 'number', current: before.conic }));

  function readSemi(text: string): Outcome<number | null> {
    if (/^\s*(auto|automatic|a)\s*$/i.test(text)) return success(null);
    const set = stored?.aperture.kind === 'circle' ? stored.aperture.semi : undefined;
    const read = parseQuantity(text, { kind: 'length', ...(set !== undefined && { current: set }) });
    if (!read.ok) return { ok: false, reason: `${read.reason} “auto” takes it from the rays.` };
    return read.value > 0
      ? success(read.value)
      : { ok: false, reason: 'A semi-aperture is above 0; “auto” takes it from the rays.' };
  }

  function make({ edits, label }: { edits: readonly Edit[]; label: string }) {
    desk.commit(edits, label);
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="line"
  class:selected={desk.selected === id}
  class:hovered={desk.hovered === id}
  data-surface={id}
  onmouseenter={() => (desk.hovered = id)}
  onmouseleave={() => (desk.hovered = null)}
>
  <svg viewBox="-8 -9 16 18" aria-hidden="true">
    <path
      d="M{bend / 2} -8 Q{-bend / 2} 0 {bend / 2} 8"
      class:stop={isStop}
      class:mirror={row.surface.reflects}
    />
  </svg>
  <Handle
    title={row.title}
    label="Surface {row.title}{isStop ? ', the stop' : ''}. Delete removes it, F2 renames it."
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
  {:else if isStop}
    <span class="tag" title={row.surface.reflects ? 'The stop, a mirror' : 'The stop'}
      >◉{row.surface.reflects ? 'M' : ''}</span
    >
  {:else if row.surface.reflects}
    <span class="tag" title="A mirror">M</span>
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
    explain="word:radius"
    text={lengthText(row.radius)}
    exact={exactText(row.radius)}
    strong
    row={at}
    col={1}
    read={readRadius}
    nudge={nudged}
    onfocus={select}
    onpreview={(value) => desk.preview(setRadius(lens, id, value).edits)}
    onend={() => desk.endPreview()}
    oncommit={(value) => make(setRadius(lens, id, value))}
  />
  <Cell
    label="Conic constant of {row.title}"
    testid="conic-{id}"
    explain="word:conic"
    text={row.conic === 0 ? (row.shapeNote ?? '') : significant(row.conic, 5)}
    exact={exactText(row.conic)}
    row={at}
    col={2}
    muted={row.conic === 0}
    read={readConic}
    nudge={nudged}
    onfocus={select}
    onpreview={(value) => desk.preview(setConic(lens, id, value).edits)}
    onend={() => desk.endPreview()}
    oncommit={(value) => make(setConic(lens, id, value))}
  />
  <Cell
    label="Semi-aperture of {row.title} in mm{semi?.automatic ? ', automatic' : ', set'}"
    testid="semi-{id}"
    explain="word:semi_aperture"
    text={semi ? fixed(semi.semi, 2) : ''}
    exact={semi ? exactText(semi.semi) : ''}
    row={at}
    col={3}
    muted={semi?.automatic ?? true}
    read={readSemi}
    nudge={nudged}
    onfocus={select}
    onpreview={(value) => desk.preview(setSemiAperture(lens, id, value).edits)}
    onend={() => desk.endPreview()}
    oncommit={(value) => make(setSemiAperture(lens, id, value))}
  />
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
