<script lang="ts">
  import { BASIC_FINISHES, SHELF_FINISHES, type Finish } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    label: string;
    testid: string;
    /** Id of the finish that is shown as chosen; where it is left out, the list says “choose …”. */
    value?: string | undefined;
    /** How nothing chosen is called. */
    none: string;
    /** Given the finish; null for none. */
    onchoose: (finish: Finish | null) => void;
  }
  let { label, testid, value, none, onchoose }: Props = $props();
  const desk = useDesk();
  const own = $derived(desk.shown.finishes ?? []);
  const shelf = $derived(SHELF_FINISHES.filter(({ id }) => !own.some((finish) => finish.id === id)));
  const all = $derived([...BASIC_FINISHES, ...own, ...shelf]);
  /** Stands for a list that shows no choice. */
  const OPEN = '—';
</script>

<select
  aria-label={label}
  data-testid={testid}
  value={value ?? OPEN}
  onchange={(event) => {
    const id = event.currentTarget.value;
    onchoose(all.find((one) => one.id === id) ?? null);
    event.currentTarget.value = value ?? OPEN;
  }}
>
  {#if value === undefined}<option value={OPEN} hidden>choose …</option>{/if}
  <option value="">{none}</option>
  {#if value && !all.some(({ id }) => id === value)}<option {value}>{value} (not in the project)</option>{/if}
  {#each BASIC_FINISHES as { id, name } (id)}<option value={id}>{name}</option>{/each}
  {#if own.length > 0}<optgroup label="Of the project"
      >{#each own as { id, name } (id)}<option value={id}>{name}</option>{/each}</optgroup
    >{/if}
  <optgroup label="Shelf"
    >{#each shelf as { id, name } (id)}<option value={id}>{name}</option>{/each}</optgroup
  >
</select>
