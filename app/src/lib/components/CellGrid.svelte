<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  interface Props extends HTMLAttributes<HTMLDivElement> {
    /** Widths of the columns, as CSS takes them for a grid. */
    columns: string;
    /** Titles of the columns, '' for none; those of numbers are at the right. */
    heads?: readonly (string | { readonly number: string })[];
    /** The cells, row after row. */
    children: Snippet;
  }
  let { columns, heads = [], children, ...rest }: Props = $props();
</script>

<div data-walk style:grid-template-columns={columns} {...rest}>
  {#each heads as head, k (k)}
    <span class="head" class:number={typeof head !== 'string'}>{typeof head === 'string' ? head : head.number}</span>
  {/each}
  {@render children()}
</div>

<style>
  div {
    display: grid;
    gap: 1px 4px;
    align-items: center;
  }

  .head {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .number {
    padding-right: 5px;
    text-align: right;
  }

  /* Text that is shown instead of rows. */
  div > :global(p) {
    grid-column: 1 / -1;
    margin: 4px 0;
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
