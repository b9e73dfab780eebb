<script lang="ts">
  import { printBoard } from '$lib/study/print-board.ts';
  import type { BoardTile } from '@ulvex/core';
  import { tick } from 'svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Boards from '$lib/study/Boards.svelte';
  import TilePlace from '$lib/study/TilePlace.svelte';
  import { addTile, boardOf, moveTile, nextSize, removeTile, setTile } from '$lib/study/board-edits.ts';
  import { TILES, TOPICS, type TileKind } from '$lib/tiles/registry.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';

  const desk = useDesk();
  const board = $derived(boardOf(desk.project, ui.board));
  let wanted = $state('');
  let dragged = $state<string | null>(null);
  let place: HTMLElement;

  const kindOf = (tile: BoardTile) => TILES.find((entry) => entry.kind === tile.kind);
  /** Tiles of the shelf under their headings: those whose title or question holds what was typed. */
  const shelf = $derived.by(() => {
    const words = wanted.trim().toLowerCase();
    const fits = ({ title, question, of }: TileKind) =>
      (of === 'any' || (of === 'scene' ? desk.scene : desk.lens)) &&
      `${title} ${question}`.toLowerCase().includes(words);
    // What the board is about comes first.
    const light = board.tiles.some((tile) => kindOf(tile)?.of === 'scene');
    const first = (topic: string) =>
      TILES.some((tile) => tile.topic === topic && tile.of === 'scene') === light ? 0 : 1;
    const topics = Object.entries(TOPICS).sort(([a], [b]) => first(a) - first(b));
    return topics.flatMap(([topic, heading]) => {
      const tiles = TILES.filter((tile) => tile.topic === topic && fits(tile));
      return tiles.length > 0 ? [{ topic, heading, tiles }] : [];
    });
  });
  const titleOf = (tile: BoardTile) => tile.name ?? kindOf(tile)?.title ?? tile.kind;
  /** The states that a tile shows side by side: one, or the design and all of them. */
  function statesOf({ state }: BoardTile): readonly (string | null)[] {
    const ids = (desk.base.states ?? []).map(({ id }) => id);
    if (state === 'every') return ['designed', ...ids];
    return [state !== undefined && (state === 'designed' || ids.includes(state)) ? state : null];
  }
  /** The tile whose name is being typed. */
  let naming = $state<string | null>(null);

  function rename(tile: BoardTile, text: string) {
    const name = text.trim();
    const wanted = name === '' || name === kindOf(tile)?.title ? undefined : name;
    if (wanted !== tile.name)
      desk.commit(setTile(desk.project, board, tile.id, { name: wanted }), `Name ${titleOf(tile)}`);
  }

  function resize(tile: BoardTile, direction: 'columns' | 'rows', way: 1 | -1) {
    const size = nextSize(direction, tile[direction], way);
    if (size !== tile[direction])
      desk.commit(setTile(desk.project, board, tile.id, { [direction]: size }), `Resize ${titleOf(tile)}`);
  }

  /** On the grip of a tile: arrows move it, Shift and arrows resize it, F2 names it, Delete takes it off. */
  async function onkeydown(event: KeyboardEvent, tile: BoardTile, index: number) {
    const sign = event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : 1;
    const arrow = event.key.startsWith('Arrow');
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    if (!arrow && event.key !== 'Delete' && event.key !== 'F2') return;
    event.preventDefault();
    if (event.key === 'F2') {
      naming = tile.id;
      return;
    }
    if (event.key === 'Delete')
      desk.commit(removeTile(desk.project, board, tile.id), `Take ${titleOf(tile)} off the board`);
    else if (!event.shiftKey)
      desk.commit(moveTile(desk.project, board, tile.id, index + sign), `Move ${titleOf(tile)}`);
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') resize(tile, 'columns', sign);
    else resize(tile, 'rows', sign);
    await tick();
    place.querySelector<HTMLElement>(`[data-grip="${tile.id}"]`)?.focus();
  }

  function drop(target: number) {
    if (dragged) desk.commit(moveTile(desk.project, board, dragged, target), 'Move a tile');
    dragged = null;
  }
</script>

