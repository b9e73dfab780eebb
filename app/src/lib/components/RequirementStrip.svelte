<script lang="ts">
  import { useDesk } from '$lib/desk/context.ts';
  import RequirementChip from './RequirementChip.svelte';

  const desk = useDesk();
</script>

<section aria-label="Requirements" class="strip">
  {#each desk.project.requirements as requirement (requirement.id)}
    <RequirementChip {requirement} />
  {:else}
    <p>No requirements yet: the Brief is where they are set.</p>
  {/each}
</section>

<style>
  .strip {
    contain: content;
    display: flex;
    align-items: center;
    gap: 8px;
    min-height: var(--strip);
    padding: 0 14px;
    overflow-x: auto;
    border-bottom: 1px solid var(--line);
    scrollbar-width: thin;
  }

  p {
    color: var(--muted);
  }
</style>
