<script lang="ts">
  import { lineSymbol, surfaceTitle, wavelengthLabel, type SectionRay } from '@ulvex/core';
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
    {#if oninspect}<button data-testid="inspect-ray" onclick={oninspect}>inspect</button>{/if}
    <button aria-label="Close the story" onclick={onclose}>✕</button>
  </header>
  <table>
    <thead><tr><th>to</th><th>z mm</th><th>y mm</th><th>angle</th></tr></thead>
    <tbody>
      {#each story.steps as { where, z, y, angle }, i (i)}
        <tr><td>{where}</td><td>{fixed(z, 3)}</td><td>{fixed(y, 4)}</td><td>{fixed(angle, 3)}°</td></tr>
      {/each}
    </tbody>
  </table>
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

  th,
  td {
    padding: 1px 0 1px 12px;
    text-align: right;
  }

  th {
    color: var(--muted);
    font-weight: 400;
  }

  th:first-child,
  td:first-child {
    padding-left: 0;
    text-align: left;
  }

  p {
    padding-top: 4px;
    color: var(--muted);
  }

  .bad {
    color: var(--bad);
  }

  button {
    padding: 0 4px;
    border: 0;
    background: none;
  }
</style>
