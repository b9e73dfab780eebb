<script lang="ts">
  import type { BoardTile } from '@ulvex/core';
  import { tick } from 'svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { addTile, boardOf, moveTile, nextSize, removeTile, setTile } from '$lib/study/board-edits.ts';
  import { TILES } from '$lib/tiles/registry.ts';

  const desk = useDesk();
  const board = $derived(boardOf(desk.project));
  let dragged = $state<string | null>(null);
  let place: HTMLElement;

  const kindOf = (tile: BoardTile) => TILES.find((entry) => entry.kind === tile.kind);
  const titleOf = (tile: BoardTile) => kindOf(tile)?.title ?? tile.kind;

  function resize(tile: BoardTile, direction: 'columns' | 'rows', way: 1 | -1) {
    const size = nextSize(direction, tile[direction], way);
    if (size !== tile[direction])
      desk.commit(setTile(desk.project, tile.id, { [direction]: size }), `Resize ${titleOf(tile)}`);
  }

  /** On the grip of a tile: arrows move it, Shift and arrows resize it, Delete takes it off. */
  async function onkeydown(event: KeyboardEvent, tile: BoardTile, index: number) {
    const sign = event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : 1;
    const arrow = event.key.startsWith('Arrow');
    if (event.altKey || event.ctrlKey || event.metaKey || !(arrow || event.key === 'Delete')) return;
    event.preventDefault();
    if (event.key === 'Delete')
      desk.commit(removeTile(desk.project, tile.id), `Take ${titleOf(tile)} off the board`);
    else if (!event.shiftKey)
      desk.commit(moveTile(desk.project, tile.id, index + sign), `Move ${titleOf(tile)}`);
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') resize(tile, 'columns', sign);
    else resize(tile, 'rows', sign);
    await tick();
    place.querySelector<HTMLElement>(`[data-grip="${tile.id}"]`)?.focus();
  }

  function drop(target: number) {
    if (dragged) desk.commit(moveTile(desk.project, dragged, target), 'Move a tile');
    dragged = null;
  }
</script>

<div class="room">
  <aside aria-label="Shelf of tiles">
    <h2>Shelf</h2>
    {#each TILES as { kind, title, question, columns, rows } (kind)}
      <button
        data-testid="add-{kind}"
        onclick={() =>
          desk.commit(addTile(desk.project, { kind, columns, rows }), `Put ${title} on the board`)}
      >
        <span>{question}</span><strong>{title}</strong>
      </button>
    {/each}
    <p>On a tile’s grip ⠿: arrows move it, Shift and arrows resize it, Delete takes it off.</p>
  </aside>
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
          title="Drag to move; arrows move, Shift and arrows resize, Delete takes off"
          ondragstart={(event) => {
            dragged = tile.id;
            event.dataTransfer?.setData('text/plain', tile.id);
          }}
          ondragend={() => (dragged = null)}
          onkeydown={(event) => onkeydown(event, tile, index)}>⠿</button
        >
        <div class="sizes">
          <button
            aria-label="Narrower"
            title="Narrower"
            tabindex="-1"
            onclick={() => resize(tile, 'columns', -1)}>◂</button
          >
          <button aria-label="Wider" title="Wider" tabindex="-1" onclick={() => resize(tile, 'columns', 1)}
            >▸</button
          >
          <button aria-label="Lower" title="Lower" tabindex="-1" onclick={() => resize(tile, 'rows', -1)}
            >▴</button
          >
          <button aria-label="Higher" title="Higher" tabindex="-1" onclick={() => resize(tile, 'rows', 1)}
            >▾</button
          >
          <button
            aria-label="Take off"
            title="Take off the board"
            tabindex="-1"
            onclick={() =>
              desk.commit(removeTile(desk.project, tile.id), `Take ${titleOf(tile)} off the board`)}>✕</button
          >
        </div>
        {#if kind}
          <kind.component
            settings={tile.settings}
            onsettings={(settings) =>
              desk.commit(setTile(desk.project, tile.id, { settings }), `Choices of ${kind.title}`)}
          />
        {:else}
          <p class="unknown">This version of Ulvex has no tile “{tile.kind}”. It stays in the project.</p>
        {/if}
      </div>
    {:else}
      <p class="unknown">The board is empty: take a tile from the shelf at the left.</p>
    {/each}
  </div>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: 164px minmax(0, 1fr);
    height: 100%;
  }

  aside {
    display: flex;
    flex-direction: column;
    gap: 6px;
    padding: 10px 10px;
    overflow-y: auto;
    border-right: 1px solid var(--line);
  }

  h2 {
    align-self: flex-start;
    padding-bottom: 2px;
    border-bottom: 2px solid var(--accent);
  }

  aside button {
    display: flex;
    flex-direction: column;
    padding: 5px 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    text-align: left;
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
    grid-template-columns: repeat(12, minmax(0, 1fr));
    grid-auto-rows: minmax(150px, calc((100vh - var(--header) - var(--strip) - 46px) / 4));
    gap: 8px;
    align-content: start;
    padding: 10px;
    overflow-y: auto;
  }

  .place {
    position: relative;
    min-width: 0;
    min-height: 0;
  }

  .place > :global(.tile) {
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

  .unknown {
    grid-column: 1 / -1;
    padding: 20px;
    color: var(--muted);
  }
</style>
