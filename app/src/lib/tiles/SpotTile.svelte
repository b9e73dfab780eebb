<script lang="ts">
  import { fieldColours, waveColour } from '$lib/colours.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabels, rayWords, waveWords } from '$lib/desk/lens-words.ts';
  import { niceStep, radiusText, significant } from '$lib/format.ts';
  import { token } from '$lib/theme.svelte.ts';
  import ExportMenu from './ExportMenu.svelte';
  import { waveLegend } from './legends.ts';
  import { SAMPLINGS, spotSettings, type SpotSettings } from './settings.ts';
  import { spotSvg } from './spot-svg.ts';
  import SpotPlot from './SpotPlot.svelte';
  import Tile from './Tile.svelte';
  import { comparable, referenceWords } from './underneath.ts';

  interface Props {
    settings: unknown;
    onsettings: (settings: SpotSettings) => void;
  }
  let { settings: stored, onsettings }: Props = $props();
  const desk = useDesk();
  const settings = $derived(spotSettings(stored));
  const sampling = $derived(SAMPLINGS[settings.sampling]);
  const query = desk.live.query(() =>
    desk.lens
      ? {
          kind: 'spots',
          lens: desk.lens.id,
          reference: settings.reference,
          pupil: settings.pupil,
          ...sampling,
        }
      : null,
  );
  const before = desk.referenceLive.query(() =>
    desk.reference && desk.lens
      ? {
          kind: 'spots',
          lens: desk.lens.id,
          reference: settings.reference,
          pupil: settings.pupil,
          ...sampling,
        }
      : null,
  );
  const diagram = $derived(query.answer?.ok ? query.answer.value : null);
  const reference = $derived(desk.reference && before.answer?.ok ? before.answer.value : null);
  /** Spots of the reference by field. */
  const earlier = $derived(
    new Map(
      comparable(diagram, reference)?.pictures.flatMap(({ field, spot }) =>
        spot.ok ? [[field, spot.value] as const] : [],
      ),
    ),
  );
  const change = (part: Partial<SpotSettings>) => onsettings({ ...settings, ...part });

  const unit = $derived(diagram?.unit ?? 'µm');
  const fields = $derived(desk.lens?.fields.points ?? []);
  const ramp = $derived(fieldColours(fields.length));
  const labels = $derived(fieldLabels(desk.lens));
  /** Half the side of every picture, µm or mrad: as asked, or the next round number that holds all rays of all fields. */
  const half = $derived.by(() => {
    if (settings.box) return settings.box;
    const largest = Math.max(
      0,
      ...(diagram?.pictures ?? []).flatMap(({ spot }) =>
        spot.ok ? [spot.value.largest, ...(spot.value.airy ?? [])] : [],
      ),
    );
    const step = niceStep(Math.max(largest, unit === 'µm' ? 0.1 : 1e-4), 10);
    return Math.ceil((largest * 1.02) / step) * step || 1;
  });
  /** Semi-axes of the Airy rings of all fields in words, as a range if they differ in the digits shown. */
  const airyWords = $derived.by(() => {
    const semis = (diagram?.pictures ?? []).flatMap(({ spot }) => (spot.ok ? (spot.value.airy ?? []) : []));
    if (semis.length === 0) return null;
    const [least, most] = [Math.min(...semis), Math.max(...semis)].map((semi) => significant(semi, 2));
    return `Airy ${least === most ? least : `${least}–${most}`} ${unit}`;
  });
  const about = $derived(
    [
      waveWords(desk.lens),
      airyWords,
      `box ±${significant(half, 2)} ${unit}`,
      `${sampling.rings} × ${sampling.arms} rays a colour`,
      ...rayWords(diagram?.aim, settings.pupil),
      ...referenceWords(diagram, reference, desk.reference?.label),
    ]
      .filter(Boolean)
      .join(' · '),
  );

  function svg(): string | null {
    if (!diagram) return null;
    const style = {
      ground: token('--card'),
      ink: token('--ink'),
      muted: token('--muted'),
      line: token('--line'),
      wave: (nm: number) => waveColour(nm).replace('var(--wave-light)', token('--wave-light')),
    };
    return spotSvg(diagram, half, labels, `spots about ${settings.reference}`, style);
  }

  function csv() {
    if (!diagram) return null;
    const rows: (string | number)[][] = [['field', 'wavelength nm', `x ${unit}`, `y ${unit}`]];
    for (const { field, spot } of diagram.pictures) {
      if (!spot.ok) continue;
      for (const { nm, x, y } of spot.value.colours) x.forEach((value, i) => rows.push([field, nm, value, y[i]]));
    }
    return rows;
  }
