<script lang="ts">
  import { wavelengthName, type ImagePart } from '@ulvex/core';
  import Table from '$lib/components/Table.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels } from '$lib/desk/lens-words.ts';
  import { significant } from '$lib/format.ts';

  interface Props {
    parts: readonly ImagePart[];
    unit: string;
    title: string;
  }
  let { parts, unit, title }: Props = $props();
  const desk = useDesk();
  const labels = $derived(fieldLabels(desk.lens));
  const columns = $derived([...new Set(parts.map(({ of }) => of))]);
  const fields = $derived([...new Set(parts.map(({ field }) => field))]);
  /** How bad a part is: a modulation by what it lacks. */
  const badness = ({ of, value }: ImagePart) => (of === 'tangential' || of === 'sagittal' ? 1 - value : value);
  const worst = $derived(Math.max(...parts.map(badness), 1e-12));
  const partOf = (field: string, of: ImagePart['of']) => parts.find((part) => part.field === field && part.of === of);
  const heading = (of: ImagePart['of']) => (typeof of === 'number' ? wavelengthName(of) : of);
</script>

<div>
  <Table
    heads={[title, ...columns.map(heading)]}
    aria-label="What each field and colour makes of it{unit ? `, ${unit}` : ''}"
  >
    <tbody>
      {#each fields as field (field)}
        <tr>
          <th scope="row">{labels.get(field) ?? field}</th>
          {#each columns as of (of)}
            {@const part = partOf(field, of)}
            <td style:--share="{part ? Math.round((70 * badness(part)) / worst) : 0}%"
              >{part ? significant(part.value, 3) : '–'}</td
            >
          {/each}
        </tr>
      {/each}
    </tbody>
  </Table>
  <span>{unit ? `${unit}, ` : ''}a stronger tint is worse</span>
</div>

<style>
  div {
    display: flex;
    gap: 8px;
    width: 100%;
  }

  td {
    min-width: 52px;
    border: 1px solid var(--card);
    background: color-mix(in srgb, var(--glass-2) var(--share), transparent);
    color: var(--ink);
  }

  span {
    align-self: end;
  }
</style>
