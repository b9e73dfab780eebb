<script lang="ts">
  import type { ParameterSpec } from '@ulvex/core';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import SpectralCell from './SpectralCell.svelte';

  interface Props {
    specs: readonly ParameterSpec[];
    /** Address of a number, by its id. */
    address: (id: string) => string;
    /** What the numbers belong to, for those who do not see them. */
    of: string;
    /** Cells in a row. */
    across?: number;
    testid?: string;
  }
  const SMALL: Readonly<Record<string, string>> = Object.fromEntries(
    [...'-0123456789'].map((sign, i) => [sign, '⁻⁰¹²³⁴⁵⁶⁷⁸⁹'[i]]),
  );

  /** A unit with its powers written small: `mm^-3` as mm⁻³. */
  const unitText = (unit: string) =>
    unit.replace(/\^(-?\d+)/g, (_, power: string) => [...power].map((sign) => SMALL[sign]).join(''));

  let { specs, address, of, across = 3, testid }: Props = $props();
</script>

<div class="numbers" style:--across={across}>
  {#each specs as spec (spec.id)}
    {@const named = testid ? `${testid}-${spec.id}` : undefined}
    <svelte:element this={spec.spectral ? 'div' : 'label'} class="number">
      <span>{spec.title}{spec.unit ? ` ${unitText(spec.unit)}` : ''}</span>
      {#if spec.spectral}
        <SpectralCell {spec} address={address(spec.id)} {of} testid={named} />
      {:else}
        <ParameterCell
          address={address(spec.id)}
          label="{spec.title} of {of}{spec.unit ? ` in ${spec.unit}` : ''}"
          change="{spec.title} of {of}"
          {...named ? { testid: named } : {}}
        />
      {/if}
    </svelte:element>
  {/each}
</div>

<style>
  .numbers {
    display: grid;
    grid-template-columns: repeat(var(--across), minmax(0, 1fr));
    gap: 4px 10px;
  }

  .number {
    display: grid;
    grid-template-columns: auto minmax(56px, 1fr);
    gap: 4px;
    align-items: baseline;
    border-bottom: 1px solid var(--line);
  }

  span {
    color: var(--muted);
    font-size: var(--size-small);
    white-space: nowrap;
  }
</style>
