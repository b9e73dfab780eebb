<script lang="ts">
  import type { Diagnosis } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain, significant } from '$lib/format.ts';
  import { numberTitle } from '$lib/desk/number-state.ts';

  interface Props {
    diagnosis: Diagnosis;
    /** Why the solver ended, in words. */
    reason: string;
    /** Whether it was still gaining when it ended. */
    unfinished: boolean;
  }
  let { diagnosis, reason, unfinished }: Props = $props();
  const desk = useDesk();
  /** Which state a part is of, if the project has several. */
  const inState = (id: string | undefined) =>
    !desk.base.states?.length
      ? ''
      : id === undefined || id === 'designed'
        ? ', as designed'
        : `, ${desk.base.states.find((one) => one.id === id)?.name ?? id}`;
  const title = (address: string) => numberTitle(desk.base, address);
  const total = $derived(diagnosis.merit ** 2 || 1);
  const large = $derived(diagnosis.contributions.filter(({ square }) => square > 0.01 * total).slice(0, 4));
  const unmoved = $derived(large.filter(({ movable }) => movable < 0.01));

  /** What remains to be said, so that nothing above it is contradicted. */
  const verdict = $derived.by(() => {
    if (unfinished) return 'It was still gaining: “go on” continues from here.';
    const { conflicts, dependent, atBounds, limits } = diagnosis;
    if (unmoved.length + conflicts.length + dependent.length + atBounds.length + limits.length > 0) return null;
    return large.some(({ movable }) => movable >= 0.01)
      ? 'This is the nearest minimum: what single parts could still lose, others would gain.'
      : 'Nothing limits it: this is the nearest minimum, and this form can do no better.';
  });

  async function free(address: string) {
    const done = await desk.changeState([address], { kind: 'free' }, `Make ${title(address)} free`);
    if (!done.ok) desk.notice = { tone: 'refused', title: done.reason };
  }
</script>

<section aria-label="Why did it stop?" data-testid="why">
  <h3>Why did it stop?</h3>
  <p>{reason}</p>
  <ul>
    {#each large as one (`${one.goal} ${one.title} ${one.state}`)}
      <li>
        <b>{one.title}{inState(one.state)}</b> makes {((100 * one.square) / total).toFixed(0)} % of it.
        {#if one.movable < 0.01}No free number moves it any further.
        {:else if one.movable < 0.1}On its own it could fall by {(100 * one.movable).toFixed(1)} % more.
        {:else}On its own it could fall by {(100 * one.movable).toFixed(0)} % more: others hold it.{/if}
      </li>
    {/each}
    {#each diagnosis.conflicts as { goals } (goals.join())}
      <li><b>{goals[0]}</b> and <b>{goals[1]}</b> pull against each other.</li>
    {/each}
    {#each diagnosis.dependent as { numbers }, k (k)}
      <li>
        {numbers.map(({ address }) => title(address)).join(' and ')} have nearly the same effect: one of them is enough.
      </li>
    {/each}
    {#each diagnosis.atBounds as { address, value, side } (address)}
      <li>
        {title(address)} stands on its {side} bound, {plain(value, 5)}, and wants to go beyond it.
      </li>
    {/each}
    {#if diagnosis.limits.length > 0}
      <li>
        Making-limits that are reached: {diagnosis.limits.slice(0, 6).join(', ')}{diagnosis.limits.length > 6
          ? ` and ${diagnosis.limits.length - 6} more`
          : ''}.
      </li>
    {/if}
    {#if verdict}<li data-testid="why-verdict">{verdict}</li>{/if}
  </ul>
  {#if diagnosis.suggestions.length > 0}
    <h3>Tried in short runs</h3>
    <ul data-testid="suggestions">
      {#each diagnosis.suggestions as { address, gain } (address)}
        <li>
          freeing {title(address)}: merit −{significant(-100 * gain, 2)} %
          <Button small disabled={desk.base.parameters?.[address] !== undefined} onclick={() => free(address)}
            >make it free</Button
          >
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  h3 {
    margin: 6px 0 2px;
    font-size: var(--size);
  }

  p {
    margin: 0;
  }

  ul {
    margin: 2px 0 0;
    padding-left: 16px;
  }

  li {
    margin-bottom: 2px;
  }
</style>
