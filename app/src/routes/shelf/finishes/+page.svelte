<script lang="ts">
  import { addFinish, BASIC_FINISHES, OPTICS_KINDS, SHELF_FINISHES, takeInFinish, type Finish } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { finishSwatch } from '$lib/drawing/swatch.ts';
  import FinishCurves from '$lib/shelf/FinishCurves.svelte';
  import FinishSheet from '$lib/shelf/FinishSheet.svelte';
  import ShelfTabs from '$lib/shelf/ShelfTabs.svelte';
  import { shelfStyle } from '$lib/shelf/shelf-style.ts';
  import { page } from '$app/state';

  const desk = useDesk();
  let text = $state('');
  let picked = $state<string | null>(page.url.searchParams.get('finish'));
  const own = $derived(desk.shown.finishes ?? []);
  const style = $derived(shelfStyle());
  const groups = $derived(
    [
      { title: 'Of the project', list: own },
      {
        title: 'Shelf',
        list: [...SHELF_FINISHES, ...BASIC_FINISHES].filter(({ id }) => !own.some((one) => one.id === id)),
      },
    ].map(({ title, list }) => ({ title, list: list.filter(fits) })),
  );
  const all = $derived(groups.flatMap(({ list }) => list));
  const chosen = $derived(
    [...own, ...SHELF_FINISHES, ...BASIC_FINISHES].find(({ id }) => id === picked) ?? own[0] ?? SHELF_FINISHES[0],
  );
  const editable = $derived(own.some(({ id }) => id === chosen.id));

  function fits({ name, optics }: Finish): boolean {
    const words = text.trim().toLowerCase().split(/\s+/);
    const whole = `${name} ${OPTICS_KINDS.of(optics.kind).title}`.toLowerCase();
    return words.every((word) => whole.includes(word));
  }

  function add(like: Omit<Finish, 'id'>, word?: string) {
    const { change, finish } = addFinish(desk.project, like, word);
    desk.commit(change.edits, change.label);
    [text, picked] = ['', finish.id];
  }

  const fresh = () => add({ name: 'New coating', optics: OPTICS_KINDS.of('coating').first }, 'coating');

  function walk(event: KeyboardEvent) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const next = all[all.findIndex(({ id }) => id === chosen.id) + step];
    if (step === 0 || !next) return;
    event.preventDefault();
    picked = next.id;
    document.querySelector<HTMLElement>(`[data-finish=${next.id}]`)?.focus();
  }
</script>

<div class="room">
  <section class="list" aria-label="Finishes">
    <ShelfTabs />
    <input
      type="search"
      aria-label="Search finishes"
      placeholder="name or kind"
      data-testid="finish-search"
      bind:value={text}
    />
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <div class="scroll" onkeydown={walk} data-testid="finish-list">
      {#each groups as { title, list } (title)}
        <h2>{title}</h2>
        <ul>
          {#each list as { id, name, optics } (id)}
            <li>
              <button aria-current={id === chosen.id} data-finish={id} onclick={() => (picked = id)}>
                <i style:background={finishSwatch(id)}></i>
                <span>{name}<small>{OPTICS_KINDS.of(optics.kind).title.toLowerCase()}</small></span>
              </button>
            </li>
          {:else}<li class="none">
              {text ? 'None of this name.' : 'None yet: add one, or take one of the shelf.'}
            </li>{/each}
        </ul>
      {/each}
    </div>
    <p><Button onclick={fresh} data-testid="finish-new">New coating</Button></p>
  </section>
  {#key chosen.id}
    <FinishSheet
      finish={chosen}
      {editable}
      oncopy={() => {
        const { id, ...like } = chosen;
        if (editable || BASIC_FINISHES.includes(chosen)) add(like, id);
        else {
          desk.commit(takeInFinish(desk.project, chosen), `Take in ${chosen.name}`);
          picked = id;
        }
      }}
    />
  {/key}
  <FinishCurves finish={chosen} {style} />
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 250px minmax(330px, 0.8fr) minmax(420px, 1fr);
    height: 100%;
  }

  .list {
    display: flex;
    flex-direction: column;
    gap: 6px;
    min-height: 0;
    padding: 12px 14px;
    border-right: 1px solid var(--line);
  }

  input {
    min-width: 0;
    padding: 3px 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  .scroll {
    flex: 1;
    min-height: 0;
    overflow: auto;
  }

  h2 {
    margin: 6px 0 2px;
    color: var(--muted);
    font-size: var(--size-small);
    font-weight: 500;
  }

  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li button {
    display: grid;
    grid-template-columns: 12px 1fr;
    gap: 8px;
    align-items: center;
    width: 100%;
    padding: 3px 6px;
    border: 0;
    border-bottom: 1px solid var(--line);
    background: none;
    text-align: left;
  }

  li button:hover {
    background: var(--card);
  }

  li button[aria-current='true'] {
    background: var(--accent-ground);
    box-shadow: inset 3px 0 var(--accent);
  }

  i {
    width: 10px;
    height: 20px;
    border: 1px solid var(--line);
  }

  small {
    display: block;
    color: var(--muted);
    font-size: 11px;
    line-height: 1.2;
  }

  .none {
    padding: 4px 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  p {
    margin: 0;
  }
</style>
