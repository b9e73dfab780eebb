<script lang="ts">
  import { findMeasure, type Board, type Requirement } from '@ulvex/core';
  import { goto } from '$app/navigation';
  import { useDesk } from '$lib/desk/context.ts';
  import { limitText, readLimit, requirementTitle, setLimit } from '$lib/desk/requirement-edits.ts';
  import { boardOf, boardsOf } from '$lib/study/board-edits.ts';
  import type { TileKind } from '$lib/tiles/registry.ts';
  import { ui } from '$lib/desk/ui.svelte.ts';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';

  interface Props {
    requirement: Requirement;
    /** Where its chip stands. */
    at: DOMRect;
    onclose: () => void;
  }
  let { requirement, at, onclose }: Props = $props();
  const desk = useDesk();
  const WIDTH = 250;
  const measure = $derived(findMeasure(requirement.measure));
  const unit = $derived(measure?.unit ? ` ${measure.unit}` : '');
  /** What shows where the number comes from; tiles are loaded with the first card. */
  let tile = $state.raw<TileKind | null>(null);
  $effect(() => {
    const { measure: id } = requirement;
    void import('$lib/tiles/registry.ts').then(({ tileOf }) => (tile = tileOf(id)));
  });
  let card: HTMLElement;

  function limit(key: 'min' | 'max', value: number | undefined) {
    const set = setLimit(requirement, key, value);
    if (set.ok) desk.commit(set.value.edits, set.value.label);
    else desk.notice = { tone: 'refused', title: set.reason };
  }

  /** Goes to the tile that shows what this number is made of: on a board if it is on one, else to the Layout. */
  async function jump() {
    if (!tile) return;
    const { kind } = tile; // the card is gone once it is closed
    onclose();
    const has = (board: Board) => board.tiles.some((entry) => entry.kind === kind);
    const holder = [boardOf(desk.project, ui.board), ...boardsOf(desk.project)].find(has);
    if (holder) ui.board = holder.id;
    await goto(holder ? '/study' : '/layout');
    document.querySelector(`[data-kind="${kind}"]`)?.scrollIntoView({ block: 'nearest' });
  }

  $effect(() => card.querySelector('input')?.focus());
</script>

<svelte:window
  onpointerdown={(event) => !card.contains(event.target as Node) && onclose()}
  onkeydown={(event) => event.key === 'Escape' && onclose()}
/>
<div
  bind:this={card}
  class="card"
  role="dialog"
  aria-label="Limits of {requirementTitle(requirement)}"
  data-testid="requirement-card"
  style="left: {Math.min(at.left, window.innerWidth - WIDTH - 8)}px; top: {at.bottom + 4}px; width: {WIDTH}px"
>
  <strong data-explain="measure:{requirement.measure}">{requirementTitle(requirement)}{unit}</strong>
  <div class="limits">
    {#each [['min', 'at least'], ['max', 'at most']] as const as [key, word] (key)}
      <span>{word}</span>
      <Cell
        label="{requirementTitle(requirement)} {word}"
        testid="limit-{key}"
        text={limitText(requirement[key])}
        read={(text) => readLimit(text, requirement[key])}
        oncommit={(value) => value !== requirement[key] && limit(key, value)}
      />
    {/each}
  </div>
  <div class="actions">
    {#if tile}<Button onclick={jump} data-testid="jump">see {tile.title}</Button>{/if}
    <Button
      onclick={() => {
        const [{ id }, title] = [requirement, requirementTitle(requirement)];
        onclose();
        desk.commit([{ kind: 'remove', list: 'requirements', id }], `Remove requirement ${title}`);
      }}>remove</Button
    >
  </div>
</div>

<style>
  .card {
    position: fixed;
    z-index: 25;
    padding: 8px 12px 10px;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    box-shadow: var(--shadow);
  }

  .limits {
    display: grid;
    grid-template-columns: 70px 1fr;
    gap: 2px 8px;
    align-items: center;
    padding: 6px 0;
    color: var(--muted);
  }

  .actions {
    display: flex;
    gap: 8px;
    justify-content: space-between;
  }
</style>
