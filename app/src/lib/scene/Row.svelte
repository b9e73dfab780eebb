<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    children: Snippet;
  }
  let { children }: Props = $props();
</script>

<!-- A line of labelled choices, numbers and buttons in a panel of the scene. -->
<div class="row">{@render children()}</div>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 8px;
    align-items: center;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .row :global(label) {
    display: flex;
    max-width: 100%;
    gap: 4px;
    align-items: center;
    white-space: nowrap;
  }

  .row :global(.wide) {
    flex: 1;
    border-bottom: 1px solid var(--line);
    white-space: nowrap;
  }

  .row :global(.cell) {
    width: 58px;
    border-bottom: 1px solid var(--line);
  }

  .row :global(select) {
    min-width: 0;
    max-width: 100%;
    padding: 1px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: inherit;
    font-size: inherit;
  }
</style>
