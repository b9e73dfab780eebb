<script lang="ts">
  import { findMeasure, isOfScene, listParameters, MEASURES, type ParameterState } from '@ulvex/core';
  import { dailyConditions, measureNow } from '@ulvex/core/relations';
  import { untrack } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import SettingField from '$lib/components/SettingField.svelte';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { MARKS, numberTitle, readable } from '$lib/desk/number-state.ts';

  interface Props {
    /** Addresses of the numbers that are meant. */
    addresses: readonly string[];
    at: DOMRect;
  }
  let { addresses, at }: Props = $props();
  const desk = useDesk();
  const WIDTH = 400;
  const KINDS = ['fixed', 'free', 'linked', 'derived'] as const;
  const MEANINGS = {
    fixed: 'Keeps its value.',
    free: 'Improve may change it.',
    linked: 'Computed from other numbers by a formula.',
    derived: 'Chosen so that a condition holds, and chosen again after every change.',
  } as const;

  const address = $derived(addresses[0]);
  const present = $derived(desk.project.parameters?.[address]);
  const many = $derived(addresses.length > 1);
  const lens = $derived(desk.project.lenses.find(({ id }) => id === address.split('.')[1]) ?? desk.lens);
  const daily = $derived(dailyConditions(desk.project, address));
  const measures = MEASURES.filter((one) => !isOfScene(one) && !one.slow);
  const names = $derived(
    listParameters(desk.project).flatMap((one) => {
      const [root, , list, ...rest] = one.address.split('.');
      return root === 'lenses' && list === 'surfaces' && one.address !== address ? [rest.join('.')] : [];
    }),
  );

  /** What it is when the panel is opened; the panel is made anew for each number. */
  const begun = untrack(() => present);
  let kind = $state<(typeof KINDS)[number]>(begun?.kind ?? 'fixed');
  let bounds = $state(begun?.kind === 'free' ? [text(begun.min), text(begun.max)] : ['', '']);
  let formula = $state(begun?.kind === 'linked' ? short(begun.formula) : '');
  let condition = $state.raw(
    begun?.kind === 'derived'
      ? { measure: begun.measure, settings: begun.settings, equals: short(begun.equals) }
      : { measure: 'effective_focal_length', settings: {} as Readonly<Record<string, unknown>>, equals: '' },
  );
  let wrong = $state<string | null>(null);
  const measure = $derived(findMeasure(condition.measure));
  const now = $derived(
    measureNow(desk.project, {
      measure: condition.measure,
      lens: lens?.id ?? '',
      settings: condition.settings,
    }),
  );

  function text(value: number | undefined): string {
    return value === undefined ? '' : String(value);
  }

  /** Within the lens the beginning of an address goes without saying. */
  function short(stored: string): string {
    return stored.replaceAll(`lenses.${address.split('.')[1]}.surfaces.`, '');
  }

  function place(): string {
    const x = Math.max(8, Math.min(at.left, window.innerWidth - WIDTH - 8));
    return at.bottom > window.innerHeight - 340
      ? `left: ${x}px; bottom: ${Math.max(8, window.innerHeight - at.top + 6)}px`
      : `left: ${x}px; top: ${at.bottom + 6}px`;
  }

  function wanted(): ParameterState | null | string {
    switch (kind) {
      case 'fixed':
        return null;
      case 'free': {
        const [min, max] = bounds.map((one) => (one.trim() === '' ? undefined : Number(one.replace('−', '-'))));
        if ([min, max].some((one) => one !== undefined && !Number.isFinite(one)))
          return 'A bound is a number, or left empty.';
        return { kind, ...(min !== undefined && { min }), ...(max !== undefined && { max }) };
      }
      case 'linked':
        return { kind, formula };
      case 'derived':
        return { kind, of: lens?.id ?? '', ...condition, equals: condition.equals.trim() || (now ?? '') };
    }
  }

  async function apply() {
    const next = wanted();
    if (typeof next === 'string') {
      wrong = next;
      return;
    }
    const title = many ? `${addresses.length} numbers` : numberTitle(desk.project, address);
    const done = await desk.changeState(addresses, next, `Make ${title} ${kind}`);
    if (done.ok) close();
    else wrong = done.reason;
  }

  function close() {
    const { back } = ui.stating ?? {};
    ui.stating = null;
    back?.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'Escape') close();
    else if (event.key === 'Enter' && !(event.target instanceof HTMLButtonElement)) void apply();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  let panel: HTMLElement;
  $effect(() => panel.querySelector<HTMLInputElement>('input:checked')?.focus());
</script>

<svelte:window
  onpointerdown={(event) => {
    if (!panel.contains(event.target as Node)) close();
  }}
/>
<div
  class="panel"
  role="dialog"
  tabindex="-1"
  aria-label="State of {many ? `${addresses.length} numbers` : numberTitle(desk.project, address)}"
  style={place()}
  style:width="{WIDTH}px"
  bind:this={panel}
  {onkeydown}
  data-testid="state-panel"
