<script lang="ts">
  import Button from './Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    /** Shown while it is empty: what is to be picked. */
    placeholder: string;
    /** The same for those who do not see it. */
    label: string;
    testid: string;
    choices: readonly { readonly address: string; readonly title: string }[];
    /** Said of a text that is none of the choices, after “There is no”. */
    wanted: string;
    /** Title of a button that picks, too; none by default. */
    action?: string;
    onpick: (address: string) => void;
  }
  let { placeholder, label, testid, choices, wanted, action, onpick }: Props = $props();
  const desk = useDesk();
  const listId = $props.id();
  let typed = $state('');

  /** A choice by its title or its address; what is none of them stays, to be mended. */
  function pick() {
    const text = typed.trim();
    if (text === '') return;
    const choice = choices.find(({ title, address }) => title === text || address === text);
    if (!choice) {
      desk.notice = { tone: 'refused', title: `There is no ${wanted} “${text}”. Choose one from the list.` };
      return;
    }
    typed = '';
    onpick(choice.address);
  }
</script>

<form
  onsubmit={(event) => {
    event.preventDefault();
    pick();
  }}
>
  <input list={listId} {placeholder} aria-label={label} data-testid={testid} bind:value={typed} onchange={pick} />
  <datalist id={listId}>
    {#each choices as { title, address } (address)}<option value={title}>{address}</option>{/each}
  </datalist>
  {#if action}<Button data-testid="{testid}-go">{action}</Button>{/if}
</form>

<style>
  form {
    display: flex;
    gap: 6px;
  }

  input {
    flex: 1;
    min-width: 0;
    padding: 0 7px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }
</style>
