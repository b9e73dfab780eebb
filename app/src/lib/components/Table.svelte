<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLTableAttributes } from 'svelte/elements';

  interface TableHead {
    readonly title: string;
    /** What the column says, for whoever points at its title. */
    readonly meaning?: string | undefined;
    readonly strong?: boolean | undefined;
  }
  interface Props extends HTMLTableAttributes {
    caption?: string;
    /** The titles of the columns; none for a table without a head. */
    heads?: readonly (string | TableHead)[];
    /** The rows, as `tr` in `tbody`: a first cell in words, numbers after it. */
    children: Snippet;
  }
  let { caption, heads, children, ...rest }: Props = $props();
</script>

<table {...rest}>
  {#if caption}<caption>{caption}</caption>{/if}
  {#if heads}
    <thead
      ><tr
        >{#each heads as head, k (k)}
          {@const { title, meaning, strong } = typeof head === 'string' ? ({ title: head } as TableHead) : head}<th
            scope="col"
            title={meaning}
            class:strong>{title}</th
          >{/each}</tr
      ></thead
    >
  {/if}
  {@render children()}
</table>

<style>
  table {
    border-collapse: collapse;
    font-size: var(--size-small);
    font-variant-numeric: tabular-nums;
    line-height: 1.3;
  }

  caption {
    padding: 10px 0 2px;
    color: var(--muted);
    text-align: left;
  }

  :where(table) :global(th),
  :where(table) :global(td) {
    padding: 1px 7px 1px 0;
    font-weight: 400;
    text-align: right;
    white-space: nowrap;
  }

  :where(table) :global(thead th) {
    position: sticky;
    top: 0;
    background: var(--card);
    color: var(--muted);
  }

  :where(table) :global(thead th.strong) {
    color: var(--ink);
    font-weight: 600;
  }

  :where(table) :global(tr > :first-child) {
    text-align: left;
  }

  :where(table) :global(tbody tr + tr > *) {
    border-top: 1px solid var(--grid);
  }
</style>
