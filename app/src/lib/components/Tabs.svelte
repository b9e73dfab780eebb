<script lang="ts" generics="Id extends string">
  interface Props {
    /** What the parts belong to. */
    label: string;
    tabs: readonly { readonly id: Id; readonly title: string }[];
    chosen: Id;
    /** Begins the test id of each tab, which ends in its id. */
    testid: string;
    onchoose: (id: Id) => void;
  }
  let { label, tabs, chosen, testid, onchoose }: Props = $props();

  /** Arrow keys go through the tabs, as in any tab list. */
  function walk(event: KeyboardEvent) {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const at = tabs.findIndex(({ id }) => id === chosen);
    const next = tabs[(at + step + tabs.length) % tabs.length].id;
    onchoose(next);
    (event.currentTarget as HTMLElement).querySelector<HTMLElement>(`[data-testid="${testid}-${next}"]`)?.focus();
  }
</script>

<div role="tablist" aria-label={label} tabindex="-1" onkeydown={walk}>
  {#each tabs as { id, title } (id)}
    <button
      role="tab"
      aria-selected={chosen === id}
      tabindex={chosen === id ? 0 : -1}
      data-testid="{testid}-{id}"
      onclick={() => onchoose(id)}>{title}</button
    >
  {/each}
</div>

<style>
  div {
    display: flex;
    gap: 4px;
  }

  button {
    padding: 0 6px;
    border: 0;
    border-bottom: 2px solid transparent;
    background: none;
    color: var(--muted);
    font-size: var(--size-small);
  }

  button:hover {
    color: var(--accent);
  }

  [aria-selected='true'] {
    border-bottom-color: var(--accent);
    color: var(--ink);
  }
</style>
