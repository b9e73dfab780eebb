<script lang="ts">
  import type { DetectorNumbers, DetectorUnits, Estimate } from '@ulvex/core';
  import { significant } from '$lib/format.ts';
  import { withError } from '$lib/plots/light-map.ts';

  interface Props {
    numbers: DetectorNumbers | null;
    units: DetectorUnits;
    /** The least that the detector tells from nothing; 0 for none. */
    floor: number;
    under: string | null;
    /** What each source gives, where there are several. */
    parts?: readonly { readonly title: string; readonly flux: Estimate }[];
  }
  let { numbers, units, floor, under, parts = [] }: Props = $props();
  const lines = $derived(
    numbers
      ? [
          ['flux', withError(numbers.flux, units.flux)],
          ...parts.map(({ title, flux }) => [`· ${title}`, withError(flux, units.flux)]),
          ['mean', withError(numbers.mean, units.density)],
          ['peak', withError(numbers.peak, units.density)],
          ['least/mean', significant(numbers.uniformity, 3)],
          ['centroid', `${withError(numbers.centroidX, '').trim()}, ${withError(numbers.centroidY, units.place)}`],
          ['RMS radius', withError(numbers.rmsRadius, units.place)],
          ...(floor > 0 ? [['peak/noise', significant(numbers.peak.value / floor, 3)]] : []),
        ]
      : [],
  );
</script>

<dl data-testid="map-numbers">
  {#each lines as [word, text] (word)}
    <div>
      <dt>{word}</dt>
      <dd data-testid="map-{word}">{text}</dd>
    </div>
  {/each}
  <div>
    <dt>cell</dt>
    <dd>{under ?? '–'}</dd>
  </div>
</dl>

<style>
  dl {
    display: grid;
    gap: 1px;
    margin: 4px 0 0;
    overflow: auto;
    font-size: var(--size-small);
  }

  div {
    display: grid;
    grid-template-columns: 82px 1fr;
    gap: 6px;
  }

  dt {
    color: var(--muted);
  }

  dd {
    margin: 0;
    font-variant-numeric: tabular-nums;
    text-align: right;
  }
</style>