<div class="room">
  <aside aria-label="Shelf of tiles">
    <h2>Shelf</h2>
    <input
      type="search"
      placeholder="find a tile"
      aria-label="Find a tile"
      data-testid="find-tile"
      bind:value={wanted}
    />
    {#each shelf as { topic, heading, tiles } (topic)}
      <h3>{heading}</h3>
      {#each tiles as { kind, title, question, columns, rows } (kind)}
        <button
          data-testid="add-{kind}"
          title={question}
          onclick={() =>
            desk.commit(addTile(desk.project, board, { kind, columns, rows }), `Put ${title} on the board`)}
        >
          <strong>{title}</strong><span>{question}</span>
        </button>
      {/each}
    {:else}
      <p>No tile of that name.</p>
    {/each}
    <p>On a tile’s grip ⠿: arrows move it, Shift and arrows resize it, F2 names it, Delete takes it off.</p>
  </aside>
  <div class="side">
    <Boards {board} onprint={() => place && void printBoard(place)} />
    <p class="heading">
      <strong>{desk.project.name} · {board.name}</strong>
      <span>{new Date().toISOString().slice(0, 10)} · Ulvex</span>
    </p>
    <div class="board" bind:this={place} data-testid="board">
      {#each board.tiles as tile, index (tile.id)}
        {@const kind = kindOf(tile)}
        <div
          class="place"
          class:dragged={dragged === tile.id}
          style:grid-column="span {tile.columns}"
          style:grid-row="span {tile.rows}"
          role="group"
          aria-label={titleOf(tile)}
          data-testid="tile-{tile.id}"
          data-kind={tile.kind}
          ondragover={(event) => dragged && event.preventDefault()}
          ondrop={(event) => {
            if (!dragged) return;
            event.preventDefault();
            event.stopPropagation();
            drop(index);
          }}
        >
          <button
            class="grip"
            draggable="true"
            data-grip={tile.id}
            aria-label="{titleOf(tile)}: move, resize or take off"
            title="Drag to move; arrows move, Shift and arrows resize, F2 names, Delete takes off"
            ondragstart={(event) => {
              dragged = tile.id;
              event.dataTransfer?.setData('text/plain', tile.id);
            }}
            ondragend={() => (dragged = null)}
            onkeydown={(event) => onkeydown(event, tile, index)}>⠿</button
          >
          <div class="sizes">
            <button aria-label="Narrower" title="Narrower" tabindex="-1" onclick={() => resize(tile, 'columns', -1)}
              >◂</button
            >
            <button aria-label="Wider" title="Wider" tabindex="-1" onclick={() => resize(tile, 'columns', 1)}>▸</button>
            <button aria-label="Lower" title="Lower" tabindex="-1" onclick={() => resize(tile, 'rows', -1)}>▴</button>
            <button aria-label="Higher" title="Higher" tabindex="-1" onclick={() => resize(tile, 'rows', 1)}>▾</button>
            <button
              aria-label="Take off"
              title="Take off the board"
              tabindex="-1"
              onclick={() =>
                desk.commit(removeTile(desk.project, board, tile.id), `Take ${titleOf(tile)} off the board`)}>✕</button
            >
          </div>
          {#if kind}
            {#each statesOf(tile) as state (state)}
              <TilePlace
                name={tile.name}
                bind:naming={() => naming === tile.id, (on) => (naming = on ? tile.id : null)}
                onrename={(name) => rename(tile, name)}
                {state}
                chosen={tile.state ?? null}
                onstate={(next) =>
                  desk.commit(
                    setTile(desk.base, board, tile.id, { state: next ?? undefined }),
                    `State that ${titleOf(tile)} shows`,
                  )}
              >
                <kind.component
                  kind={kind.kind}
                  settings={tile.settings}
                  onsettings={(settings) =>
                    desk.commit(setTile(desk.project, board, tile.id, { settings }), `Choices of ${kind.title}`)}
                />
              </TilePlace>
            {/each}
          {:else}
            <p class="unknown">This version of Ulvex has no tile “{tile.kind}”. It stays in the project.</p>
          {/if}
        </div>
      {:else}
        <p class="unknown">The board is empty: add a tile from the shelf at the left.</p>
      {/each}
    </div>
  </div>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 196px minmax(0, 1fr);
    height: 100%;
  }

  aside {
    contain: strict;
    display: flex;
    flex-direction: column;
    gap: 4px;
    padding: 10px 10px;
    overflow-y: auto;
    border-right: 1px solid var(--line);
  }

  h2 {
    align-self: flex-start;
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  h3 {
    margin: 6px 0 0;
    color: var(--muted);
    font-size: var(--size-small);
    font-weight: 500;
  }

  input {
    width: 100%;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
  }

  .side {
    contain: strict;
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
  }

  aside button {
    display: flex;
    flex-shrink: 0;
    flex-direction: column;
    padding: 2px 8px 3px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    text-align: left;
  }

  aside button span {
    overflow: hidden;
    max-width: 100%;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  aside button span,
  aside p {
    color: var(--muted);
    font-size: var(--size-small);
  }

  aside button:hover {
    border-color: var(--accent);
  }

  .board {
    display: grid;
    flex: 1;
    grid-template-columns: repeat(12, minmax(0, 1fr));
    grid-auto-flow: row dense; /* tiles close up: a narrow one takes the hole that a wide one left */
    grid-auto-rows: minmax(150px, calc((100vh - var(--header) - var(--strip) - 78px) / 4));
    gap: 8px;
    align-content: start;
    padding: 10px;
    overflow-y: scroll;
    scrollbar-width: thin;
  }

  .place {
    position: relative;
    display: flex;
    gap: 6px;
    min-width: 0;
    min-height: 0;
  }

  .place > :global(.tile) {
    flex: 1;
  }

  .place > :global(.tile:first-of-type) {
    padding-left: 22px;
  }

  .dragged {
    opacity: 0.5;
  }

  .grip {
    position: absolute;
    z-index: 1;
    top: 6px;
    left: 3px;
    padding: 0 3px;
    border: 0;
    background: none;
    color: var(--muted);
    cursor: grab;
  }

  .sizes {
    position: absolute;
    z-index: 1;
    right: 4px;
    bottom: 3px;
    display: none;
    gap: 2px;
  }

  .place:hover .sizes,
  .place:focus-within .sizes {
    display: flex;
  }

  .sizes button {
    padding: 0 5px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    font-size: 10px;
  }

  .sizes button:hover {
    border-color: var(--accent);
    color: var(--accent);
  }

  .heading {
    display: none;
  }

  @media print {
    aside,
    .side > :global(nav),
    .grip,
    .sizes,
    .place :global(.tools),
    .place :global(button.icon) {
      display: none !important;
    }

    .room,
    .side {
      display: block;
      height: auto;
      contain: none;
    }

    .heading {
      display: flex;
      justify-content: space-between;
      padding: 0 0 8px;
    }

    .board {
      width: var(--print-width, auto);
      padding: 0;
      grid-auto-rows: var(--print-row, 160px);
      overflow: visible;
    }

    .place {
      break-inside: avoid;
    }

    .place > :global(.tile:first-of-type) {
      padding-left: 10px;
    }
  }

  .unknown {
    grid-column: 1 / -1;
    padding: 20px;
    color: var(--muted);
  }
</style>
