<script lang="ts">
  import { page } from '$app/state';

  interface Props {
    /** What the pages have in common. */
    label: string;
    tabs: readonly { readonly path: string; readonly title: string; readonly testid: string }[];
  }
  let { label, tabs }: Props = $props();
</script>

<nav aria-label={label}>
  {#each tabs as { path, title, testid } (path)}
    <a href={path} aria-current={page.url.pathname === path ? 'page' : undefined} data-testid={testid}>{title}</a>
  {/each}
</nav>

<style>
  nav {
    display: flex;
    gap: 12px;
  }

  a {
    padding-bottom: 2px;
    border-bottom: 2px solid transparent;
    color: var(--muted);
    font-size: var(--size);
    font-weight: 650;
    text-decoration: none;
  }

  a:hover {
    color: var(--ink);
  }

  a[aria-current] {
    border-color: var(--accent);
    color: var(--ink);
  }
</style>
