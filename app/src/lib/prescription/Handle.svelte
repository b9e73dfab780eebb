<script lang="ts">
  import { failure, success } from '@ulvex/core';
  import { tick } from 'svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { walk } from '$lib/components/grid-walk.ts';

  interface Props {
    /** What is shown. */
    title: string;
    /** For those who do not see it: what the line is and what can be done. */
    label: string;
    /** The name that is stored, empty where the title is made up. */
    name: string;
    row: number;
    strong?: boolean;
    onfocus: () => void;
    /** Called with the new name, empty to go back to the made-up one. */
    onrename: (name: string) => void;
  }
  let { title, label, name, row, strong = false, onfocus, onrename }: Props = $props();
  let renaming = $state(false);
  let place: HTMLElement;

  async function rename() {
    renaming = true;
    await tick();
    place.querySelector('input')?.focus();
  }

  async function done() {
    renaming = false;
    await tick();
    place.querySelector('button')?.focus();
  }

  function onkeydown(event: KeyboardEvent & { currentTarget: HTMLElement }) {
    const ways = { ArrowUp: 'up', ArrowDown: 'down', ArrowRight: 'right' } as const;
    if (event.key === 'F2') {
      event.preventDefault();
      void rename();
    } else if (event.key in ways && !event.altKey && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      walk(event.currentTarget, ways[event.key as keyof typeof ways]);
    }
  }

  function onrenamekey(event: KeyboardEvent) {
    if (event.key !== 'Escape' && event.key !== 'Enter') return;
    event.stopPropagation();
    void done();
  }
</script>

<span bind:this={place} class="handle">
  {#if renaming}
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <span onkeydown={onrenamekey}>
      <Cell
        label="Name"
        text={name || title}
        align="left"
        read={(text) => (text.length > 60 ? failure('A name has at most 60 characters.') : success(text.trim()))}
        oncommit={onrename}
      />
    </span>
  {:else}
    <button
      data-row={row}
      data-col={0}
      data-handle
      aria-label={label}
      class:strong
      {onfocus}
      {onkeydown}
      ondblclick={rename}>{title}</button
    >
  {/if}
</span>

<style>
  .handle {
    min-width: 0;
  }

  button {
    width: 100%;
    padding: 1px 4px;
    overflow: hidden;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    text-align: left;
    text-overflow: ellipsis;
    white-space: nowrap;
    cursor: default;
  }

  .strong {
    font-weight: 650;
  }
</style>
