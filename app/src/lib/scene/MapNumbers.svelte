<script lang="ts">
  import type { DetectorNumbers, DetectorUnits } from '@ulvex/core';
  import { significant } from '$lib/format.ts';
  import { withError } from '$lib/plots/light-map.ts';

  interface Props {
    numbers: DetectorNumbers | null;
    units: DetectorUnits;
    /** The least that the detector tells from nothing; 0 for none. */
    floor: number;
    under: string | null;
  }
  let { numbers, units, floor, under }: Props = $props();
  const lines = $derived(
    numbers
      ? [
          ['flux', withError(numbers.flux, units.flux)],
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
    flex: 1;
    gap: 1px;
    min-width: 220px;
    margin: 4px 0 0;
    font-size: var(--size-small);
  }

  div {
    display: grid;
    grid-template-columns: 70px 1fr;
    gap: 6px;
  }

  dt {
    color: var(--muted);
  }

  dd {
    margin: 0;
  }
</style>
