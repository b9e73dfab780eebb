<script lang="ts">
  import { useDesk } from '$lib/desk/context.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';

  const desk = useDesk();
  const state = $derived(desk.base.states?.find(({ id }) => id === desk.state));
</script>

<button
  class:at={state !== undefined}
  aria-expanded={ui.statesOpen}
  title="States: what differs when it is focused near, zoomed in, hot"
  data-testid="state-button"
  data-state={desk.state ?? ''}
  onclick={() => (ui.statesOpen = !ui.statesOpen)}
>
  {#if desk.base.states}<span>state</span>{state?.name ?? 'as designed'}{:else}states{/if}
</button>

<style>
  button {
    flex: none;
    align-self: stretch;
    margin: 4px 0;
    padding: 0 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: var(--muted);
  }

  button:hover,
  button[aria-expanded='true'] {
    border-color: var(--accent);
  }

  .at {
    background: var(--accent-ground);
    color: var(--accent);
    font-weight: 650;
  }

  span {
    display: block;
    color: var(--muted);
    font-size: 11px;
    font-weight: 400;
    line-height: 1;
    text-align: left;
  }
</style>
