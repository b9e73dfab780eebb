<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Table from '$lib/components/Table.svelte';
  import { KEYMAP, keysText, LOCAL_KEYS } from '$lib/keymap.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';

  let sheet: HTMLDialogElement;
  $effect(() => sheet.showModal());
</script>

<dialog bind:this={sheet} aria-label="Keys" data-testid="keys" onclose={() => (ui.keysOpen = false)}>
  <header>
    <h2>Keys</h2>
    <Button bare aria-label="Close" onclick={() => sheet.close()}>✕</Button>
  </header>
  <div class="columns">
    <Table caption="Anywhere">
      <tbody>
        {#each Object.values(KEYMAP) as shortcut (shortcut.id)}
          <tr><th scope="row"><kbd>{keysText(shortcut)}</kbd></th><td>{shortcut.what}</td></tr>
        {/each}
      </tbody>
    </Table>
    <div>
      {#each LOCAL_KEYS as { where, keys } (where)}
        <Table caption={where}>
          <tbody>
            {#each keys as [key, what] (key)}
              <tr><th scope="row"><kbd>{key}</kbd></th><td>{what}</td></tr>
            {/each}
          </tbody>
        </Table>
      {/each}
    </div>
  </div>
</dialog>

<style>
  dialog {
    max-width: min(980px, calc(100vw - 48px));
    max-height: calc(100vh - 48px);
    padding: 14px 20px 18px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    box-shadow: var(--shadow);
  }

  dialog::backdrop {
    background: rgb(0 0 0 / 30%);
  }

  header {
    display: flex;
    justify-content: space-between;
  }

  h2 {
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  .columns {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px 32px;
    align-items: start;
  }

  td {
    text-align: left;
    white-space: normal;
  }

  kbd {
    padding: 0 5px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--paper);
    font-family: inherit;
    font-size: var(--size-small);
  }
</style>
