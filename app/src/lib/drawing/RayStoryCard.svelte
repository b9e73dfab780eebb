<script lang="ts">
  import { lineSymbol, surfaceTitle, wavelengthLabel, type SectionRay } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Table from '$lib/components/Table.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fixed } from '$lib/format.ts';
  import { rayStory } from './ray-story.ts';

  interface Props {
    ray: SectionRay;
    colour: string;
    onclose: () => void;
    /** Shows all numbers of the ray. */
    oninspect?: (() => void) | undefined;
  }
  let { ray, colour, onclose, oninspect }: Props = $props();
  const desk = useDesk();
  const titles = $derived(desk.lens?.surfaces.map((_, index) => surfaceTitle(desk.lens!, index)) ?? []);
  const endsAt = $derived(
    ray.endsAt === null ? null : (titles[desk.lens?.surfaces.findIndex(({ id }) => id === ray.endsAt) ?? -1] ?? null),
  );
  const story = $derived(rayStory(ray, titles, endsAt));
</script>

<aside data-testid="ray-story" aria-label="Story of a ray">
  <header>
    <strong
      ><i style:background={colour}></i>{ray.field}, pupil (0, {fixed(ray.py, 3)}), {wavelengthLabel(
        ray.nm,
      )}{lineSymbol(ray.nm) ? ` ${ray.nm.toFixed(1)} nm` : ''}</strong
    >
    {#if oninspect}<Button bare data-testid="inspect-ray" onclick={oninspect}>inspect</Button>{/if}
    <Button bare aria-label="Close the story" onclick={onclose}>✕</Button>
  </header>
  <Table heads={['to', 'z mm', 'y mm', 'angle']}>
    <tbody>
      {#each story.steps as { where, z, y, angle }, i (i)}
        <tr><td>{where}</td><td>{fixed(z, 3)}</td><td>{fixed(y, 4)}</td><td>{fixed(angle, 3)}°</td></tr>
      {/each}
    </tbody>
  </Table>
  <p class:bad={ray.status !== 0}>{story.end} Clipped by set apertures.</p>
</aside>

<style>
  aside {
    position: absolute;
    right: 20px;
    bottom: 36px;
    max-height: calc(100% - 48px);
    padding: 6px 10px;
    overflow-y: auto;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
    box-shadow: var(--shadow);
  }

  header {
    display: flex;
    gap: 12px;
    justify-content: space-between;
  }

  i {
    display: inline-block;
    width: 14px;
    height: 3px;
    margin-right: 6px;
    vertical-align: middle;
  }

  p {
    padding-top: 4px;
    color: var(--muted);
  }

  .bad {
    color: var(--bad);
  }
</style>
