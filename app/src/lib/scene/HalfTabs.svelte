<script lang="ts">
  import { page } from '$app/state';

  /** The two halves of the one model that the Layout shows. */
  const HALVES = [
    { path: '/layout', title: 'Lens' },
    { path: '/layout/scene', title: 'Scene' },
  ] as const;
</script>

<nav aria-label="Lens or scene">
  {#each HALVES as { path, title } (path)}
    <a
      href={path}
      aria-current={page.url.pathname === path ? 'page' : undefined}
      data-testid="half-{title.toLowerCase()}">{title}</a
    >
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
