<script lang="ts">
  import type { TablePanel } from '@ulvex/core';
  import { plain, significant } from '$lib/format.ts';
  import { shownName } from './panel-option.ts';

  interface Props {
    panel: TablePanel;
    before: TablePanel | null;
    labels: ReadonlyMap<string, string>;
  }
  let { panel, before, labels }: Props = $props();
  const text = (value: string | number, k: number) => {
    if (typeof value === 'string') return shownName(value, labels);
    if (!Number.isFinite(value)) return value < 0 ? '−∞' : '∞';
    const { digits } = panel.columns[k];
    return digits ? plain(value, digits) : significant(value, 5);
  };
</script>

<table aria-label={panel.title}>
  <thead>
    <tr>
      {#each panel.columns as { title, unit } (title)}<th>{title}{unit ? `, ${unit}` : ''}</th>{/each}
    </tr>
  </thead>
  <tbody>
    {#each panel.rows as row, i (i)}
      <tr>
        {#each row as value, k (k)}
          {@const was = before?.rows[i]?.[k]}
          <td class:number={typeof value === 'number'}
            >{text(value, k)}{#if typeof was === 'number' && was !== value}<em> {text(was, k)}</em>{/if}</td
          >
        {/each}
      </tr>
    {/each}
  </tbody>
</table>

<style>
  table {
    border-collapse: collapse;
    font-size: var(--size-small);
  }

  th {
    position: sticky;
    top: 0;
    background: var(--card);
    color: var(--muted);
    font-weight: 500;
    text-align: right;
  }

  th:first-child {
    text-align: left;
  }

  th,
  td {
    padding: 1px 10px 1px 0;
    white-space: nowrap;
  }

  tr + tr td {
    border-top: 1px solid var(--grid);
  }

  .number {
    font-family: var(--font-mono);
    font-variant-numeric: tabular-nums;
    text-align: right;
  }

  em {
    color: var(--muted);
    font-style: normal;
  }
</style>
