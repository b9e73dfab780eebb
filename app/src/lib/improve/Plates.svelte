<script lang="ts">
  import { MAX_TABLE_TEXT } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import FilePicker from '$lib/components/FilePicker.svelte';
  import Table from '$lib/components/Table.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { takeFile } from '$lib/files/take-file.ts';
  import { significant } from '$lib/format.ts';
  import type { PlatesRun } from './plates-run.svelte.ts';

  let { run }: { run: PlatesRun } = $props();
  const desk = useDesk();
  const list = $derived(desk.base.testPlates);
  let picker: FilePicker;

  const take = (file: File) => {
    const name = file.name.replace(/\.[^.]*$/, '').slice(0, 60) || 'test plates';
    return takeFile(desk, file, {
      most: MAX_TABLE_TEXT,
      what: 'a list of test plates',
      read: async () => desk.pool.run('plateList', { text: await file.text() }).result,
      use: (plates) =>
        desk.commitDesign([{ kind: 'set', path: 'testPlates', value: { name, plates } }], `Test plates: ${name}`),
    });
  };

  function forget() {
    run.throwAway();
    desk.commitDesign([{ kind: 'set', path: 'testPlates', value: undefined }], 'No test plates');
  }
</script>

<div class="plates" data-testid="plates" data-count={list?.plates.length ?? 0} data-running={run.active}>
  <p>
    {#if list}
      <span><b>{list.name}</b>, {list.plates.length} test plates</span>
      {#if run.active}
        <Button strong data-testid="plates-stop" onclick={() => run.stop()}>stop</Button>
      {:else}
        <Button
          strong={!run.found}
          data-testid="plates-fit"
          title="Fits one radius after another to its plate and polishes the free numbers again each time"
          onclick={() => desk.lens && run.start(desk.lens.id)}>{run.found ? 'fit again' : 'fit all radii'}</Button
        >
        <Button onclick={() => picker.open()}>another list…</Button>
        <Button onclick={forget}>forget</Button>
      {/if}
    {:else}
      <span>No list of test plates.</span>
      <Button title="CSV: a column of radii in mm, and, if wanted, one of names" onclick={() => picker.open()}
        >import a list…</Button
      >
    {/if}
    <FilePicker
      bind:this={picker}
      label="List of test plates, CSV"
      accept=".csv,.txt,.tsv,text/csv,text/plain"
      testid="plates-file"
      onfile={(file) => void take(file)}
    />
  </p>
  {#if run.reason}<p class="bad" role="alert">✕ {run.reason}</p>{/if}
  {#if run.found}
    {@const { done, of, before, merit, fitted } = run.found}
    <p data-testid="plates-state" data-done={done} data-merit={merit}>
      <span
        >{done} of {of} on plates · merit {significant(before, 4)} → <b>{significant(merit, 4)}</b>, polished before and
        after</span
      >
      {#if !run.active && run.whole}
        <Button data-testid="plates-keep" disabled={run.stale} onclick={() => run.keep()}>keep</Button>
      {/if}
      {#if !run.active}<Button onclick={() => run.throwAway()}>discard</Button>{/if}
    </p>
    {#if run.stale}
      <p class="warn">! The lens has changed since. These results are for the earlier lens: fit again.</p>
    {/if}
    <Table heads={['radius', 'was', 'plate', 'merit after']}>
      <tbody>
        {#each fitted as one (one.surface)}
          <tr
            ><th scope="row">{one.title}</th><td>{significant(one.from, 6)}</td><td title={one.plate.name}
              >{significant(one.to, 6)}</td
            ><td>{significant(one.merit, 4)}</td></tr
          >
        {/each}
      </tbody>
    </Table>
  {/if}
</div>

<style>
  .plates {
    display: flex;
    flex-direction: column;
    gap: 4px;
    margin-top: 6px;
    font-size: var(--size-small);
  }

  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: baseline;
    margin: 0;
    color: var(--muted);
  }

  b {
    color: var(--ink);
  }

  .bad {
    color: var(--bad);
  }

  .warn {
    color: var(--warn);
  }
</style>
