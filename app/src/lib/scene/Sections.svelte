<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    /** Short sections side by side, each with its heading. */
    sections: readonly { readonly title: string; readonly body: Snippet }[];
  }
  let { sections }: Props = $props();
</script>

<div class="sections" style:--count={sections.length}>
  {#each sections as { title, body } (title)}
    <section aria-label={title}>
      <h3>{title}</h3>
      <div class="body">{@render body()}</div>
    </section>
  {/each}
</div>

<style>
  .sections {
    display: grid;
    flex: 1;
    grid-template-columns: minmax(0, 0.8fr) repeat(calc(var(--count) - 1), minmax(0, 1fr));
    gap: 0 14px;
    min-height: 0;
  }

  section {
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
  }

  h3 {
    margin: 0 0 3px;
    padding-bottom: 2px;
    border-bottom: 1px solid var(--line);
    font-size: var(--size-small);
    font-weight: 600;
  }

  .body {
    display: flex;
    flex: 1;
    flex-direction: column;
    gap: 4px;
    min-height: 0;
    overflow: hidden auto;
    scrollbar-width: thin;
  }
</style>
