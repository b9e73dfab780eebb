<script lang="ts">
  import type { Snippet } from 'svelte';
  import Trouble from '$lib/components/Trouble.svelte';

  interface Props {
    title: string;
    /** Choices, sampling and limits in one line. */
    about: string;
    children: Snippet;
    /** Controls at the right of the title. */
    tools?: Snippet;
    testid?: string;
  }
  let { title, about, children, tools, testid }: Props = $props();
</script>

<section class="tile" data-testid={testid}>
  <header>
    <h2>{title}</h2>
    <span class="about" title={about}>{about}</span>
    {@render tools?.()}
  </header>
  <div class="body">
    <svelte:boundary>
      {@render children()}
      {#snippet failed(error, reset)}<Trouble what="tile" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
</section>

<style>
  .tile {
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
    padding: 7px 10px 8px;
    border: 1px solid var(--line);
    background: var(--card);
  }

  header {
    display: flex;
    align-items: baseline;
    gap: 10px;
    min-width: 0;
    padding-bottom: 5px;
  }

  .about {
    flex: 1;
    display: -webkit-box;
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
    line-height: 1.25;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
  }

  .body {
    flex: 1;
    min-height: 0;
  }
</style>
