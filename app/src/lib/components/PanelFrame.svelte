<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';

  interface Props extends HTMLAttributes<HTMLElement> {
    title: string;
    /** What it is called by assistive technology; its title by default. */
    label?: string;
    /** Whether a line parts it from the panel above. */
    parted?: boolean;
    /** What stands beside the title: buttons, choices, figures. */
    tools?: Snippet;
    children: Snippet;
  }
  let { title, label = title, parted = false, tools, children, ...rest }: Props = $props();
</script>

<section aria-label={label} class:parted {...rest}>
  <header>
    <h2>{title}</h2>
    {@render tools?.()}
  </header>
  {@render children()}
</section>

<style>
  section {
    display: flex;
    flex-direction: column;
    gap: 6px;
    padding: 10px 12px;
  }

  .parted {
    border-top: 1px solid var(--line);
  }

  header {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: baseline;
  }
</style>
