<script lang="ts">
  import { wavelengthLabel, type SpotReference } from '@ulvex/core';
  import { fieldColours } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import { niceStep, radiusText, significant } from '$lib/format.ts';
  import SpotPlot from './SpotPlot.svelte';
  import Tile from './Tile.svelte';

  const RINGS = 12;
  const ARMS = 24;
  const desk = useDesk();
  let reference = $state<SpotReference>('centroid');
  const query = desk.live.query(() =>
    desk.lens
      ? { kind: 'spots', lens: desk.lens.id, reference, pupil: 'clipped', rings: RINGS, arms: ARMS }
      : null,
  );

  const diagram = $derived(query.answer?.ok ? query.answer.value : null);
  const fields = $derived(desk.lens?.fields.points ?? []);
  const ramp = $derived(fieldColours(fields.length));
  /** Half the side of every picture, µm: the next round number that holds all rays of all fields. */
  const half = $derived.by(() => {
    const largest = Math.max(
      diagram?.airy ?? 0,
      ...(diagram?.pictures ?? []).map(({ spot }) => (spot.ok ? spot.value.largest : 0)),
    );
    const step = niceStep(Math.max(largest, 0.1), 10);
    return Math.ceil((largest * 1.02) / step) * step || 1;
  });
  const waves = $derived(
    (desk.lens?.wavelengths ?? [])
      .filter((wave) => wave.weight > 0)
      .map((wave) => wavelengthLabel(wave.nm))
      .join(' '),
  );
  const about = $derived(
    [
      waves,
      `box ±${significant(half, 2)} µm`,
      diagram?.airy ? `Airy ${significant(diagram.airy, 2)} µm` : null,
      `${RINGS} × ${ARMS} rays a colour`,
      diagram?.aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil',
      'clipped where set',
    ]
      .filter(Boolean)
      .join(' · '),
  );
</script>

<Tile title="Spots" {about} testid="spot-tile">
  {#snippet tools()}
    <button
      class="choice"
      title="Measure spots about the centroid of all colours, or about the chief ray of the primary one"
      aria-label="Spots are about the {reference}; change it"
      onclick={() => (reference = reference === 'centroid' ? 'chief' : 'centroid')}>about {reference}</button
    >
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if diagram}
    <div class="spots">
      {#each diagram.pictures as { field, spot }, i (field)}
        {@const point = fields.find((entry) => entry.id === field)}
        <figure data-testid="spot-{field}" data-rms={spot.ok ? spot.value.rms : ''}>
          {#if spot.ok}
            <SpotPlot spot={spot.value} {half} airy={diagram.airy} />
          {:else}
            <p class="none">✕ {spot.reason}</p>
          {/if}
          {#if spot.ok && spot.value.arrived < spot.value.launched}
            <span class="lost" title="{spot.value.arrived} of {spot.value.launched} rays reach the image"
              >{Math.round((100 * spot.value.arrived) / spot.value.launched)} % of the rays</span
            >
          {/if}
          <figcaption>
            <span class="swatch" style:background={ramp[i]}></span>
            <span class="field">{point && desk.lens ? fieldLabel(desk.lens.fields.kind, point) : field}</span>
            {#if spot.ok}
              <strong>{radiusText(spot.value.rms)}</strong>
            {/if}
          </figcaption>
        </figure>
      {/each}
    </div>
  {/if}
</Tile>

<style>
  .spots {
    display: flex;
    gap: 8px;
    height: 100%;
    overflow-x: auto;
  }

  figure {
    display: flex;
    flex: 1 0 72px;
    max-width: 240px;
    flex-direction: column;
    gap: 4px;
    min-width: 0;
    margin: 0;
    position: relative;
  }

  figcaption {
    display: flex;
    align-items: center;
    gap: 6px;
  }

  .swatch {
    width: 14px;
    height: 3px;
  }

  .field {
    flex: 1;
    color: var(--muted);
    white-space: nowrap;
  }

  figcaption > * {
    white-space: nowrap;
  }

  .lost {
    position: absolute;
    top: 3px;
    left: 5px;
    color: var(--warn);
    font-size: var(--size-small);
  }

  .none {
    flex: 1;
    color: var(--bad);
    font-size: var(--size-small);
  }

  .choice {
    padding: 0 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    font-size: var(--size-small);
  }

  .choice:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
