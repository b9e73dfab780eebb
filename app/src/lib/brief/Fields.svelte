<script lang="ts">
  import { convertFields, freshId, type FieldSet } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { fieldColours } from '$lib/colours.ts';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { primaryOrder } from '$lib/desk/primary-order.svelte.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import { significant } from '$lib/format.ts';
  import FieldSpread from './FieldSpread.svelte';

  const desk = useDesk();
  const lens = $derived(desk.lens!);
  const points = $derived(lens.fields.points);
  const list = $derived(`lenses.${lens.id}.fields.points`);
  const ramp = $derived(fieldColours(points.length));
  const reach = $derived(Math.max(1e-9, ...points.map(({ x, y }) => Math.hypot(x, y))));
  const unit = $derived(lens.fields.kind === 'angle' ? '°' : 'mm');

  function add() {
    const last = points.at(-1);
    const id = freshId('f', points);
    const item = {
      id,
      x: 0,
      y: last ? last.y + (points.length > 1 ? last.y - points[points.length - 2].y : 1) : 0,
      weight: 1,
    };
    if (lens.fields.kind === 'angle' && Math.abs(item.y) >= 90) item.y = 0;
    desk.commit([{ kind: 'insert', list, after: last?.id ?? null, item }], 'Add a field point');
  }

  const KINDS: readonly { readonly kind: FieldSet['kind']; readonly title: string }[] = [
    { kind: 'angle', title: 'angle in °, positive upward' },
    { kind: 'object_height', title: 'height of the object point, mm' },
    { kind: 'image_height', title: 'paraxial image height, mm' },
    { kind: 'real_image_height', title: 'real image height of the chief ray, mm' },
  ];

  const order = primaryOrder(desk);
  const primary = $derived(order.current);

  /** Another kind of field for the same image points. */
  async function setKind(kind: FieldSet['kind']) {
    const before = desk.project;
    const converted = await desk.pool.run('fieldsAs', { project: before, lens: lens.id, kind }).result;
    if (desk.project !== before) return;
    if (!converted.ok && (primary || kind === 'real_image_height')) {
      desk.notice = { tone: 'refused', title: converted.reason };
      return;
    }
    if (!converted.ok && kind === 'angle' && points.some(({ x, y }) => Math.abs(x) >= 90 || Math.abs(y) >= 90)) {
      desk.notice = {
        tone: 'refused',
        title: 'Fields by angle must lie between −90° and 90°: change the heights first.',
      };
      return;
    }
    const value = converted.ok ? converted.value : { ...lens.fields, kind };
    desk.commit([{ kind: 'set', path: `lenses.${lens.id}.fields`, value }], 'Kind of field');
  }

  /** The largest field in every way it can be said, half and full. */
  const spans = $derived.by(() => {
    if (!primary || points.length === 0) return [];
    const units: Record<FieldSet['kind'], string> = {
      angle: '°',
      object_height: ' mm',
      image_height: ' mm',
      real_image_height: ' mm',
    };
    const titles: Record<FieldSet['kind'], string> = {
      angle: 'angle',
      object_height: 'object',
      image_height: 'image',
      real_image_height: 'real image',
    };
    // Real image heights are said as the paraxial ones that they nearly are.
    const real = lens.fields.kind === 'real_image_height';
    const said = real ? ({ ...lens, fields: { ...lens.fields, kind: 'image_height' } } as const) : lens;
    return KINDS.flatMap(({ kind }) => {
      const converted = convertFields(said, primary, kind);
      if (!converted.ok) return [];
      const half = Math.max(...converted.value.points.map(({ x, y }) => Math.hypot(x, y)));
      return [
        {
          title: titles[kind],
          half: `±${significant(half, 4)}${units[kind]}`,
          full: `${significant(2 * half, 4)}${units[kind]}`,
        },
      ];
    });
  });
</script>

<section aria-label="Fields">
  <h2>Fields</h2>
  <div class="both">
    <svg viewBox="-52 -52 104 104" role="img" aria-label="Field points, x to the right, y up">
      <circle r="48" />
      <line x1="-48" x2="48" /><line y1="-48" y2="48" />
      {#each points as point, i (point.id)}
        <circle class="point" cx={(44 * point.x) / reach} cy={(-44 * point.y) / reach} r="3.500" style:fill={ramp[i]} />
      {/each}
    </svg>
    <div>
      <select
        aria-label="Kind of field"
        data-explain="word:fields"
        data-testid="field-kind"
        value={lens.fields.kind}
        onchange={(event) => {
          void setKind(event.currentTarget.value as FieldSet['kind']);
          event.currentTarget.value = desk.lensIn(desk.project)!.fields.kind;
        }}
      >
        {#each KINDS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
      </select>
      <CellGrid
        columns="84px 84px 84px 70px 24px"
        heads={['', { number: `x ${unit}` }, { number: `y ${unit}` }, { number: 'weight' }, '']}
      >
        {#each points as point, i (point.id)}
          {@const at = `lenses.${lens.id}.fields.${point.id}`}
          {@const title = fieldLabel(lens.fields.kind, point)}
          <span class="name"><i style:background={ramp[i]}></i>{point.id}</span>
          <ParameterCell address="{at}.x" label="Field {point.id}, x" change="Field {point.id} x" row={i} col={0} />
          <ParameterCell
            address="{at}.y"
            label="Field {point.id}, y"
            change="Field {point.id} y"
            row={i}
            col={1}
            testid="field-y-{point.id}"
          />
          <ParameterCell address="{at}.weight" label="Weight of field {point.id}" row={i} col={2} />
          <Button
            small
            aria-label="Remove field {title}"
            onclick={() => desk.commit([{ kind: 'remove', list, id: point.id }], `Remove field ${title}`)}>−</Button
          >
        {/each}
      </CellGrid>
      <Button small onclick={add} data-testid="add-field">+ field</Button>
      <FieldSpread />
      <p class="spans" data-testid="field-spans">
        {#each spans as { title, half, full } (title)}
          <span><b>{title}</b> half {half}, full {full}</span>
        {/each}
      </p>
    </div>
  </div>
</section>

<style>
  .both {
    display: flex;
    gap: 20px;
    align-items: flex-start;
  }

  svg {
    flex: 0 0 120px;
    height: 120px;
  }

  circle,
  line {
    fill: none;
    stroke: var(--line);
  }

  .point {
    stroke: none;
  }

  i {
    display: inline-block;
    width: 14px;
    height: 3px;
    margin-right: 6px;
    vertical-align: middle;
  }

  .spans {
    display: flex;
    gap: 16px;
    margin-top: 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  b {
    font-weight: 600;
  }
</style>
