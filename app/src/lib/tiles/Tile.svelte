<script lang="ts">
  import SlidersHorizontal from '@lucide/svelte/icons/sliders-horizontal';
  import type { Snippet } from 'svelte';
  import { tick } from 'svelte';
  import Trouble from '$lib/components/Trouble.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { useTileState } from '$lib/desk/tile-state.ts';
  import { useTileName } from './tile-name.ts';
  import { provideTilePicture } from './tile-picture.ts';
  import { useTileSwitch } from './tile-switch.ts';

  interface Props {
    title: string;
    /** Choices, sampling and limits in one line. */
    about: string;
    children: Snippet;
    /** Controls at the right of the title. */
    tools?: Snippet;
    /** Further choices, shown on request. */
    choices?: Snippet;
    testid?: string;
    /** Revision of the project that what is shown belongs to. */
    carries?: number;
    /** Whether a newer or a better answer is on its way. */
    computing?: boolean;
  }
  let { title, about, children, tools, choices, testid, carries, computing = false }: Props = $props();
  let choosing = $state(false);
  const own = useTileName();
  const switcher = useTileSwitch();
  const desk = useDesk();
  const place = useTileState();
  const states = $derived(desk.base.states);
  /** The state that is seen here, where it could be another one. */
  const seen = $derived.by(() => {
    if (!states) return null;
    const id = place?.state ?? desk.state;
    return states.find((one) => one.id === id)?.name ?? 'as designed';
  });
  const shown = $derived(own?.name ?? title);
  provideTilePicture({
    get title() {
      return shown;
    },
    get about() {
      return about;
    },
    get state() {
      return seen;
    },
  });
  let field = $state<HTMLInputElement>();
  $effect(() => {
    if (own?.naming) void tick().then(() => field?.select());
  });

  function named(text: string) {
    if (!own?.naming) return;
    own.naming = false;
    own.rename(text);
  }
</script>

<section
  class="tile"
  class:computing
  aria-label={shown}
  aria-busy={computing}
  data-testid={testid}
  data-carries={carries}
>
  <header>
    {#if own?.naming}
      <input
        bind:this={field}
        value={shown}
        maxlength="60"
        aria-label="Name of the tile {title}"
        data-testid="tile-name"
        onblur={(event) => named(event.currentTarget.value)}
        onkeydown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') own.naming = false;
        }}
      />
    {:else if switcher}
      <select
        class="switch"
        aria-label="What is shown here"
        title="What is shown here"
        data-testid="second-tile"
        value={switcher.shown}
        onchange={(event) => switcher.choose(event.currentTarget.value)}
      >
        {#each switcher.choices as [kind, words] (kind)}<option value={kind}>{words}</option>{/each}
      </select>
    {:else}
      <h2
        title={own && `${shown === title ? '' : `${title}. `}Double click to name it`}
        ondblclick={() => own && (own.naming = true)}
      >
        {shown}
      </h2>
    {/if}
    {#if states && place}
      <select
        class="states"
        aria-label="State that {shown} shows"
        title="State: {seen}"
        data-testid="tile-state"
        value={place.chosen ?? ''}
        onchange={(event) => place.choose(event.currentTarget.value || null)}
      >
        <option value="">{place.chosen === null ? seen : 'the state at hand'}</option>
        <option value="designed">as designed</option>
        {#each states as { id, name } (id)}<option value={id}>{name}</option>{/each}
        <option value="every">{place.chosen === 'every' ? `${seen}, every state` : 'every state'}</option>
      </select>
    {:else if seen}<span class="states" title="State: {seen}">{seen}</span>{/if}
    <span class="tools">{@render tools?.()}</span>
    {#if choices}
      <button
        class="icon"
        aria-label="Choices of {title}"
        title="Choices"
        aria-expanded={choosing}
        onclick={() => (choosing = !choosing)}><SlidersHorizontal size={13} /></button
      >
    {/if}
  </header>
  <p class="about" title={about}>
    {#if place?.chosen === 'every'}<b class="seen">{seen}</b> ·
    {/if}{about}
  </p>
  {#if choosing && choices}<div class="choices">{@render choices()}</div>{/if}
  <div class="body">
    <svelte:boundary>
      {@render children()}
      {#snippet failed(error, reset)}<Trouble what="tile" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
</section>

<style>
  .tile {
    container-type: inline-size;
    contain: strict; /* its place gives it its size: what changes in it lays out nothing else */
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
    height: 100%;
    padding: 7px 10px 8px;
    border: 1px solid var(--line);
    background: var(--card);
  }

  /* A quiet mark: short waits show nothing. */
  .computing h2::after {
    content: ' ◌';
    color: var(--accent);
    animation: appear 0.3s 0.3s backwards;
  }

  @keyframes appear {
    from {
      opacity: 0;
    }
  }

  header {
    display: flex;
    align-items: baseline;
    gap: 8px;
    min-width: 0;
    padding-bottom: 2px;
  }

  .seen {
    color: var(--accent);
  }

  .states {
    flex-shrink: 9; /* in a narrow tile the tools stay whole */
    overflow: hidden;
    min-width: 18px;
    max-width: 130px;
    padding: 0;
    border: 0;
    background: none;
    color: var(--accent);
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .tools {
    display: flex;
    flex: 1 1 auto;
    gap: 8px;
    justify-content: flex-end;
    min-width: 0;
  }

  h2 {
    flex-shrink: 0;
    overflow: hidden;
    max-width: 60%;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  header input {
    min-width: 60px;
    padding: 0 4px;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    font-weight: 650;
  }

  .about {
    flex-shrink: 0;
    margin-bottom: 4px;
    display: -webkit-box;
    overflow: hidden;
    color: var(--muted);
    font-size: var(--size-small);
    line-height: 1.25;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
  }

  .icon {
    display: grid;
    flex-shrink: 0;
    align-self: center;
    place-items: center;
    padding: 2px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
  }

  .icon:hover,
  .icon[aria-expanded='true'] {
    border-color: var(--accent);
    color: var(--accent);
  }

  .switch {
    flex-shrink: 0;
    padding: 0 2px 0 0;
    border: 0;
    background: none;
    font-weight: 650;
  }

  /* Choices leave the picture at least half of the tile. */
  .choices {
    display: flex;
    flex-shrink: 0;
    flex-wrap: wrap;
    max-height: 42%;
    overflow-y: auto;
    scrollbar-width: thin;
    gap: 4px 14px;
    padding-bottom: 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .choices :global(select),
  .choices :global(input) {
    padding: 0 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
  }

  .body {
    flex: 1;
    min-height: 0;
  }
</style>
