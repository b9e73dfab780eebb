<script lang="ts">
  import { useDesk } from '$lib/desk/context.ts';
  import { explanation } from '$lib/explain.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';

  const desk = useDesk();
  const WIDTH = 330;
  const said = $derived(ui.explained ? explanation(ui.explained.key, desk.project) : null);
  const place = $derived.by(() => {
    if (!ui.explained) return '';
    const { left, bottom, top } = ui.explained.at;
    const x = Math.max(8, Math.min(left, window.innerWidth - WIDTH - 8));
    return bottom > window.innerHeight - 220
      ? `left: ${x}px; bottom: ${window.innerHeight - top + 6}px`
      : `left: ${x}px; top: ${bottom + 6}px`;
  });
</script>

<svelte:window
  onpointerdown={() => (ui.explained = null)}
  onkeydowncapture={(event) => {
    if (ui.explained && event.key !== 'F1' && event.key !== 'Shift') ui.explained = null;
  }}
/>
{#if said}
  <aside style={place} style:width="{WIDTH}px" role="status" data-testid="explanation">
    <h3>
      {said.title}{#if said.unit}<span> {said.unit}</span>{/if}
    </h3>
    <p>{said.text}</p>
    {#each said.more as line (line)}<p class="more">{line}</p>{/each}
  </aside>
{/if}

<style>
  aside {
    position: fixed;
    z-index: 30;
    padding: 8px 12px 10px;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    box-shadow: var(--shadow);
  }

  h3 {
    padding-bottom: 3px;
    font-size: var(--size);
  }

  h3 span,
  .more {
    color: var(--muted);
    font-weight: 400;
  }

  .more {
    padding-top: 4px;
    overflow-wrap: anywhere;
    font-size: var(--size-small);
  }
</style>
