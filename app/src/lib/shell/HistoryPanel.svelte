<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { compareProjects, success, type Difference } from '@ulvex/core';
  import { numberTitle } from '$lib/desk/number-state.ts';
  import Cell from '$lib/components/Cell.svelte';
  import { clock, significant } from '$lib/format.ts';
  import { projectStore, type KeptProject } from '$lib/keeping/store.ts';

  interface Props {
    onclose: () => void;
  }
  let { onclose }: Props = $props();
  const desk = useDesk();

  /** Entries on the way from the beginning to what is shown. */
  const trail = $derived.by(() => {
    const { entries, head } = desk.history;
    const numbers: number[] = [];
    for (let at = head; at >= 0; at = entries[at].parent) numbers.push(at);
    return numbers;
  });
  /** Long histories are listed from their newest part; the rest on request. */
  const SHOWN = 200;
  const MOST_LANES = 5;
  let all = $state(false);
  const newestFirst = $derived.by(() => {
    const numbers = [...desk.history.entries.keys()].reverse();
    return all ? numbers : numbers.slice(0, SHOWN);
  });

  /** What the reference and what is shown differ by. */
  const differences = $derived(desk.reference ? compareProjects(desk.reference.project, desk.base) : null);
  const told = (value: Difference['before']) =>
    value === null ? '–' : typeof value === 'string' ? value : Number.isFinite(value) ? significant(value, 7) : '∞';

  /** How far in each entry stands: one that was made elsewhere than on the entry before it begins a branch. */
  const lanes = $derived.by(() => {
    const found: number[] = [];
    for (const [number, { parent }] of desk.history.entries.entries()) {
      const lane = parent < 0 ? 0 : found[parent];
      found.push(number === 0 || parent === number - 1 ? lane : Math.min(MOST_LANES, lane + 1));
    }
    return found;
  });

  /** Other projects, whose lenses can be laid under this one. */
  let others = $state.raw<readonly KeptProject[]>([]);
  $effect(() => {
    const own = desk.projectId;
    projectStore.list().then(
      (all) => (others = all.filter(({ id }) => id !== own)),
      () => {}, // a store that cannot be read is told of where the project itself is kept
    );
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
  }
</script>

<svelte:window {onkeydown} />
<aside aria-label="History" data-testid="history">
  <header>
    <h2>History</h2>
    <Button bare aria-label="Close the history" onclick={onclose}>✕</Button>
  </header>
  <p>Click an entry to return to it; ◐ makes it the grey reference. Nothing is ever lost.</p>
  <div class="name">
    <Cell
      label="Name of the state that is shown"
      testid="state-name"
      text={desk.history.names?.[String(desk.history.head)] ?? ''}
      align="left"
      placeholder="name this state"
      read={(text) => success(text)}
      oncommit={(name) => desk.nameState(desk.history.head, name)}
    />
  </div>
  <ol>
    {#each newestFirst as number (number)}
      {@const entry = desk.history.entries[number]}
      <li class:aside={!trail.includes(number)} class:head={desk.history.head === number} style:--lane={lanes[number]}>
        <span class="rail" aria-hidden="true">{lanes[number] > 0 ? '└' : ''}●</span>
        <button
          class="entry"
          aria-current={desk.history.head === number ? 'step' : undefined}
          data-testid="entry-{number}"
          onclick={() => desk.returnTo(number)}
        >
          <span
            >{#if desk.history.names?.[String(number)]}<b>{desk.history.names[String(number)]}</b>&nbsp;·
            {/if}{entry.label}</span
          >
          <span class="when"
            >no. {number + 1} · {clock(entry.time)}{entry.parent !== number - 1
              ? ` · after ${entry.parent < 0 ? 'the beginning' : `no. ${entry.parent + 1}`}`
              : ''}</span
          >
        </button>
        <button
          class="lay"
          aria-pressed={desk.reference?.entry === number}
          aria-label="Reference: {entry.label}"
          title="Use as the grey reference"
          data-testid="reference-{number}"
          onclick={() => desk.setReference(desk.reference?.entry === number ? null : number)}>◐</button
        >
      </li>
    {/each}
    {#if newestFirst.length < desk.history.entries.length}
      <li>
        <button class="entry" onclick={() => (all = true)}
          >{desk.history.entries.length - newestFirst.length} earlier ones …</button
        >
      </li>
    {/if}
    <li class:head={desk.history.head < 0}>
      <button class="entry" data-testid="entry-start" onclick={() => desk.returnTo(-1)}
        >{#if desk.history.names?.['-1']}<b>{desk.history.names['-1']}</b>&nbsp;·
        {/if}As it was opened</button
      >
      <button
        class="lay"
        aria-pressed={desk.reference?.entry === -1}
        aria-label="Reference: as it was opened"
        title="Use as the grey reference"
        data-testid="reference-start"
        onclick={() => desk.setReference(desk.reference?.entry === -1 ? null : -1)}>◐</button
      >
    </li>
  </ol>
  {#if differences && desk.reference}
    <section class="compare" aria-label="Compared with the reference" data-testid="compare">
      <h3>
        {differences.length === 0
          ? 'No difference'
          : `${differences.length} ${differences.length === 1 ? 'difference' : 'differences'}`}
        from ◐ {desk.reference.label}
      </h3>
      <ul>
        {#each differences.slice(0, SHOWN) as { at, before, after, unit } (at)}
          <li>
            <span title={at}>{numberTitle(desk.base, at)}</span>
            <span class="values">{told(before)} → <b>{told(after)}</b> {unit}</span>
          </li>
        {/each}
      </ul>
    </section>
  {/if}
  {#if others.length > 0}
    <select
      aria-label="Another project as the reference"
      title="Use the lens of another project as the reference"
      data-testid="reference-project"
      value=""
      onchange={(event: Event & { currentTarget: HTMLSelectElement }) => {
        void desk.setReferenceProject(event.currentTarget.value);
        event.currentTarget.value = '';
      }}
    >
      <option value="" hidden>◐ another project as the reference …</option>
      {#each others as { id, name } (id)}<option value={id}>{name}</option>{/each}
    </select>
  {/if}
</aside>

<style>
  aside {
    display: flex;
    flex-direction: column;
    flex: 0 0 272px;
    padding: 8px 12px;
    border-left: 1px solid var(--line);
    background: var(--card);
  }

  header {
    display: flex;
    justify-content: space-between;
  }

  select {
    margin-top: 6px;
    padding: 3px 6px;
    border: 1px dashed var(--line);
    color: var(--muted);
    font-size: var(--size-small);
  }

  .rail {
    flex: none;
    padding: 4px 4px 0 calc(var(--lane) * 9px);
    color: var(--muted);
    font-size: 9px;
  }

  .head .rail {
    color: var(--accent);
  }

  .compare {
    flex: 0 1 auto;
    max-height: 38%;
    margin-top: 6px;
    padding-top: 6px;
    overflow: auto;
    border-top: 1px solid var(--line);
  }

  .compare h3 {
    font-size: var(--size);
  }

  .compare ul {
    margin: 4px 0 0;
    padding: 0;
    list-style: none;
  }

  .compare li {
    display: grid;
    padding: 2px 0;
    font-size: var(--size-small);
  }

  .values {
    color: var(--muted);
    font-variant-numeric: tabular-nums;
  }

  .values b {
    color: var(--ink);
  }

  h2 {
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  p {
    padding: 6px 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .name {
    margin-bottom: 6px;
    border: 1px dashed var(--line);
  }

  ol {
    margin: 0;
    padding: 0;
    overflow-y: auto;
    list-style: none;
  }

  li {
    display: flex;
    border-bottom: 1px solid var(--grid);
  }

  .head {
    border-left: 3px solid var(--accent);
    background: var(--accent-ground);
  }

  .aside {
    padding-left: 16px;
    color: var(--muted);
  }

  .entry {
    display: flex;
    flex: 1;
    flex-wrap: wrap;
    gap: 0 8px;
    justify-content: space-between;
    min-width: 0;
    padding: 4px 6px;
    border: 0;
    background: none;
    text-align: left;
  }

  .when {
    margin-left: auto;
    color: var(--muted);
    font-size: var(--size-small);
    white-space: nowrap;
  }

  .lay {
    padding: 0 7px;
    border: 0;
    background: none;
    color: var(--muted);
  }

  .lay[aria-pressed='true'] {
    color: var(--accent);
  }

  button:hover {
    color: var(--accent);
  }
</style>
