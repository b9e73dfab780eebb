<script lang="ts">
  import type { HTMLButtonAttributes } from 'svelte/elements';

  interface Props extends HTMLButtonAttributes {
    /** What the panel is there for. */
    strong?: boolean;
    /** In a row of a table or among small text. */
    small?: boolean;
    /** Without a border: a sign in a corner, a word in a heading. */
    bare?: boolean;
  }
  let { strong = false, small = false, bare = false, children, ...rest }: Props = $props();
</script>

<button class:strong class:small class:bare {...rest}>{@render children?.()}</button>

<style>
  button {
    padding: 1px 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    white-space: nowrap;
  }

  .small {
    padding: 0 6px;
    font-size: var(--size-small);
  }

  .bare {
    padding: 0 4px;
    border-color: transparent;
    background: none;
    color: inherit;
  }

  .strong {
    border-color: var(--accent);
    color: var(--accent);
    font-weight: 650;
  }

  button[aria-pressed='true'] {
    border-color: var(--accent);
    background: var(--accent-ground);
    color: var(--accent);
  }

  button:hover:not(:disabled) {
    border-color: var(--accent);
    color: var(--accent);
  }

  button:disabled {
    border-color: var(--line);
    color: var(--muted);
    cursor: default;
  }
</style>
