<script lang="ts">
  import Aperture from '@lucide/svelte/icons/aperture';
  import FileText from '@lucide/svelte/icons/file-text';
  import FolderOpen from '@lucide/svelte/icons/folder-open';
  import LayoutGrid from '@lucide/svelte/icons/layout-grid';
  import Ruler from '@lucide/svelte/icons/ruler';
  import TrendingDown from '@lucide/svelte/icons/trending-down';
  import Library from '@lucide/svelte/icons/library';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { useDesk } from '$lib/desk/context.ts';
  import { halfOf } from '$lib/desk/opening.ts';

  const rooms = [
    { path: '/brief', title: 'Brief', Icon: FileText },
    { path: '/layout', title: 'Layout', Icon: Aperture },
    { path: '/study', title: 'Study', Icon: LayoutGrid },
    { path: '/improve', title: 'Improve', Icon: TrendingDown },
    { path: '/tolerance', title: 'Tolerance', Icon: Ruler },
  ] as const;
  const desk = useDesk();

  /** Into the half of the Layout that was looked at last, or in which the project has something. */
  function toHalf(event: MouseEvent) {
    const half = halfOf(desk);
    if (half === '/layout' || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    if (page.url.pathname !== half) void goto(half);
  }
</script>

<nav aria-label="Rooms">
  {#each rooms as { path, title, Icon } (path)}
    <a
      href={path}
      aria-current={page.url.pathname.startsWith(path) ? 'page' : undefined}
      onclick={path === '/layout' ? toHalf : undefined}><Icon size={20} />{title}</a
    >
  {/each}
  <span class="gap"></span>
  <a href="/shelf" aria-current={page.url.pathname.startsWith('/shelf') ? 'page' : undefined}
    ><Library size={20} />Shelf</a
  >
  <span class="space"></span>
  <a href="/projects" aria-current={page.url.pathname === '/projects' ? 'page' : undefined}
    ><FolderOpen size={20} />Projects</a
  >
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    width: var(--rail);
    padding: 6px 0;
    border-right: 1px solid var(--line);
  }

  .gap {
    margin: 8px 14px;
    border-top: 1px solid var(--line);
  }

  .space {
    flex: 1;
  }

  a {
    display: flex;
    flex-direction: column;
    align-items: center;
    gap: 3px;
    padding: 8px 0 6px;
    border-left: 3px solid transparent;
    color: var(--muted);
    font-size: var(--size-small);
    text-decoration: none;
  }

  a:hover {
    color: var(--ink);
  }

  a[aria-current] {
    border-left-color: var(--accent);
    background: var(--accent-ground);
    color: var(--accent);
  }
</style>
