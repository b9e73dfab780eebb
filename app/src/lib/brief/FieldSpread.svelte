<script lang="ts">
  import { spreadFields, type FieldSpread } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { numberReader } from '$lib/components/number-cell.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';

  const desk = useDesk();
  const lens = $derived(desk.lens!);
  const present = $derived(Math.max(0, ...lens.fields.points.map(({ x, y }) => Math.hypot(x, y))));
  let count = $state(5);
  let largest = $state<number | null>(null);
  let along = $state<FieldSpread['along']>('y');
  let spacing = $state<FieldSpread['spacing']>('even');
  const reach = $derived(largest ?? (present || 1));

  const readLargest = numberReader({ kind: lensKind(), current: 1, allowInfinity: false }, (value) =>
    value > 0 ? null : 'The largest field must be above 0.',
  );

  function lensKind() {
    return desk.lens!.fields.kind === 'angle' ? ('angle' as const) : ('length' as const);
  }

  function spread() {
    if (lens.fields.kind === 'angle' && reach >= 90) {
      desk.notice = { tone: 'refused', title: 'Fields by angle must stay below 90°.' };
      return;
    }
    const points = spreadFields({ count, largest: reach, along, spacing });
    desk.commit([{ kind: 'set', path: `lenses.${lens.id}.fields.points`, value: points }], 'Spread fields');
  }
</script>

<form
  onsubmit={(event) => {
    event.preventDefault();
    spread();
  }}
>
  <Button data-testid="spread-fields">spread</Button>
  <select aria-label="How many field points" bind:value={count}>
    {#each [2, 3, 4, 5, 7, 9, 11] as one (one)}<option value={one}>{one}</option>{/each}
  </select>
  <select aria-label="Along" bind:value={along}>
    <option value="y">along y</option><option value="x">along x</option><option value="grid">by as many (grid)</option>
  </select>
  <span>to</span>
  <span class="reach"
    ><Cell
      label="Largest field"
      text={plain(reach, 6)}
      read={readLargest}
      oncommit={(value) => (largest = value)}
      testid="spread-largest"
    /></span
  >
  <select aria-label="Spacing" bind:value={spacing} disabled={along === 'grid'}>
    <option value="even">in equal steps</option><option value="area">of equal areas</option>
  </select>
</form>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    margin-top: 6px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .reach {
    width: 62px;
    border-bottom: 1px solid var(--line);
  }
</style>
