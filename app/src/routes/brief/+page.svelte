<script lang="ts">
  import Fields from '$lib/brief/Fields.svelte';
  import Given from '$lib/brief/Given.svelte';
  import Light from '$lib/brief/Light.svelte';
  import Requirements from '$lib/brief/Requirements.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  const desk = useDesk();
  let draft = $state<string | null>(null);

  function commitNotes() {
    if (draft !== null && draft !== desk.project.notes) {
      desk.commit([{ kind: 'set', path: 'notes', value: draft }], 'Notes');
    }
    draft = null;
  }
</script>

<div class="room">
  {#if desk.lens}
    <div class="column">
      <Given />
      <Fields />
      <Light />
    </div>
    <div class="column">
      <Requirements />
      <section class="notes" aria-label="Notes">
        <h2>Notes</h2>
        <textarea
          aria-label="Notes"
          data-testid="notes"
          value={draft ?? desk.project.notes}
          oninput={(event) => (draft = event.currentTarget.value)}
          onblur={commitNotes}></textarea>
      </section>
    </div>
  {:else}
    <p class="none">This project holds no lens yet. Open another one in Projects.</p>
  {/if}
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: minmax(480px, 5fr) minmax(540px, 6fr);
    gap: 0 34px;
    height: 100%;
    padding: 14px 24px;
    overflow: auto;
  }

  .column {
    display: flex;
    flex-direction: column;
    gap: 20px;
    min-height: 0;
  }

  .column :global(section) {
    display: flex;
    flex-direction: column;
    gap: 8px;
  }

  .column :global(h2) {
    align-self: flex-start;
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  .notes {
    flex: 1;
    min-height: 160px;
  }

  textarea {
    flex: 1;
    width: 100%;
    padding: 8px 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    line-height: 1.5;
    resize: none;
  }

  .none {
    color: var(--muted);
  }
</style>
