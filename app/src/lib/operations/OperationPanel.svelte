<script lang="ts">
  import {
    JobCancelled,
    surfaceTitle,
    type Operated,
    type Outcome,
    type OwnChoice,
    type SettingSpec,
  } from '@ulvex/core';
  import { findOperation, OPERATIONS } from '@ulvex/core/operations';
  import { untrack } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels, surfaceLabels } from '$lib/desk/lens-words.ts';
  import Chart from '$lib/tiles/Chart.svelte';
  import { isChart, panelOption, shownName } from '$lib/tiles/panel-option.ts';
  import { panelStyle } from '$lib/tiles/panel-style.ts';
  import SettingField from '$lib/components/SettingField.svelte';
  import { ui } from '$lib/desk/ui.svelte.ts';

  const desk = useDesk();
  const operation = $derived(findOperation(ui.operating ?? '') ?? OPERATIONS[0]);
  /** The lens as the history has it: what is previewed is not what is operated on. */
  const lens = $derived(desk.lensIn(desk.project)!);
  const surfaces = $derived(lens?.surfaces.slice(0, -1) ?? []);
  let chosen = $state.raw<Readonly<Record<string, Readonly<Record<string, string | number>>>>>({});
  const settings = $derived(chosen[operation.id] ?? {});
  /** Where one stands when the panel is opened. */
  const [begun, ended] = untrack(() => elementAround(desk.selected));
  let from = $state(begun);
  let to = $state(ended);
  /** The one surface of operations on one. */
  let at = $state(untrack(() => desk.selected ?? ended));
  let made = $state.raw<Outcome<Operated> | null>(null);
  let pending = $state(false);
  let tried: Promise<void> = Promise.resolve();
  let panel: HTMLElement;

  /** The element that a surface belongs to, as what is operated on at first; the whole lens without one. */
  function elementAround(id: string | null): [string, string] {
    const all = desk.lensIn(desk.project)?.surfaces ?? [];
    const index = all.findIndex((surface) => surface.id === id);
    if (index < 0) return [all[0]?.id ?? '', all.at(-2)?.id ?? ''];
    const glass = (k: number) => all[k]?.after?.name !== undefined;
    let [first, last] = [index, index];
    while (first > 0 && glass(first - 1)) first--;
    while (last < all.length - 2 && glass(last)) last++;
    return [all[first].id, all[last].id];
  }

  // Tried anew with every choice and every version of the project; shown as what it would make.
  $effect(() => {
    const { base: project, state } = desk;
    if (!lens) return;
    const span = operation.on === 'surface' ? ([at, at] as const) : ([from, to] as const);
    const asked = { project, operation: operation.id, lens: lens.id, span, settings, state };
    const job = desk.pool.run('operate', asked);
    pending = true;
    tried = job.result.then(
      (next) => {
        pending = false;
        made = next;
        if (next.ok && next.value.ofDesign) desk.previewDesign(next.value.edits);
        else if (next.ok) desk.preview(next.value.edits);
        else desk.endPreview();
      },
      (error: Error) => {
        if (error instanceof JobCancelled) return; // another choice has taken its place
        pending = false;
        made = { ok: false, reason: error.message };
        desk.endPreview();
      },
    );
    return () => job.cancel();
  });
  $effect(() => () => desk.endPreview());
  $effect(() => panel.querySelector('select')?.focus());

  function close() {
    ui.operating = null;
  }

  /** Does what the choices of now make, not what was shown before the last of them. */
  async function take() {
    if (mistyped) return;
    if (pending) await tried;
    if (!made?.ok) return;
    const { edits, ofDesign, label, notes } = made.value;
    if (ofDesign) desk.commitDesign(edits, label);
    else desk.commit(edits, label);
    desk.notice = { tone: 'done', title: `${label}.`, lines: notes };
    close();
  }

  /** Choices that are typed wrong: nothing can be applied until they are mended. */
  let wrongChoices = $state.raw<readonly string[]>([]);
  function setWrong(id: string, isWrong: boolean) {
    const key = `${operation.id} ${id}`;
    const others = wrongChoices.filter((one) => one !== key);
    wrongChoices = isWrong ? [...others, key] : others;
  }

  /** Takes what one part of the lens wants by itself. */
  function takeOwn(choice: OwnChoice) {
    desk.commit(choice.edits, choice.label);
    desk.notice = { tone: 'done', title: `${choice.label}: ${choice.words.replace('wants ', '')}.` };
    close();
  }

  function set(id: string, value: string | number) {
    chosen = { ...chosen, [operation.id]: { ...settings, [id]: value } };
  }

  const charts = $derived((made?.ok ? (made.value.panels ?? []) : []).filter(isChart));
  const labels = $derived(new Map([...surfaceLabels(desk.lens), ...fieldLabels(desk.lens)]));
  const style = $derived(panelStyle(lens?.fields.points.length ?? 0));
  const fields = $derived(
    (Object.entries(operation.settings) as [string, SettingSpec][]).filter(
      ([, { when }]) =>
        !when || when.is.includes(String(settings[when.setting] ?? operation.settings[when.setting].fallback)),
    ),
  );
  const mistyped = $derived(fields.some(([id]) => wrongChoices.includes(`${operation.id} ${id}`)));
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
  bind:this={panel}
  aria-label="Operation on the lens"
  data-testid="operation-panel"
  onkeydown={(event) => {
    if (event.key !== 'Escape') return;
    close();
    event.stopPropagation();
  }}
