<script lang="ts">
  import type { Board } from '@ulvex/core';
  import { tick } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import { addBoard, boardsOf, removeBoard, renameBoard } from './board-edits.ts';
  import { BOARD_TEMPLATES } from './templates.ts';

  interface Props {
    board: Board;
    onprint: () => void;
  }
  let { board, onprint }: Props = $props();
  const desk = useDesk();
  const boards = $derived(boardsOf(desk.project));
  let naming = $state(false);
  let field = $state<HTMLInputElement>();

  function add(choice: string) {
    const template = BOARD_TEMPLATES.find(({ id }) => id === choice);
    const from = template ?? (choice === 'copy' ? board : { id: 'empty', name: 'Board', question: '', tiles: [] });
    const { edits, id } = addBoard(desk.project, from);
    desk.commit(
      edits,
      `Add the board ${template?.name ?? (choice === 'copy' ? `copied from ${board.name}` : 'Board')}`,
    );
    ui.board = id;
  }

  async function rename() {
    naming = true;
    await tick();
    field?.select();
  }

  function named(name: string) {
    if (!naming) return;
    naming = false;
    desk.commit(renameBoard(desk.project, board.id, name), `Rename the board ${board.name}`);
  }

  function remove() {
    desk.commit(removeBoard(desk.project, board.id), `Take the board ${board.name} away`);
    ui.board = undefined;
  }
</script>

<nav aria-label="Boards">
  {#each boards as { id, name } (id)}
    {#if naming && id === board.id}
      <input
        bind:this={field}
        value={name}
        aria-label="Name of the board"
        data-testid="board-name"
        onblur={(event) => named(event.currentTarget.value)}
        onkeydown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') naming = false;
        }}
      />
    {:else}
      <button
        class="tab"
        aria-current={id === board.id ? 'true' : undefined}
        data-testid="board-{id}"
        title={id === board.id ? 'Double click to rename' : ''}
        onclick={() => (ui.board = id)}
        ondblclick={rename}>{name}</button
      >
    {/if}
  {/each}
  <select
    aria-label="Add a board"
    title="Add a board"
    data-testid="add-board"
    value=""
    onchange={(event) => {
      add(event.currentTarget.value);
      event.currentTarget.value = '';
    }}
  >
    <option value="" hidden>+ board</option>
    {#each BOARD_TEMPLATES.filter( ({ of }) => (of === 'scene' ? desk.scene : desk.lens) ) as { id, name, question } (id)}<option
        value={id}>{name}: {question}</option
      >{/each}
    <option value="copy">A copy of this one</option>
    <option value="empty">An empty one</option>
  </select>
  <span class="actions">
    <Button bare small data-testid="print-board" title="On pages, no tile cut; as a PDF, too" onclick={onprint}
      >print</Button
    >
    <Button bare small data-testid="rename-board" onclick={rename}>rename</Button>
    {#if boards.length > 1}<Button bare small data-testid="remove-board" onclick={remove}>delete</Button>{/if}
  </span>
</nav>

<style>
  nav {
    display: flex;
    gap: 4px;
    align-items: center;
    padding: 6px 10px 3px;
    overflow-x: auto;
    scrollbar-width: thin;
  }

  .tab,
  select,
  input {
    padding: 1px 9px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: var(--ink);
    font-size: var(--size-small);
    white-space: nowrap;
  }

  select {
    width: 84px;
  }

  .tab[aria-current] {
    border-color: var(--accent);
    background: var(--card);
    font-weight: 500;
  }

  .actions {
    display: flex;
    flex: 1;
    gap: 4px;
    justify-content: flex-end;
  }

  button:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