>
  <h3>{many ? `${addresses.length} numbers` : numberTitle(desk.project, address)}</h3>
  <div class="kinds" role="radiogroup" aria-label="State">
    {#each KINDS as one (one)}
      <label class:on={kind === one} class:off={many && (one === 'linked' || one === 'derived')}
        ><input
          type="radio"
          name="state-of-number"
          bind:group={kind}
          value={one}
          disabled={many && (one === 'linked' || one === 'derived')}
          data-testid="state-{one}"
          onchange={() => (wrong = null)}
        /><span aria-hidden="true">{one === 'fixed' ? '' : MARKS[one]}</span>
        {one}</label
      >
    {/each}
  </div>
  <p class="meaning">{MEANINGS[kind]}</p>
  {#if kind === 'free'}
    <div class="row">
      <label>from <input bind:value={bounds[0]} data-testid="state-min" placeholder="any" /></label>
      <label>to <input bind:value={bounds[1]} data-testid="state-max" placeholder="any" /></label>
    </div>
  {:else if kind === 'linked'}
    <label class="wide"
      >= <input
        bind:value={formula}
        list="state-names"
        autocomplete="off"
        spellcheck="false"
        placeholder="−1 * l1_front.radius"
        data-testid="state-formula"
      /></label
    >
    <datalist id="state-names"
      >{#each names as name (name)}<option value={name}></option>{/each}</datalist
    >
    <div class="row">
      <select
        aria-label="Insert a number into the formula"
        data-testid="state-pick"
        value=""
        onchange={(event) => {
          formula = `${formula}${formula.trim() === '' || /[-+*/(]\s*$/.test(formula) ? '' : ' + '}${event.currentTarget.value}`;
          event.currentTarget.value = '';
        }}
      >
        <option value="" hidden>insert a number …</option>
        {#each names as name (name)}<option value={name}
            >{numberTitle(desk.project, `lenses.${lens?.id}.surfaces.${name}`)}</option
          >{/each}
      </select>
    </div>
  {:else if kind === 'derived'}
    {#if daily.length > 0}
      <select
        aria-label="Conditions of daily use"
        data-testid="state-daily"
        value=""
        onchange={(event) => {
          const { measure: id, settings, equals } = daily[Number(event.currentTarget.value)];
          condition = { measure: id, settings, equals };
          event.currentTarget.value = '';
        }}
      >
        <option value="" hidden>of daily use …</option>
        {#each daily as { title, equals }, i (i)}<option value={String(i)}>{title} = {equals}</option>{/each}
      </select>
    {/if}
    <div class="row">
      <label
        >so that
        <select
          value={condition.measure}
          data-testid="state-measure"
          onchange={(event) => (condition = { ...condition, measure: event.currentTarget.value, settings: {} })}
        >
          {#each measures as one (one.id)}<option value={one.id}>{one.title}</option>{/each}
        </select></label
      >
    </div>
    {#if measure}
      <div class="row settings">
        {#each Object.entries(measure.settings) as [id, spec] (id)}
          <SettingField
            {spec}
            {lens}
            value={(condition.settings[id] as string | number | undefined) ??
              (spec.fallback === null ? (lens?.fields.points[0]?.id ?? '') : spec.fallback)}
            testid="state-setting-{id}"
            onchange={(value) => (condition = { ...condition, settings: { ...condition.settings, [id]: value } })}
          />
        {/each}
      </div>
    {/if}
    <label class="wide"
      >equals <input
        value={condition.equals}
        oninput={(event) => (condition = { ...condition, equals: event.currentTarget.value })}
        autocomplete="off"
        spellcheck="false"
        placeholder={now === null ? 'a number with its unit, or a formula' : `${now}, as it is now`}
        data-testid="state-equals"
      /></label
    >
  {/if}
  {#if wrong}<p class="wrong" role="alert" data-testid="state-wrong">
      ✕ {readable(desk.project, wrong)}
    </p>{/if}
  {#if desk.base.states}
    <div class="row">
      <label
        >differs in
        <select
          value=""
          data-testid="state-differs"
          onchange={(event) => {
            const state = event.currentTarget.value;
            for (const one of addresses) desk.differ(one, state);
            desk.lookAt(state);
            close();
          }}
        >
          <option value="" hidden>a state …</option>
          {#each desk.base.states as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </select></label
      >
    </div>
  {/if}
  <div class="row end">
    <Button onclick={close}>Cancel</Button>
    <Button strong onclick={() => void apply()} data-testid="state-apply">make it {kind}</Button>
  </div>
</div>

<style>
  .panel {
    position: fixed;
    z-index: 30;
    display: grid;
    gap: 8px;
    padding: 10px 14px 12px;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    box-shadow: var(--shadow);
  }

  h3 {
    font-size: var(--size);
  }

  .kinds,
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 14px;
    align-items: center;
  }

  .kinds label {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  .kinds input {
    margin: 0;
  }

  .kinds .on {
    color: var(--accent);
  }

  .kinds .off {
    color: var(--muted);
  }

  .meaning {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .wide {
    display: flex;
    gap: 6px;
    align-items: center;
  }

  .wide input {
    flex: 1;
  }

  select {
    max-width: 100%;
  }

  input:not([type='radio']) {
    max-width: 100%;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
  }

  .row label input {
    width: 90px;
  }

  .settings {
    padding-left: 12px;
    border-left: 2px solid var(--line);
  }

  .wrong {
    color: var(--bad);
    overflow-wrap: anywhere;
  }

  .end {
    justify-content: flex-end;
  }
</style>