>
  <header>
    <select
      aria-label="Operation"
      data-testid="operation"
      value={operation.id}
      onchange={(event) => (ui.operating = event.currentTarget.value)}
    >
      {#each OPERATIONS as { id, title } (id)}<option value={id}>{title}</option>{/each}
    </select>
    <Button onclick={close} data-testid="operation-leave">Cancel</Button>
    <Button
      strong
      disabled={(!made?.ok && !pending) || mistyped}
      title={mistyped ? 'A field below is wrong' : undefined}
      onclick={() => void take()}
      data-testid="operation-take">Apply</Button
    >
  </header>
  <p class="meaning">{operation.meaning}</p>
  <div class="row">
    {#if operation.on === 'surface' && lens}
      <label
        >at <select bind:value={at} data-testid="operation-at">
          {#each operation.image ? lens.surfaces : surfaces as { id }, k (id)}<option value={id}
              >{surfaceTitle(lens, k)}</option
            >{/each}
        </select></label
      >
    {:else if operation.on === 'run' && lens}
      <label
        >from <select bind:value={from} data-testid="operation-from">
          {#each surfaces as { id }, k (id)}<option value={id}>{surfaceTitle(lens, k)}</option>{/each}
        </select></label
      >
      <label
        >to <select bind:value={to} data-testid="operation-to">
          {#each surfaces as { id }, k (id)}<option value={id}>{surfaceTitle(lens, k)}</option>{/each}
        </select></label
      >
    {/if}
    {#each fields as [id, spec] (`${operation.id} ${id}`)}
      <SettingField
        {spec}
        {lens}
        value={settings[id] ?? spec.fallback ?? ''}
        testid="operation-{id}"
        onchange={(value) => set(id, value)}
        onwrong={(isWrong) => setWrong(id, isWrong)}
      />
    {/each}
  </div>
  {#if made?.ok}
    <ul data-testid="operation-notes" class:aside={pending} aria-busy={pending}>
      {#each made.value.notes as note (note)}<li>{note}</li>{/each}
    </ul>
    {#if made.value.choices && made.value.choices.of.length > 0}
      <p class="own" data-testid="operation-own">
        {made.value.choices.title}:
        {#each made.value.choices.of as choice (choice.name)}
          <Button disabled={pending} onclick={() => takeOwn(choice)} title="{choice.label}, and close">
            {shownName(choice.name, labels)}
            {choice.words}
          </Button>
        {/each}
      </p>
    {/if}
    {#if charts.length > 0}
      <div class="chart" class:aside={pending} data-testid="operation-chart">
        <Chart
          option={(width, height) =>
            panelOption(charts, [], { columns: 1, compact: false }, labels, style, { width, height })}
          label="{operation.title}: the criterion against the number"
        />
      </div>
    {/if}
    <p class="meaning">
      {pending
        ? 'Being computed for the new settings; the results above are for the previous ones.'
        : 'Drawing and values preview the result; nothing is changed yet.'}
    </p>
  {:else if made}
    <p class="wrong" role="alert" data-testid="operation-wrong">✕ {made.reason}</p>
  {/if}
</section>

<style>
  .aside {
    opacity: 0.45;
  }

  section {
    display: grid;
    flex-shrink: 0;
    gap: 6px;
    max-height: 60%;
    padding: 8px 4px 10px;
    overflow: auto;
    border-top: 2px solid var(--accent);
  }

  header,
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: center;
  }

  header select {
    flex: 1;
    font-weight: 600;
  }

  .row :global(input) {
    width: 84px;
  }

  .row :global(select),
  .row :global(input),
  select {
    padding: 2px 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
  }

  .chart {
    height: 170px;
  }

  .own {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
    margin: 0;
  }

  .meaning {
    color: var(--muted);
    font-size: var(--size-small);
  }

  ul {
    margin: 0;
    padding-left: 16px;
  }

  .wrong {
    color: var(--bad);
  }
</style>
