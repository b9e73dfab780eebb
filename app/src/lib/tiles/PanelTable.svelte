<script lang="ts">
  import type { TablePanel } from '@ulvex/core';
  import Table from '$lib/components/Table.svelte';
  import { plain, significant } from '$lib/format.ts';
  import { shownName } from './panel-option.ts';

  interface Props {
    panel: TablePanel;
    before: TablePanel | null;
    labels: ReadonlyMap<string, string>;
  }
  let { panel, before, labels }: Props = $props();
  /** The largest value of each column: what its bars are drawn against. */
  const largest = $derived(
    panel.columns.map((_, k) => Math.max(1e-300, ...panel.rows.map((row) => Math.abs(Number(row[k])) || 0))),
  );
  const text = (value: string | number, k: number) => {
    if (typeof value === 'string') return panel.columns[k].ids ? shownName(value, labels) : value;
    if (!Number.isFinite(value)) return value < 0 ? '−∞' : '∞';
    const { digits } = panel.columns[k];
    return digits ? plain(value, digits) : significant(value, 5);
  };
</script>

{#snippet cells(row: readonly (string | number)[], earlier: readonly (string | number)[] | undefined, bars: boolean)}
  {#each row as value, k (k)}
    {@const was = earlier?.[k]}
    <td
      class:number={typeof value === 'number' || k > 0}
      class:strong={panel.columns[k].strong}
      class:minus={Number(value) < 0}
      style:--bar={bars && panel.columns[k].bars ? `${Math.round((40 * Math.abs(Number(value))) / largest[k])}%` : null}
      >{text(value, k)}{#if typeof was === 'number' && was !== value}<em>{text(was, k)}</em>{/if}</td
    >
  {/each}
{/snippet}

<Table
  aria-label={panel.title}
  heads={panel.columns.map(({ title, unit, strong }) => ({ title: `${title}${unit ? `, ${unit}` : ''}`, strong }))}
>
  <tbody>
    {#each panel.rows as row, i (i)}<tr>{@render cells(row, before?.rows[i], true)}</tr>{/each}
  </tbody>
  {#if panel.total}
    <tfoot><tr>{@render cells(panel.total, before?.total, false)}</tr></tfoot>
  {/if}
</Table>

<style>
  .number {
    font-variant-numeric: tabular-nums;
    text-align: right;
  }

  td {
    --shade: var(--glass-2);
    background: linear-gradient(to right, var(--shade) var(--bar, 0%), transparent var(--bar, 0%));
  }

  .minus {
    --shade: var(--accent-ground);
  }

  .strong {
    color: var(--ink);
    font-weight: 600;
  }

  tfoot td {
    border-top: 1px solid var(--ink);
    font-weight: 600;
  }

  /* Under the number that it was: beside it the two would run together. */
  em {
    display: block;
    color: var(--muted);
    font-style: normal;
    line-height: 1.1;
  }
</style>
