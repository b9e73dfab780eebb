<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { findParameter, listParameters, parseQuantity, success, thingTitle, type Outcome } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import NumberPicker from '$lib/components/NumberPicker.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, plain } from '$lib/format.ts';
  import { numberTitle } from '$lib/desk/number-state.ts';
  import { freeAddresses, setBound, turnable } from './goal-edits.ts';

  interface Props {
    /** Values of the run that is shown beside: by address. */
    moved: ReadonlyMap<string, number>;
  }
  let { moved }: Props = $props();
  const desk = useDesk();
  const addresses = $derived(freeAddresses(desk.base));
  const rows = $derived(
    addresses.map((address) => {
      const parameter = findParameter(desk.base, address);
      const state = desk.base.parameters?.[address];
      const { min, max } = state?.kind === 'free' ? state : {};
      return {
        address,
        value: parameter.ok ? parameter.value.value : NaN,
        unit: parameter.ok ? parameter.value.spec.unit : '',
        min,
        max,
      };
    }),
  );
  const choices = $derived(
    listParameters(desk.base)
      .filter(({ address, spec }) => !desk.base.parameters?.[address] && spec.id !== 'weight')
      .map(({ address }) => ({ address, title: numberTitle(desk.base, address) })),
  );

  /** What can be made free of the scene in one go: shape, place and tilt of each part, place and flux of each source. */
  const ofScene = $derived.by(() => {
    const scene = desk.base.scenes?.[0];
    if (!scene) return [];
    const open = choices.map(({ address }) => address);
    const group = (label: string, start: string, ids?: readonly string[]) => ({
      label,
      addresses: open.filter(
        (address) => address.startsWith(start) && (!ids || ids.some((id) => address === `${start}${id}`)),
      ),
    });
    const things = (kind: 'parts' | 'sources') =>
      scene[kind].flatMap((thing) => {
        const [at, name] = [`scenes.${scene.id}.${kind}.${thing.id}.`, thingTitle(thing)];
        return [
          ...(kind === 'parts' ? [group(`shape of ${name}`, `${at}body.`)] : []),
          group(`place of ${name}`, `${at}frame.`, ['dx', 'dy', 'dz']),
          group(`tilt of ${name}`, `${at}frame.`, ['tx', 'ty', 'tz']),
        ];
      });
    return [...things('parts'), ...things('sources')].filter(({ addresses: found }) => found.length > 0);
  });

  async function free(list: readonly string[], label: string) {
    const done = await desk.changeState(list, { kind: 'free' }, label);
    if (!done.ok) desk.notice = { tone: 'refused', title: done.reason };
  }

  async function fix(list: readonly string[], label: string) {
    await desk.changeState(list, null, label);
  }

  async function bound(address: string, side: 'min' | 'max', value: number | undefined) {
    const state = setBound(desk.base.parameters?.[address], side, value);
    if (!state.ok) desk.notice = { tone: 'refused', title: state.reason };
    else await desk.changeState([address], state.value, `Bound of ${numberTitle(desk.base, address)}`);
  }

  function read(text: string): Outcome<number | undefined> {
    if (/^\s*(–|-|any)?\s*$/.test(text)) return success(undefined);
    return parseQuantity(text, { kind: 'number' });
  }

  /** Where a value stands between its bounds, 0 to 1; null without both of them. */
  function place(value: number, min?: number, max?: number): number | null {
    if (min === undefined || max === undefined || !Number.isFinite(value)) return null;
    return Math.min(1, Math.max(0, (value - min) / (max - min)));
  }
</script>

