<script lang="ts">
  import type { HTMLButtonAttributes } from 'svelte/elements';

  interface Props extends HTMLButtonAttributes {
    /** What the panel is there for. */
    strong?: boolean;
    /** One sign in a row of a table. */
    small?: boolean;
  }
  let { strong = false, small = false, children, ...rest }: Props = $props();
</script>

<button class:strong class:small {...rest}>{@render children?.()}</button>

<style>
  button {
    padding: 1px 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  .small {
    padding: 0 5px;
    background: none;
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
</style>
