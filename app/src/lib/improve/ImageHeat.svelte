<script lang="ts">
  import { wavelengthName, type ImagePart } from '@ulvex/core';
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
  const waves = $derived([...new Set(parts.map(({ nm }) => nm))]);
  const fields = $derived([...new Set(parts.map(({ field }) => field))]);
  const largest = $derived(Math.max(...parts.map(({ rms }) => rms), 1e-12));
  const of = (field: string, nm: number) => parts.find((part) => part.field === field && part.nm === nm);
</script>

<table aria-label="What each field and colour makes of it, {unit}">
  <thead>
    <tr
      ><th>{title}</th>{#each waves as nm (nm)}<th>{wavelengthName(nm)}</th>{/each}</tr
    >
  </thead>
  <tbody>
    {#each fields as field (field)}
      <tr>
        <th scope="row">{labels.get(field) ?? field}</th>
        {#each waves as nm (nm)}
          {@const part = of(field, nm)}
          <td style:--share="{part ? Math.round((70 * part.rms) / largest) : 0}%"
            >{part ? significant(part.rms, 3) : '–'}</td
          >
        {/each}
      </tr>
    {/each}
  </tbody>
</table>
<span>{unit}, darker is more</span>

<style>
  table {
    border-collapse: collapse;
  }

  th {
    padding: 0 6px;
    font-weight: 400;
    text-align: right;
  }

  td {
    min-width: 52px;
    padding: 1px 6px;
    border: 1px solid var(--card);
    background: color-mix(in srgb, var(--glass-2) var(--share), transparent);
    color: var(--ink);
    font-variant-numeric: tabular-nums;
    text-align: right;
  }

  span {
    align-self: end;
  }
</style>