</script>

<Tile title="Spots" {about} testid="spot-tile" carries={query.revision}>
  {#snippet tools()}
    <button
      class="choice"
      title="Measure spots about the centroid of all colours, or about the chief ray of the primary one"
      onclick={() => change({ reference: settings.reference === 'centroid' ? 'chief' : 'centroid' })}
      ><span class="wide">about&nbsp;</span>{settings.reference}</button
    >
    <ExportMenu name="spots" exports={{ svg, csv, legend: () => waveLegend(desk.lens) }} />
  {/snippet}
  {#snippet choices()}
    <label data-explain="word:pupil"
      >pupil <select
        value={settings.pupil}
        onchange={(event) => change({ pupil: event.currentTarget.value as 'full' })}
      >
        <option value="clipped">clipped where set</option><option value="full">full</option>
      </select></label
    >
    <label data-explain="word:sampling"
      >rays <select
        value={String(settings.sampling)}
        onchange={(event) => change({ sampling: Number(event.currentTarget.value) })}
      >
        {#each SAMPLINGS as { rings, arms }, i (i)}<option value={String(i)}>{rings} × {arms}</option>{/each}
      </select></label
    >
    <label data-explain="word:scale"
      >box <select
        value={String(settings.box ?? '')}
        onchange={(event) => change({ box: Number(event.currentTarget.value) || null })}
      >
        <option value="">fits all rays</option>
        {#each [2, 5, 10, 20, 50, 100, 200, 500] as box (box)}<option value={String(box)}>±{box} {unit}</option>{/each}
      </select></label
    >
  {/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if diagram}
    <div class="spots">
      {#each diagram.pictures as { field, spot }, i (field)}
        <figure data-testid="spot-{field}" data-rms={spot.ok ? spot.value.rms : ''}>
          {#if spot.ok}
            <SpotPlot spot={spot.value} before={earlier.get(field) ?? null} {half} {unit} />
          {:else}
            <p class="none">✕ {spot.reason}</p>
          {/if}
          <figcaption>
            <span class="swatch" style:background={ramp[i]}></span>
            <span class="field">{labels.get(field) ?? field}</span>
            {#if spot.ok}
              <strong>{radiusText(spot.value.rms, unit)}</strong>
              {#if spot.value.arrived < spot.value.launched}
                <span class="lost" title="{spot.value.arrived} of {spot.value.launched} rays reach the image"
                  >of {Math.round((100 * spot.value.arrived) / spot.value.launched)} % of the rays</span
                >
              {/if}
            {/if}
            {#if earlier.has(field)}
              <span class="before" title="RMS of the reference"
                >was {radiusText(earlier.get(field)?.rms ?? 0, unit)}</span
              >
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
    scrollbar-width: thin;
  }

  figure {
    position: relative;
    display: flex;
    flex: 1 0 60px;
    flex-direction: column;
    gap: 4px;
    min-width: 0;
    max-width: 240px;
    margin: 0;
  }

  figcaption {
    display: flex;
    flex-wrap: wrap;
    gap: 0 6px;
    align-items: center;
  }

  figcaption > * {
    white-space: nowrap;
  }

  .swatch {
    width: 14px;
    height: 3px;
  }

  .field {
    flex: 1;
    color: var(--muted);
  }

  .before {
    flex-basis: 100%;
    color: var(--muted);
    font-size: 11px;
    text-align: right;
  }

  .lost {
    flex-basis: 100%;
    color: var(--warn);
    font-size: var(--size-small);
  }

  .none {
    flex: 1;
    color: var(--bad);
    font-size: var(--size-small);
  }

  .choice {
    overflow: hidden;
    min-width: 24px;
    padding: 0 8px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    font-size: var(--size-small);
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .choice {
    flex-shrink: 0;
  }

  @container (max-width: 330px) {
    .wide {
      display: none;
    }
  }

  .choice:hover {
    border-color: var(--accent);
    color: var(--accent);
  }
</style>
