<script lang="ts">
  import {
    FRAME_SPECS,
    BEHIND_SPECS,
    followOf,
    setFollow,
    surfaceTitle,
    type Follow,
    type Lens,
    type Surface,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Numbers from './Numbers.svelte';

  interface Props {
    lens: Lens;
    surface: Surface;
    title: string;
  }
  let { lens, surface, title }: Props = $props();
  const desk = useDesk();
  const at = $derived(`lenses.${lens.id}.surfaces.${surface.id}`);
  const index = $derived(lens.surfaces.indexOf(surface));
  const follow = $derived(followOf(lens, surface.id));
  const chosen = $derived(typeof follow === 'string' ? follow : `to ${follow.upTo}`);
  let behind = $state(false);

  function choose(value: string) {
    const next: Follow = value.startsWith('to ') ? { upTo: value.slice(3) } : (value as Follow & string);
    desk.perform(setFollow(lens, surface.id, next));
  }
</script>

<Numbers specs={FRAME_SPECS} address={(id) => `${at}.${id}`} of={title} testid="place" />
<p>
  <label>
    <span>What follows</span>
    <select
      aria-label="What follows {title}"
      data-testid="follow"
      data-explain="word:follow"
      value={chosen}
      onchange={(event) => choose(event.currentTarget.value)}
    >
      <option value="return">not moved</option>
      <option value="carry">moved with it</option>
      {#if surface.reflects}<option value="reflect">follows the reflected axis</option>{/if}
      {#each lens.surfaces.slice(index, -1) as one, i (one.id)}
        {#if i > 0}<option value="to {one.id}">moved with it up to {surfaceTitle(lens, index + i)}</option>{/if}
      {/each}
    </select>
  </label>
  {#if !surface.behind && !behind && surface.after}
    <Button small onclick={() => (behind = true)}>+ turn the axis after it</Button>
  {/if}
</p>
{#if surface.after && (behind || surface.behind)}
  <Numbers specs={BEHIND_SPECS} address={(id) => `${at}.behind.${id}`} of="the axis after {title}" testid="behind" />
{/if}
<p class="note">Shifted along x, y, z first, then tilted about x, about its new y, about its new z; right-handed.</p>

<style>
  p {
    display: flex;
    gap: 10px;
    align-items: center;
    margin: 6px 0;
  }

  span,
  .note {
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
