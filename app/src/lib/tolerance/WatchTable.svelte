<script lang="ts">
  import { changeWatch, watchedRequirements, type LotSummary, type WatchedRequirement } from '@ulvex/core/tolerance';
  import Table from '$lib/components/Table.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { percent, significant } from '$lib/format.ts';
  import { boundText } from './limits.ts';

  interface Props {
    /** What is watched, with limits of now. */
    watched: readonly WatchedRequirement[];
    /** What a lot comes to, by the ids of what was watched. */
    summaries: Readonly<Record<string, LotSummary>>;
    /** Id of the requirement that is looked at. */
    looked: string | null;
    /** What is said of one that is watched and has no summary. */
    missing: string;
  }
  let { watched, summaries, looked = $bindable(), missing }: Props = $props();
  const desk = useDesk();
  const rows = $derived(
    watchedRequirements(desk.base, true).map((one) => {
      const now = watched.find(({ id }) => id === one.id);
      return { ...(now ?? one), on: now !== undefined, summary: summaries[one.id] as LotSummary | undefined };
    }),
  );

  function watch(id: string, on: boolean) {
    const gesture = changeWatch(desk.base, id.split('@')[0], { off: !on });
    if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
  }
</script>

<Table heads={['', 'when made', 'yield', 'mean', 'σ', 'Cpk']}>
  <tbody>
    {#each rows as row (row.id)}
      {@const { id, title, unit, on, summary } = row}
      <tr class:chosen={id === looked}>
        <th scope="row"
          ><input
            type="checkbox"
            checked={on}
            aria-label="{title} is watched"
            title="Watched by studies"
            onchange={(event) => watch(id, event.currentTarget.checked)}
          /><button onclick={() => (looked = id)} aria-pressed={id === looked} data-testid="lot-of-{id}" {title}
            >{title}{unit && `, ${unit}`}</button
          ></th
        >
        <td>{boundText(row)}</td>
        {#if summary}
          <td data-testid="yield-{id}" data-value={summary.yield}>{percent(summary.yield)}</td>
          <td title="± {significant(summary.meanError, 2)}">{significant(summary.mean, 4)}</td>
          <td>{significant(summary.deviation, 3)}</td>
          <td>{summary.normal.cpk === null ? '–' : significant(summary.normal.cpk, 3)}</td>
        {:else}<td colspan="4">{on ? missing : 'not watched'}</td>{/if}
      </tr>
    {/each}
  </tbody>
</Table>

<style>
  th input {
    margin: 0 2px 0 0;
    accent-color: var(--accent);
    vertical-align: middle;
  }

  th button {
    overflow: hidden;
    max-width: 190px;
    padding: 0 4px;
    border: 0;
    border-radius: var(--radius);
    background: none;
    text-align: left;
    text-overflow: ellipsis;
    vertical-align: bottom;
    white-space: nowrap;
  }

  .chosen button {
    background: var(--accent-ground);
    color: var(--accent);
  }
</style>
