<script lang="ts">
  import PanelFrame from '$lib/components/PanelFrame.svelte';
  import { isSolid, type SearchOptions, type SearchWay } from '@ulvex/core';
  import { SvelteSet } from 'svelte/reactivity';
  import { glassShortlist } from '@ulvex/core/improve';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant } from '$lib/format.ts';
  import { SearchRun } from './search-run.svelte.ts';
  import type { GlassChoice } from './glass-choice.svelte.ts';
  import MiniSection from '$lib/drawing/MiniSection.svelte';
  import Shortlist from './Shortlist.svelte';

  let { run, glass }: { run: SearchRun; glass: GlassChoice } = $props();
  const desk = useDesk();
  const WAYS: readonly (readonly [SearchWay, string, string])[] = [
    ['hop', 'random steps', 'All free numbers moved at random, then polished'],
    ['deform', 'deformed goals', 'Polished with other weights and another aperture, then with the original goals'],
    ['cross', 'crossing', 'The difference of two lenses of the gallery added to a third, then polished'],
  ];
  let byGlass = $state(true);
  const ways = new SvelteSet<SearchWay>(WAYS.map(([way]) => way));
  let starts = $state(0);
  let seed = $state(1);
  const wanted = $derived(run.project?.requirements.length ?? 0);
  const surfaces = $derived(
    (desk.lens?.surfaces ?? []).flatMap(({ id, after, reflects }) =>
      after && !reflects && isSolid(desk.base, after) ? [id] : [],
    ),
  );

  $effect(() => {
    void desk.projectId;
    void run.recall();
  });

  function begin() {
    const options: SearchOptions = {
      seed,
      starts,
      ways: [...ways],
      ...(byGlass &&
        desk.lens &&
        surfaces.length > 0 && {
          glass: { lens: desk.lens.id, surfaces, shortlist: glassShortlist(glass.rules) },
        }),
    };
    run.start(options);
  }

  function time(seconds: number): string {
    if (seconds < 90) return `${seconds.toFixed(0)} s`;
    return seconds < 5400 ? `${(seconds / 60).toFixed(1)} min` : `${(seconds / 3600).toFixed(1)} h`;
  }
  const label = (id: string) => id.replace(/^g/, '');
</script>

<PanelFrame title="Search" parted data-testid="search" data-running={run.active} data-found={run.gallery.length}>
  {#snippet tools()}
    {#if run.active}
      <Button strong data-testid="search-stop" onclick={() => run.stop()}>stop</Button>
    {:else}
      <Button strong data-testid="search-begin" onclick={begin}
        >{run.gallery.length > 0 ? 'new search' : 'search'}</Button
      >
      {#if run.gallery.length > 0}
        <Button data-testid="search-on" onclick={() => run.goOn()}>go on</Button>
        <Button data-testid="search-throw" onclick={() => run.throwAway()}>discard</Button>
      {/if}
    {/if}
    {#if run.trials > 0}
      <span class="muted"
        >{run.trials} trials · {run.evaluations} evaluations · {time(run.seconds)}{run.active &&
        run.seconds - run.gained > 60
          ? ` · no gain for ${time(run.seconds - run.gained)}`
          : ''}</span
      >
    {/if}
  {/snippet}
  {#if !run.active}
    <div class="choices">
      <label><input type="checkbox" bind:checked={byGlass} data-testid="search-glass" /> exchange glasses</label>
      <label title="In addition to the current lens: points spread over the bounds">
        <select bind:value={starts} data-testid="search-starts"
          ><option value={0}>from this lens</option><option value={12}>from 12 further starts</option><option value={48}
            >from 48 further starts</option
          ></select
        ></label
      >
      <label title="The same seed gives the same run">seed <input type="number" min="1" bind:value={seed} /></label>
      <span class="ways"
        >by {#each WAYS as [way, words, meaning] (way)}
          <label title={meaning}
            ><input
              type="checkbox"
              checked={ways.has(way)}
              disabled={ways.size === 1 && ways.has(way)}
              data-testid="search-way-{way}"
              onchange={() => (ways.has(way) ? ways.delete(way) : ways.add(way))}
            />
            {words}</label
          >
        {/each}</span
      >
      {#if byGlass}<Shortlist choice={glass} panel="search" />{/if}
    </div>
  {/if}
  {#if run.reason}<p class="bad" role="alert">✕ {run.reason}</p>{/if}
  {#if run.foreign}<p class="muted">
      This search belongs to another project. Open that project to keep its results, or stop it.
    </p>{/if}
  {#if run.gallery.length === 0 && !run.reason}
    <p class="muted">
      {run.active
        ? 'Looking…'
        : 'Moves from minimum to minimum and polishes each, until you stop it. The best distinct lenses stay in a ' +
          'gallery, even after the page is closed.'}
    </p>
  {/if}
  <ul>
    {#each run.gallery as candidate (SearchRun.keyOf(candidate))}
      {@const key = SearchRun.keyOf(candidate)}
      {@const section = run.sections[key]}
      <li>
        <div class="picture">
          {#if section}<MiniSection {section} />{/if}
        </div>
        <span><b>{significant(candidate.merit, 4)}</b> <small>{candidate.by}</small></span>
        <small class="glasses">{candidate.glasses.map(label).join(' ')}</small>
        {#if wanted > 0 && key in run.met}
          <small class:good={run.met[key] === wanted} title="Requirements it meets, as designed"
            >{run.met[key]} of {wanted} kept</small
          >
        {/if}
        <Button
          data-testid="candidate-beside"
          disabled={run.foreign}
          title="Use it as the grey reference"
          onclick={() => run.layBeside(candidate)}>beside</Button
        >
        <Button data-testid="candidate-keep" disabled={run.foreign} onclick={() => run.keep(candidate)}>keep</Button>
      </li>
    {/each}
  </ul>
</PanelFrame>

<style>
  .choices {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: baseline;
    margin: 0;
  }

  .ways {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 10px;
  }

  small {
    color: var(--muted);
    font-size: var(--size-small);
  }

  small.good {
    color: var(--good);
  }

  input[type='number'] {
    width: 64px;
    padding: 0 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }

  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 8px;
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 1px 6px;
    padding: 4px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  li:first-child {
    border-color: var(--accent);
  }

  .picture {
    grid-column: 1 / -1;
    height: 70px;
  }

  .glasses {
    grid-column: 1 / -1;
    line-height: 1.2;
  }

  li > small {
    overflow-wrap: anywhere;
  }

  li :global(button) {
    grid-column: 2;
    padding: 0 6px;
  }

  li :global(button:first-of-type) {
    grid-row: 2;
  }

  li :global(button:last-of-type) {
    grid-row: 3;
  }
</style>
