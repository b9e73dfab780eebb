<script lang="ts">
  import { readTableText, success, tableText, type TableSpec } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';

  interface Props {
    spec: TableSpec;
    /** What holds the lists of the table. */
    record: object;
    label: string;
    testid: string;
    /** Given the record with its new lists. */
    oncommit: (record: object) => void;
  }
  let { spec, record, label, testid, oncommit }: Props = $props();

  const text = $derived(tableText(spec, record as Readonly<Record<string, unknown>>));
  const pattern = $derived(
    spec.columns.map(({ title, unit }) => title.toLowerCase() + (unit ? ` (${unit})` : '')).join(' : '),
  );
  function read(given: string) {
    const lists = readTableText(spec, given);
    return lists.ok ? success({ ...record, ...lists.value }) : lists;
  }
</script>

<label>
  {pattern}, one row after another
  <Cell {label} {text} {read} {oncommit} {testid} align="left" />
</label>

<style>
  label {
    display: block;
    border-bottom: 1px solid var(--line);
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
