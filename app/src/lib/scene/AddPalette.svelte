<script lang="ts">
  import { BODIES, type Project } from '@ulvex/core';
  import { tick } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import Silhouette from './Silhouette.svelte';

  interface Props {
    project: Project;
    /** Called with a word such as `body:box`, `lens:tide`, `source`. */
    onadd: (word: string) => void;
  }
  let { project, onadd }: Props = $props();
  let open = $state(false);
  let wanted = $state('');
  let field = $state<HTMLInputElement>();
  let place = $state<HTMLElement>();

  interface Item {
    readonly word: string;
    readonly title: string;
    readonly kind: string;
  }
  const items = $derived<readonly Item[]>([
    { word: 'source', title: 'source', kind: 'source' },
    { word: 'detector', title: 'detector', kind: 'detector' },
    ...project.lenses.map(({ id, name }) => ({ word: `lens:${id}`, title: `lens ${name}`, kind: 'lens' })),
    ...BODIES.map(({ kind, title }) => ({ word: `body:${kind}`, title: title.toLowerCase(), kind })),
    { word: 'mesh', title: 'mesh from a file…', kind: 'mesh' },
    { word: 'group', title: 'group', kind: 'group' },
  ]);
  const found = $derived(items.filter(({ title }) => title.includes(wanted.trim().toLowerCase())));

  async function show() {
    open = !open;
    wanted = '';
    await tick();
    field?.focus();
  }

  /** Puts the palette above everything, below its button. */
  function raise(palette: HTMLElement) {
    const { left, bottom } = place!.getBoundingClientRect();
    palette.style.left = `${left}px`;
    palette.style.top = `${bottom + 4}px`;
    palette.showPopover();
  }

  function add({ word }: Item) {
    open = false;
    onadd(word);
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'Escape') {
      open = false;
      event.stopPropagation();
    } else if (event.key === 'Enter' && event.target === field && found.length > 0) {
      event.preventDefault();
      add(found[0]);
    } else if (event.key.startsWith('Arrow') && event.target !== field) {
      const all = [...(place?.querySelectorAll<HTMLElement>('[data-add]') ?? [])];
      const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -2, ArrowDown: 2 }[event.key] ?? 0;
      all[all.indexOf(event.target as HTMLElement) + way]?.focus();
      event.preventDefault();
    } else if (event.key === 'ArrowDown') {
      place?.querySelector<HTMLElement>('[data-add]')?.focus();
      event.preventDefault();
    }
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="place"
  bind:this={place}
  {onkeydown}
  onfocusout={(event) => {
    const next = event.relatedTarget;
    if (!(next instanceof Node) || !place?.contains(next)) open = false;
  }}
>
  <Button strong small aria-expanded={open} aria-haspopup="true" data-testid="scene-add" onclick={show}>Add…</Button>
  {#if open}
    <div class="palette" popover="manual" role="group" aria-label="What to add to the scene" {@attach raise}>
      <input
        type="search"
        bind:this={field}
        bind:value={wanted}
        placeholder="find: lens, tube, source…"
        aria-label="Find what to add"
        data-testid="scene-add-find"
      />
      <div class="items">
        {#each found as item (item.word)}
          <button data-add data-testid="add-{item.word.replace(':', '-')}" onclick={() => add(item)}>
            <Silhouette kind={item.kind} />{item.title}
          </button>
        {:else}
          <p>Nothing of that name.</p>
        {/each}
      </div>
    </div>
  {/if}
</div>

<style>
  .place {
    position: relative;
  }

  .palette {
    inset: auto;
    width: 340px;
    margin: 0;
    padding: 8px;
    border: 1px solid var(--ink);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
    box-shadow: 0 6px 18px rgb(0 0 0 / 18%);
  }

  input {
    width: 100%;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--paper);
    color: var(--ink);
  }

  .items {
    display: grid;
    grid-template-columns: 1fr 1fr;
    max-height: 420px;
    margin-top: 6px;
    overflow: auto;
  }

  button[data-add] {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 4px 6px;
    border: 0;
    background: none;
    text-align: left;
  }

  button[data-add]:hover,
  button[data-add]:focus {
    background: var(--accent-ground);
  }

  p {
    margin: 4px 6px;
    color: var(--muted);
  }
</style>
