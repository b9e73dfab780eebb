<script lang="ts">
  import { failure, findParameter, objection, setParameter } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { exactText, plain } from '$lib/format.ts';
  import Cell from './Cell.svelte';
  import { nudged, numberReader } from './number-cell.ts';

  interface Props {
    /** Address of a parameter of the open project. */
    address: string;
    /** What the cell is, for those who do not see it. */
    label: string;
    /** What the history calls a change. */
    change?: string;
    row?: number;
    col?: number;
    testid?: string;
  }
  let { address, label, change, row, col, testid }: Props = $props();
  const desk = useDesk();
  const shown = $derived(findParameter(desk.shown, address));
  const stored = $derived(findParameter(desk.project, address));

  const read = $derived.by(() => {
    if (!stored.ok) return () => failure(stored.reason);
    const { spec, value } = stored.value;
    const options = { kind: spec.kind, current: value, allowInfinity: spec.allowInfinity ?? false };
    return numberReader(options, (next) => objection(spec, next));
  });

  function edits(value: number) {
    const edit = stored.ok ? setParameter(stored.value, value) : stored;
    return edit.ok ? [edit.value] : [];
  }
</script>

{#if shown.ok}
  <Cell
    {label}
    {address}
    explain="parameter:{address}"
    text={plain(shown.value.value, 7)}
    exact={exactText(shown.value.value)}
    {read}
    nudge={nudged}
    onpreview={(value) => desk.preview(edits(value))}
    onend={() => desk.endPreview()}
    oncommit={(value) => desk.commit(edits(value), change ?? label)}
    {...row === undefined ? {} : { row }}
    {...col === undefined ? {} : { col }}
    {...testid === undefined ? {} : { testid }}
  />
{:else}<span title={shown.reason}>–</span>{/if}
