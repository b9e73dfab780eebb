<script lang="ts">
  import { ui } from '$lib/desk/ui.svelte.ts';
  import Dial from './Dial.svelte';
</script>

<section aria-label="Dials" data-testid="dials">
  {#each ui.dials as address (address)}
    <Dial {address} onclose={() => (ui.dials = ui.dials.filter((one) => one !== address))} />
  {/each}
</section>

<style>
  section {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 18px;
    padding: 6px 14px;
    border-top: 1px solid var(--line);
    background: var(--card);
  }
</style>
