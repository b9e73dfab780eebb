<script lang="ts">
  import { findParameter, isGas, listParameters, type Adjustment, type Lens } from '@ulvex/core';
  import {
    addAdjustment,
    changeAdjustment,
    compensatorTitle,
    compensatorUnit,
    readLimits,
    setRefocus,
    type AdjustmentChange,
  } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import NumberPicker from '$lib/components/NumberPicker.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { numberTitle } from '$lib/desk/number-state.ts';
  import { limitsText } from './groups.ts';

  const desk = useDesk();
  const compensators = $derived(desk.shown.tolerancing?.compensators ?? []);
  const refocus = $derived(
    compensators.flatMap((one) => (one.kind === 'refocus' && one.lens === desk.lens?.id ? [one.criterion] : []))[0] ??
      'none',
  );
  const adjustments = $derived(compensators.filter((one) => one.kind === 'adjust'));
  const requirements = $derived(
    desk.base.requirements.map(({ id, label, measure }) => ({ id, title: label ?? measure.replaceAll('_', ' ') })),
  );

  interface Choice {
    readonly address: string;
    readonly title: string;
    readonly target: Adjustment['target'];
  }

  const MOTIONS = ['shift_x', 'shift_y', 'shift_z', 'tilt_x', 'tilt_y'] as const;
  const PLACES = ['tx', 'ty', 'dx', 'dy', 'dz'];

  /** The image and the elements of a lens, as they move in their mounts. */
  function movable(lens: Lens): Choice[] {
    const image = lens.surfaces.at(-1)!.id;
    const places = PLACES.map((key) => {
      const target = { kind: 'number', address: `lenses.${lens.id}.surfaces.${image}.${key}` } as const;
      return { address: target.address, title: titleOf(target), target };
    });
    const solid = (index: number) => {
      const material = desk.base.materials.find(({ id }) => id === lens.surfaces[index]?.after?.material);
      return material !== undefined && !isGas(material);
    };
    const elements = lens.surfaces.flatMap(({ id }, index) =>
      solid(index) && !solid(index - 1)
        ? MOTIONS.map((motion) => {
            const target = { kind: 'element', lens: lens.id, surface: id, motion } as const;
            return { address: `${id} ${motion}`, title: titleOf(target), target };
          })
        : [],
    );
    return [...places.filter(({ address }) => findParameter(desk.base, address).ok), ...elements];
  }

  const titleOf = (target: Adjustment['target']) =>
    compensatorTitle(desk.base, { id: 'new', kind: 'adjust', target, lower: 0, upper: 0, aim: 'spots' });

  const first = $derived(desk.lens ? movable(desk.lens) : []);
  const choices = $derived<readonly Choice[]>([
    ...first,
    ...listParameters(desk.base)
      .filter(({ spec, address }) => spec.id !== 'weight' && !address.startsWith('states.'))
      .filter(({ address }) => first.every((one) => one.address !== address))
      .map(({ address }) => ({
        address,
        title: numberTitle(desk.base, address),
        target: { kind: 'number', address } as const,
      })),
  ]);

  function add(address: string) {
    const choice = choices.find((one) => one.address === address);
    if (!choice) return;
    const gesture = addAdjustment(desk.base, choice.target);
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
    else desk.notice = { tone: 'refused', title: gesture.reason };
  }

  function change(id: string, what: AdjustmentChange | null) {
    const gesture = changeAdjustment(desk.base, id, what);
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
    else desk.notice = { tone: 'refused', title: gesture.reason };
  }

  function aimAt(id: string, value: string) {
    const [aim, requirement] = value.split(' ');
    change(id, { aim: aim as Adjustment['aim'], ...(requirement !== undefined && { requirement }) });
  }

  const AIMS = [
    { aim: 'design', word: 'as designed' },
    { aim: 'least', word: 'least' },
    { aim: 'largest', word: 'largest' },
  ] as const;
</script>

<section aria-label="Set after making" data-testid="after-making">
  <div class="head">
    <h3>Set after making</h3>
    {#if desk.lens}
      <label
        >refocus <select
          value={refocus}
          data-testid="refocus-after"
          title="How the last distance is set in every made lens"
          onchange={(event) => {
            const value = event.currentTarget.value as 'none' | 'centroid' | 'chief' | 'paraxial';
            const { edits, label } = setRefocus(desk.base, desk.lens!.id, value === 'none' ? null : value);
            desk.commitDesign(edits, label);
          }}
          ><option value="none">none</option><option value="centroid">spot, centroid</option><option value="chief"
            >spot, chief ray</option
          ><option value="paraxial">paraxial image</option></select
        ></label
      >
    {/if}
  </div>
  {#if adjustments.length > 0}
    <CellGrid columns="minmax(0, 1fr) 70px 24px 112px 16px">
      {#each adjustments as one, row (one.id)}
        {@const title = compensatorTitle(desk.base, one)}
        <span class="name" {title}>{title}</span>
        <Cell
          label="{title}: range"
          text={limitsText(one)}
          {row}
          col={0}
          testid="range-{one.id}"
          read={(text) => readLimits(text, one)}
          oncommit={(limits) => change(one.id, limits)}
        />
        <span class="muted">{compensatorUnit(desk.base, one)}</span>
        <select
          aria-label="{title}: set for"
          title="What it is set for in every made lens"
          data-testid="aim-{one.id}"
          value={one.aim === 'spots' ? 'spots' : `${one.aim} ${one.requirement ?? ''}`}
          onchange={(event) => aimAt(one.id, event.currentTarget.value)}
        >
          <option value="spots">least spots</option>
          {#each requirements as { id, title: requirement } (id)}
            {#each AIMS as { aim, word } (aim)}<option value="{aim} {id}">{requirement}: {word}</option>{/each}
          {/each}
        </select>
        <Button small bare aria-label="Do not adjust {title}" title="Delete" onclick={() => change(one.id, null)}
          >−</Button
        >
      {/each}
    </CellGrid>
  {/if}
  <NumberPicker
    placeholder="adjust an image tilt, a spacer, an element…"
    label="A number or an element to adjust after making"
    testid="adjust-more"
    wanted="number or element"
    {choices}
    onpick={add}
  />
</section>

<style>
  section {
    display: grid;
    gap: 4px;
    padding: 4px 0;
    border-block: 1px solid var(--line);
    font-size: var(--size-small);
  }

  h3 {
    margin: 0;
    font-size: inherit;
  }

  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 8px;
    align-items: baseline;
  }

  select {
    min-width: 0;
    max-width: 130px;
    padding: 0 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
  }

  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .muted {
    color: var(--muted);
  }
</style>
