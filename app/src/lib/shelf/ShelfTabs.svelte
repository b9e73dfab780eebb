<script lang="ts">
  import { page } from '$app/state';

  const TABS = [
    { path: '/shelf', title: 'Materials' },
    { path: '/shelf/forms', title: 'Start forms' },
  ] as const;
</script>

<nav aria-label="What lies on the shelf">
  {#each TABS as { path, title } (path)}
    <a
      href={path}
      aria-current={page.url.pathname === path ? 'page' : undefined}
      data-testid="shelf-{title.toLowerCase().replace(' ', '-')}">{title}</a
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
