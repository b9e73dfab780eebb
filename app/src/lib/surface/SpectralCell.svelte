<script lang="ts">
  import {
    addSpectralRow,
    oneNumber,
    overWavelength,
    pasteSpectral,
    removeSpectralRow,
    sortedRows,
    spectralTableAt,
    type ParameterSpec,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  interface Props {
    spec: ParameterSpec;
    /** Address of the number, and path of it in the document. */
    address: string;
    /** What it belongs to, for those who do not see it. */
    of: string;
    testid?: string | undefined;
  }
  let { spec, address, of, testid = address }: Props = $props();
  const desk = useDesk();
  const label = $derived(`${spec.title} of ${of}`);
  const table = $derived(spectralTableAt(desk.shown, address));
  const rows = $derived(table ? sortedRows(table) : []);
  /** Where a new table begins and ends, nm. */
  const VISIBLE = [400, 700] as const;

  function paste(text: string) {
    const edits = pasteSpectral(address, spec, text);
    if (edits.ok) desk.commit(edits.value, `${label} from a table`);
    else desk.notice = { tone: 'refused', title: edits.reason };
  }

  /** Two columns that are pasted into any cell are a whole table. */
  function onpaste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/\S\s+\S|\n/.test(text.trim())) return;
    event.preventDefault();
    event.stopPropagation();
    paste(text);
  }
</script>

{#if !table}
  <span class="one">
    <ParameterCell {address} label="{label}{spec.unit ? ` in ${spec.unit}` : ''}" change={label} {testid} />
    <button
      aria-label="λ… {label} over the wavelength"
      title="Give it over the wavelength"
      data-testid="{testid}-spectral"
      onclick={() => desk.commit(overWavelength(desk.project, address, spec, VISIBLE), `${label} over the wavelength`)}
      >λ…</button
    >
  </span>
{:else}
  <div
    class="rows"
    role="group"
    aria-label="{label} over the wavelength"
    data-testid="{testid}-rows"
    onpastecapture={onpaste}
  >
    <div class="head" aria-hidden="true"><span>nm</span><span>{spec.title.toLowerCase()}</span></div>
    {#each rows as { id, nm } (id)}
      <div class="row">
        <ParameterCell
          address="{address}.{id}.nm"
          label="Wavelength of a row of {label}, nm"
          testid="{testid}-{id}-nm"
        />
        <ParameterCell address="{address}.{id}.value" label="{label} at {nm} nm" testid="{testid}-{id}" />
        <button
          aria-label="Remove the row at {nm} nm"
          title="Remove the row"
          onclick={() => desk.commit(removeSpectralRow(address, table, id), `Remove a row of ${label}`)}>✕</button
        >
      </div>
    {/each}
    <p>
      <Button
        small
        data-testid="{testid}-add"
        onclick={() => desk.commit(addSpectralRow(address, table), `Add a row to ${label}`)}>+ row</Button
      >
      <Button
        small
        data-testid="{testid}-one"
        title="One value for all wavelengths: that at 555 nm"
        onclick={() => desk.commit(oneNumber(address, table), `${label}: one value`)}>one value</Button
      >
      <span>or paste two columns</span>
    </p>
  </div>
{/if}

<style>
  .one {
    display: grid;
    grid-template-columns: minmax(48px, 1fr) auto;
    gap: 2px;
    align-items: center;
  }

  button {
    padding: 0 3px;
    border: 0;
    background: none;
    color: var(--muted);
    font-size: var(--size-small);
  }

  button:hover {
    color: var(--accent);
  }

  .rows {
    max-width: 210px;
    font-size: var(--size-small);
  }

  .head,
  .row {
    display: grid;
    grid-template-columns: 64px 1fr 18px;
    gap: 6px;
    border-bottom: 1px solid var(--line);
  }

  .head {
    color: var(--muted);
    text-align: right;
  }

  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
    margin: 3px 0 0;
    color: var(--muted);
  }
</style>
