<script lang="ts">
  import {
    addState,
    failure,
    findParameter,
    listParameters,
    objection,
    overridablePath,
    removeState,
    sameIn,
    stateAddress,
    success,
    valueAt,
    type Edit,
    type Outcome,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { nudged, numberReader } from '$lib/components/number-cell.ts';
  import NumberPicker from '$lib/components/NumberPicker.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, plain } from '$lib/format.ts';
  import { MARKS } from '$lib/desk/number-state.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { differable, glassInState, isGlass, numberInState, stateRows, type StateRow } from './state-rows.ts';

  const desk = useDesk();
  const project = $derived(desk.base);
  const states = $derived(project.states ?? []);
  const rows = $derived(stateRows(project));
  const choices = $derived(
    differable(
      project,
      listParameters(project).map(({ address }) => address),
    ),
  );
  const listId = $props.id();

  /** States are edited in the design: what differs is written where it belongs, whatever is looked at. */
  function commit(edits: readonly Edit[], label: string) {
    if (edits.length > 0) desk.commitDesign(edits, label);
  }

  function add() {
    const [name] = ['Near', 'Far', 'Hot', 'Cold', ...Array.from({ length: 500 }, (_, k) => `State ${k + 1}`)].filter(
      (one) => !states.some((state) => state.name === one),
    );
    const made = addState(project, name);
    commit(made.edits, made.label);
    desk.lookAt(made.state);
  }

  function remove(id: string) {
    const gone = removeState(project, id);
    if (gone.ok) commit(gone.value.edits, gone.value.label);
  }

  /** Lets what was chosen from the list differ in the state at hand, or in the first where none is. */
  function differ(address: string) {
    const state = desk.state ?? states[0]?.id;
    if (state) desk.differ(address, state);
  }

  const materialLabel = (id: unknown) => project.materials.find((one) => one.id === id)?.label ?? String(id);

  /** What a row is in a state: its own value there, or that of the design. */
  function shown(row: StateRow, state: string | null): { text: string; exact: string } {
    const own = state === null ? undefined : row.overrides.get(state)?.value;
    if (row.glass) {
      const text = materialLabel(own ?? designedGlass(row.address));
      return { text, exact: text };
    }
    const parameter = findParameter(project, row.address);
    const value =
      own === undefined ? (parameter.ok ? parameter.value.value : NaN) : own === 'infinity' ? Infinity : Number(own);
    return { text: plain(value, 7), exact: exactText(value) };
  }

  function designedGlass(address: string): unknown {
    const path = overridablePath(project, address);
    return path === null ? undefined : valueAt(project, path);
  }

  /** Reads a cell of a state: a glass or a number, or nothing for what it is in the design. */
  function reader(row: StateRow, state: string): (text: string) => Outcome<readonly Edit[]> {
    return (text) => {
      if (row.overrides.get(state)?.follows)
        return failure('It follows from other numbers in this state. Make it fixed first.');
      if (text.trim() === '') return numberInState(project, state, row.address, null);
      if (row.glass) return glassInState(project, state, row.address, text);
      const parameter = findParameter(project, row.address);
      if (!parameter.ok) return parameter;
      const { spec, value } = parameter.value;
      const own = row.overrides.get(state)?.value;
      const current = typeof own === 'number' ? own : value;
      const read = numberReader({ kind: spec.kind, current, allowInfinity: spec.allowInfinity ?? false }, (next) =>
        objection(spec, next),
      )(text);
      return read.ok ? numberInState(project, state, row.address, read.value) : read;
    };
  }

  function nameReader(id: string): (text: string) => Outcome<string> {
    return (text) => {
      const name = text.trim();
      if (name === '' || name.length > 60) return failure('A name has 1 to 60 characters.');
      if (states.some((one) => one.id !== id && one.name === name)) return failure('Another state has this name.');
      return success(name);
    };
  }

  function drop(row: StateRow) {
    const edits = [...row.overrides.keys()].flatMap((state) => {
      const same = sameIn(project, state, row.address);
      return same.ok ? same.value.edits : [];
    });
    commit(edits, `${row.title} as designed in every state`);
  }
</script>

<section class="band" aria-label="States" data-testid="states">
  <header>
    <h2>States</h2>
    <p>
      {#if states.length === 0}
        A state is the same model with some numbers or glasses changed: focused near, zoomed in, hot.
      {:else}
        What you see and type belongs to the chosen state where it differs; everything else belongs to the design. An
        empty cell is as designed.
      {/if}
    </p>
    <Button onclick={add} data-testid="add-state">+ state</Button>
    <Button aria-label="Close the states" onclick={() => (ui.statesOpen = false)}>✕</Button>
  </header>
  {#if states.length > 0}
    <table data-walk>
      <thead>
        <tr>
          <th></th>
          <th>
            <label>
              <input
                type="radio"
                name={listId}
                checked={desk.state === null}
                data-testid="look-designed"
                onchange={() => desk.lookAt(null)}
              />as designed</label
            >
          </th>
          {#each states as { id, name } (id)}
            <th class:at={desk.state === id}>
              <span class="head">
                <input
                  type="radio"
                  name={listId}
                  checked={desk.state === id}
                  aria-label="Look at {name}"
                  title="Look at it"
                  data-testid="look-{id}"
                  onchange={() => desk.lookAt(id)}
                />
                <Cell
                  label="Name of the state {name}"
                  text={name}
                  align="left"
                  testid="state-name-{id}"
                  read={nameReader(id)}
                  oncommit={(next) =>
                    next !== name &&
                    commit([{ kind: 'set', path: `states.${id}.name`, value: next }], `Name state ${next}`)}
                />
                <Button small aria-label="Remove the state {name}" title="Remove this state" onclick={() => remove(id)}
                  >−</Button
                >
              </span>
            </th>
          {/each}
          <th></th>
        </tr>
      </thead>
      <tbody>
        {#each rows as row, k (row.address)}
          <tr>
            <th scope="row" title={row.address}>{row.title}<i>{row.unit}</i></th>
            <td class="designed">{shown(row, null).text}</td>
            {#each states as { id, name }, column (id)}
              {@const own = row.overrides.get(id)}
              {@const seen = shown(row, id)}
              <td class:at={desk.state === id}>
                {#if own?.follows}<span class="follows" title="It follows from other numbers">{MARKS.derived}</span
                  >{/if}
                <Cell
                  label="{row.title} in {name}"
                  text={seen.text}
                  exact={seen.exact}
                  muted={own === undefined || own.follows === true}
                  row={k}
                  col={column}
                  testid="in-{id}-{k}"
                  address={own && !own.follows && !isGlass(row.address) ? stateAddress(id, row.address) : undefined}
                  read={reader(row, id)}
                  nudge={isGlass(row.address) ? () => null : nudged}
                  onpreview={(edits) => desk.previewDesign(edits)}
                  onend={() => desk.endPreview()}
                  oncommit={(edits) => commit(edits, `${row.title} in ${name}`)}
                />
              </td>
            {/each}
            <td
              ><Button
                small
                aria-label="{row.title} as designed in every state"
                title="As designed in every state"
                onclick={() => drop(row)}>−</Button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <div class="more">
      <NumberPicker
        placeholder="a number or glass that differs…"
        label="A number or glass to override"
        testid="differ"
        wanted="number or glass"
        action="+ override"
        {choices}
        onpick={differ}
      />
    </div>
  {/if}
</section>

<style>
  .band {
    max-height: 40vh;
    padding: 6px 14px 8px;
    overflow: auto;
    border-bottom: 1px solid var(--line);
    background: var(--card);
  }

  header {
    display: flex;
    gap: 12px;
    align-items: baseline;
  }

  p {
    flex: 1;
    margin: 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  table {
    margin: 4px 0;
    border-collapse: collapse;
  }

  th,
  td {
    position: relative;
    min-width: 110px;
    padding: 1px 8px;
    border-bottom: 1px solid var(--line);
    font-weight: 400;
    text-align: right;
    white-space: nowrap;
  }

  th:first-child {
    min-width: 200px;
    text-align: left;
  }

  th:last-child,
  td:last-child {
    min-width: 0;
  }

  .at {
    background: var(--accent-ground);
  }

  .head {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  i {
    padding-left: 6px;
    color: var(--muted);
    font-style: normal;
  }

  .designed {
    padding-right: 12px;
  }

  .follows {
    position: absolute;
    left: 6px;
    color: var(--accent);
  }

  .more {
    max-width: 370px;
  }
</style>
