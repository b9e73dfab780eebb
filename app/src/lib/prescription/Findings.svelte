<script lang="ts">
  import { surfaceTitle, type Finding } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    findings: readonly Finding[];
    /** Why the whole evaluation failed, if it did. */
    failure: string | null;
  }
  let { findings, failure }: Props = $props();
  const desk = useDesk();

  function titleOf(id: string): string {
    const index = desk.lens?.surfaces.findIndex((surface) => surface.id === id) ?? -1;
    return index >= 0 && desk.lens ? surfaceTitle(desk.lens, index) : id;
  }
</script>

{#if findings.length > 0 || failure}
  <ul data-testid="findings" aria-label="Findings">
    {#if failure}<li class="error">✕ The computation stopped: {failure}</li>{/if}
    {#each findings as finding, i (i)}
      <li class={finding.severity}>
        <span aria-hidden="true">{finding.severity === 'error' ? '✕' : '!'}</span>
        {#if finding.where}
          <button onclick={() => (desk.selected = finding.where ?? null)}>{titleOf(finding.where)}</button>
        {/if}
        {finding.text}
      </li>
    {/each}
  </ul>
{/if}

<style>
  ul {
    flex-shrink: 0;
    max-height: 34%;
    margin: 0;
    padding: 6px 8px;
    overflow: auto;
    border: 1px solid var(--line);
    background: var(--card);
    list-style: none;
  }

  li {
    padding: 1px 0;
  }

  .error span {
    color: var(--bad);
    font-weight: 700;
  }

  .warning span {
    color: var(--warn);
    font-weight: 700;
  }

  button {
    padding: 0 4px;
    border: 0;
    background: none;
    font-weight: 600;
    text-decoration: underline;
  }
</style>
