<script lang="ts">
  import { MAX_TABLE_TEXT, takeInMaterial, type Material } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { glassTint } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import { takeFile } from '$lib/files/take-file.ts';
  import { fixed } from '$lib/format.ts';
  import ShelfTabs from '$lib/shelf/ShelfTabs.svelte';
  import MaterialSheet from '$lib/shelf/MaterialSheet.svelte';
  import { mapOption } from '$lib/shelf/shelf-charts.ts';
  import { found, SORTS, stockOf, type Sort } from '$lib/shelf/stock.ts';
  import { shelfStyle } from '$lib/shelf/shelf-style.ts';
  import Chart from '$lib/tiles/Chart.svelte';

  const desk = useDesk();
  let text = $state('');
  let sort = $state<Sort>('all');
  let covering = $state(false);
  let picker: FilePicker;

  const stock = $derived(stockOf(desk.project));
  const shown = $derived(found(stock, text, sort, covering));
  const used = $derived(new Set((desk.lens?.surfaces ?? []).map((surface) => surface.after?.material ?? '')));
  let picked = $state<string | null>(null);
  const chosen = $derived<Material | undefined>(
    (
      stock.find(({ material }) => material.id === picked) ??
      stock.find(({ material }) => used.has(material.id)) ??
      stock[0]
    )?.material,
  );

  const style = $derived(shelfStyle());

  const take = (file: File) =>
    takeFile(desk, file, {
      most: MAX_TABLE_TEXT,
      what: 'a table of indices',
      read: async () => desk.pool.run('material', { name: file.name, text: await file.text() }).result,
      use(read) {
        const { edits, material } = takeInMaterial(desk.project, read);
        desk.commit(edits, `Take in ${material.label}`);
        [text, sort, covering, picked] = ['', 'all', false, material.id];
        desk.notice = { tone: 'done', title: `${material.label} is on the shelf of this project.` };
      },
    });

  function walk(event: KeyboardEvent) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const rows = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button')];
    const next = rows[rows.indexOf(document.activeElement as HTMLElement) + step];
    if (step === 0 || !next) return;
    event.preventDefault();
    next.focus();
    next.click();
  }
</script>

<div class="room">
  <section class="list" aria-label="Materials">
    <ShelfTabs />
    <div class="choices">
      <input
        type="search"
        aria-label="Search materials"
        placeholder="code, name or family"
        data-testid="shelf-search"
        bind:value={text}
      />
      <select aria-label="Kind of material" data-testid="shelf-sort" bind:value={sort}>
        {#each Object.entries(SORTS) as [id, title] (id)}<option value={id}>{title}</option>{/each}
      </select>
      <label><input type="checkbox" bind:checked={covering} /> for all wavelengths of the lens</label>
    </div>
    <div class="head" aria-hidden="true"><span>material</span><span>nd</span><span>Vd</span></div>
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
    <ul onkeydown={walk} data-testid="shelf-list">
      {#each shown as { material, nd, vd, covers } (material.id)}
        <li>
          <button
            aria-current={material.id === chosen?.id}
            data-material={material.id}
            onclick={() => (picked = material.id)}
          >
            <i style:background={glassTint(vd)}></i>
            <span class="name"
              ><strong>{material.label}</strong>{used.has(material.id) ? ' · in the lens' : ''}
              <small>{material.family}{covers ? '' : ' · not at every wavelength'}</small></span
            >
            <span class="number">{nd > 0 ? fixed(nd, 4) : '–'}</span>
            <span class="number">{Number.isFinite(vd) ? fixed(vd, 1) : '–'}</span>
          </button>
        </li>
      {:else}
        <li class="none">Nothing of this kind is on the shelf. Widen the search, or import a table.</li>
      {/each}
    </ul>
    <p class="foot">
      <span>{shown.length} of {stock.length}</span>
      <Button onclick={() => picker.open()} data-testid="take-material">Import a table…</Button>
      <FilePicker
        bind:this={picker}
        label="Table of indices, CSV or YAML"
        accept=".csv,.txt,.yml,.yaml"
        testid="material-file"
        onfile={(file) => void take(file)}
      />
    </p>
  </section>
  <section class="map" aria-label="Map of index against Abbe number">
    <h2>n–V map</h2>
    <p>Index against Abbe number. ● glass ▲ plastic ◆ crystal or liquid ■ your own; ringed: in the lens.</p>
    <div class="chart">
      <Chart
        option={() => mapOption(shown, used, chosen?.id ?? null, style)}
        label="Materials by index and Abbe number; the list beside it has the same ones"
        onpick={(name) => (picked = name)}
      />
    </div>
  </section>
  {#if chosen}
    <MaterialSheet material={chosen} {style} onchoose={(id) => (picked = id)} />
  {/if}
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 330px minmax(320px, 1fr) 330px;
    height: 100%;
  }

  section {
    display: flex;
    flex-direction: column;
    gap: 6px;
    min-width: 0;
    min-height: 0;
    padding: 12px 14px;
  }

  .list {
    border-right: 1px solid var(--line);
  }

  .choices {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 6px;
  }

  .choices label {
    display: flex;
    grid-column: 1 / -1;
    gap: 6px;
    align-items: center;
  }

  .choices label input {
    accent-color: var(--accent);
  }

  input[type='search'],
  select {
    min-width: 0;
    padding: 3px 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  .head,
  li button {
    display: grid;
    grid-template-columns: 12px 1fr 58px 44px;
    gap: 8px;
    align-items: center;
    width: 100%;
    padding: 3px 6px;
    text-align: left;
  }

  .head {
    padding-right: 20px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .head span:first-child {
    grid-column: 1 / 3;
  }

  .head span:not(:first-child),
  .number {
    text-align: right;
  }

  ul {
    flex: 1;
    min-height: 0;
    margin: 0;
    padding: 0;
    overflow: auto;
    list-style: none;
    scrollbar-gutter: stable;
  }

  li button {
    border: 0;
    border-bottom: 1px solid var(--line);
    background: none;
  }

  li button:hover {
    background: var(--card);
  }

  li button[aria-current='true'] {
    background: var(--accent-ground);
    box-shadow: inset 3px 0 var(--accent);
  }

  li i {
    width: 10px;
    height: 22px;
    border: 1px solid var(--glass-edge);
  }

  .name {
    min-width: 0;
  }

  small {
    display: block;
    overflow: hidden;
    color: var(--muted);
    font-size: 11px;
    line-height: 1.2;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .foot {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }

  .foot span,
  .map p,
  .none {
    color: var(--muted);
  }

  .none {
    padding: 12px 6px;
  }

  .chart {
    flex: 1;
    min-height: 0;
  }
</style>
