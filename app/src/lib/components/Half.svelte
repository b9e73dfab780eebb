<script lang="ts">
  import type { HTMLAttributes } from 'svelte/elements';

  interface Props extends HTMLAttributes<HTMLElement> {
    /** Whether it is the left one, with a line at its right. */
    left?: boolean;
  }
  let { left = false, children, ...rest }: Props = $props();
</script>

<section class:left {...rest}>{@render children?.()}</section>

<style>
  section {
    contain: strict; /* what changes in one half lays out nothing in the other */
    display: flex;
    flex-direction: column;
    gap: 7px;
    min-width: 0;
    min-height: 0;
    padding: 8px 12px 10px;
  }

  .left {
    border-right: 1px solid var(--line);
  }
</style>
