<script lang="ts">
  import { MEASURES } from '@ulvex/core';
  import type { MadeSpread } from '$lib/tolerance/made-spreads.ts';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { addRequirement } from '$lib/desk/requirement-edits.ts';
  import RequirementCard from './RequirementCard.svelte';
  import StateButton from '$lib/states/StateButton.svelte';
  import RequirementChip from './RequirementChip.svelte';

  const desk = useDesk();
  let opened = $state.raw<{ readonly id: string; readonly at: DOMRect } | null>(null);
  const requirement = $derived(desk.project.requirements.find(({ id }) => id === opened?.id));

  /** Whether chips say how requirements spread when made. */
  let made = $state(false);
  let spreads = $state.raw<ReadonlyMap<string, MadeSpread>>(new Map());
  const hasTolerances = $derived(desk.base.tolerancing?.tolerances.some(({ off }) => !off) ?? false);

  function add(measure: string) {
    const lens = desk.lensIn(desk.project);
    const added = addRequirement(desk.project, lens, measure);
    if (!added?.ok) return;
    desk.commit(added.value.edits, added.value.label);
  }
</script>

<section aria-label="Requirements" class="strip">
  <StateButton />
  {#if desk.state !== null}<span class="of" data-testid="strip-state">required<br />as designed</span>{/if}
  {#each desk.project.requirements as one (one.id)}
    <button
      class="open"
      title="Limits of this requirement"
      data-testid="open-{one.id}"
      onclick={(event) => (opened = { id: one.id, at: event.currentTarget.getBoundingClientRect() })}
      ><RequirementChip requirement={one} spread={spreads.get(one.id)} /></button
    >
  {:else}
    <p>No requirements yet.</p>
  {/each}
  <select
    aria-label="Require a measure"
    title="Require a measure"
    data-testid="require"
    value=""
    onchange={(event: Event & { currentTarget: HTMLSelectElement }) => {
      add(event.currentTarget.value);
      event.currentTarget.value = '';
    }}
  >
    <option value="" hidden>+</option>
    {#each MEASURES as { id, title } (id)}<option value={id}>{title}</option>{/each}
  </select>
  {#if hasTolerances}
    <Button
      small
      aria-pressed={made}
      data-testid="strip-made"
      title="When made: standard deviation of each requirement by the tolerances, at the design as it is now"
      onclick={() => (made = !made)}>σ</Button
    >
    {#if made}
      {#await import('$lib/tolerance/MadeSpreads.svelte') then { default: MadeSpreads }}<MadeSpreads
          bind:spreads
        />{/await}
    {/if}
  {/if}
</section>
{#if requirement && opened}
  <RequirementCard {requirement} at={opened.at} onclose={() => (opened = null)} />
{/if}

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

  /* Labels give way before the strip scrolls; figures never do. */
  .open {
    flex: 0 1 auto;
    min-width: 100px;
    padding: 0;
    border: 0;
    background: none;
    text-align: left;
  }

  .open:hover {
    filter: brightness(0.97);
  }

  .of {
    flex: none;
    color: var(--muted);
    font-size: 11px;
    font-style: italic;
    line-height: 1.2;
  }

  select {
    flex: none;
    width: 46px;
    padding: 4px 6px;
    border: 1px dashed var(--line);
    color: var(--muted);
  }

  p {
    color: var(--muted);
  }
</style>