<PanelFrame title="Free numbers" data-testid="free-numbers">
  {#snippet tools()}
    <span class="muted">{rows.length} {rows.length === 1 ? 'number' : 'numbers'}</span>
  {/snippet}
  <p class="tools">
    {#each desk.lens ? (['radii', 'thicknesses'] as const) : [] as what (what)}
      {@const all = desk.lens ? turnable(desk.base, desk.lens, what) : []}
      {@const every = all.length > 0 && all.every((address) => addresses.includes(address))}
      <Button
        small
        aria-pressed={every}
        disabled={all.length === 0}
        data-testid="free-{what}"
        onclick={() => (every ? fix(all, `Fix all ${what}`) : free(all, `Make all ${what} free`))}>all {what}</Button
      >
    {/each}
    {#if ofScene.length > 0}
      <select
        aria-label="Free numbers of a part"
        data-testid="free-of-part"
        value=""
        onchange={(event) => {
          const found = ofScene.find(({ label }) => label === event.currentTarget.value);
          event.currentTarget.value = '';
          if (found) void free(found.addresses, `Make free: ${found.label}`);
        }}
      >
        <option value="" hidden>of a part…</option>
        {#each ofScene as { label } (label)}<option value={label}>{label}</option>{/each}
      </select>
    {/if}
    <Button small disabled={rows.length === 0} onclick={() => fix(addresses, 'Fix all numbers')}>none</Button>
  </p>
  <CellGrid
    columns="minmax(76px, 1fr) 84px 46px 46px 20px"
    heads={['', { number: 'now' }, { number: 'from' }, { number: 'to' }, '']}
  >
    {#each rows as { address, value, unit, min, max }, k (address)}
      {@const at = place(value, min, max)}
      {@const next = moved.get(address)}
      <span class="name" title="{address}{unit ? `, ${unit}` : ''}"
        >{numberTitle(desk.base, address)}
        {#if next !== undefined && next !== value}<i title="In the run: {next.toPrecision(6)}"></i>{/if}</span
      >
      <ParameterCell {address} label={numberTitle(desk.base, address)} row={k} col={0} testid="free-{k}" />
      <Cell
        label="{numberTitle(desk.base, address)}: at least"
        text={min === undefined ? '–' : plain(min, 3)}
        exact={min === undefined ? undefined : exactText(min)}
        muted={min === undefined}
        row={k}
        col={1}
        testid="from-{k}"
        {read}
        oncommit={(next) => next !== min && void bound(address, 'min', next)}
      />
      <Cell
        label="{numberTitle(desk.base, address)}: at most"
        text={max === undefined ? '–' : plain(max, 3)}
        exact={max === undefined ? undefined : exactText(max)}
        muted={max === undefined}
        row={k}
        col={2}
        testid="to-{k}"
        {read}
        oncommit={(next) => next !== max && void bound(address, 'max', next)}
      />
      <Button
        small
        aria-label="Fix {numberTitle(desk.base, address)}"
        title="Fix it"
        onclick={() => fix([address], `Fix ${numberTitle(desk.base, address)}`)}>−</Button
      >
      {#if at !== null}
        <svg class="slider" viewBox="0 0 100 4" preserveAspectRatio="none" aria-hidden="true">
          <line x1="0" x2="100" y1="2" y2="2" /><line class="needle" x1={100 * at} x2={100 * at} y1="0" y2="4" />
          {#if next !== undefined}
            {@const there = place(next, min, max) ?? 0}
            <line class="run" x1={100 * there} x2={100 * there} y1="0" y2="4" />
          {/if}
        </svg>
      {/if}
    {:else}
      <p>
        No number is free yet. {desk.lens ? 'Make all radii free' : 'Free the shape or the place of a part'}, or choose
        numbers in Layout (Shift F7).
      </p>
    {/each}
  </CellGrid>
  <NumberPicker
    placeholder="another number…"
    label="A number to make free"
    testid="free-more"
    wanted="number to make free"
    {choices}
    onpick={(address) => free([address], `Make ${numberTitle(desk.base, address)} free`)}
  />
</PanelFrame>

<style>
  .tools {
    display: flex;
    gap: 6px;
    margin: 0;
  }

  .name {
    position: relative;
    overflow-wrap: anywhere;
    line-height: 1.1;
  }

  /* Outside of the words: a number that moved does not take another line. */
  .name i {
    position: absolute;
    top: 0.4em;
    left: -9px;
    width: 5px;
    height: 5px;
    border-radius: 50%;
    background: var(--accent);
  }

  .slider {
    grid-column: 1 / -1;
    width: 100%;
    height: 4px;
    margin-bottom: 2px;
  }

  line {
    stroke: var(--line);
    vector-effect: non-scaling-stroke;
  }

  .needle {
    stroke: var(--ink);
    stroke-width: 2px;
  }

  .run {
    stroke: var(--accent);
    stroke-width: 2px;
  }
</style>
