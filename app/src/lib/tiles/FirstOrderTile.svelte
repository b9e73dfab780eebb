<script lang="ts">
  import { wavelengthLabel, type FirstOrder } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { fixed, significant } from '$lib/format.ts';
  import ExportMenu from './ExportMenu.svelte';
  import Tile from './Tile.svelte';

  const desk = useDesk();
  const query = desk.live.query(() => (desk.lens ? { kind: 'first_order', lens: desk.lens.id } : null));
  const table = $derived(query.answer?.ok ? query.answer.value : null);
  const primary = $derived(desk.lens?.primary);

  interface Line {
    readonly title: string;
    readonly meaning: string;
    read(data: FirstOrder): number | null;
    readonly decimals: number;
  }
  const lines: readonly Line[] = [
    { title: 'focal length', meaning: '1/Φ, mm', read: (d) => d.focalLength, decimals: 4 },
    {
      title: 'back focal distance',
      meaning: 'last vertex to rear focus, mm',
      read: (d) => d.backFocalDistance,
      decimals: 4,
    },
    {
      title: 'image distance',
      meaning: 'last vertex to the paraxial image, mm',
      read: (d) => d.imageDistance,
      decimals: 4,
    },
    { title: 'working F-number', meaning: '1/(2 n′|u′|)', read: (d) => d.workingFNumber, decimals: 4 },
    {
      title: 'paraxial magnification',
      meaning: 'image over object height in the paraxial image',
      read: (d) => d.magnification,
      decimals: 5,
    },
    {
      title: 'entrance pupil at',
      meaning: 'from the first vertex, mm',
      read: (d) => d.entrancePupil,
      decimals: 4,
    },
    { title: 'entrance pupil ⌀', meaning: 'mm', read: (d) => d.entrancePupilDiameter, decimals: 4 },
    { title: 'exit pupil at', meaning: 'from the last vertex, mm', read: (d) => d.exitPupil, decimals: 4 },
    { title: 'exit pupil ⌀', meaning: 'mm', read: (d) => d.exitPupilDiameter, decimals: 4 },
    {
      title: 'stop semi-aperture',
      meaning: 'paraxial marginal height there, mm',
      read: (d) => d.stopSemiAperture,
      decimals: 4,
    },
  ];
  /** Fixed decimals, fewer for long numbers: a column holds seven digits. */
  function told(value: number, decimals = 5): string {
    const digits = Math.max(1, Math.floor(Math.log10(Math.abs(value) || 1)) + 1);
    return Math.abs(value) >= 1e7 ? significant(value, 4) : fixed(value, Math.max(0, Math.min(decimals, 7 - digits)));
  }
  const shown = $derived(
    lines.filter(({ read }) => table?.columns.some(({ data }) => data.ok && read(data.value) !== null)),
  );
  /** What the image surface in use shows, of the primary colour, beside the paraxial image. */
  const inUse = $derived.by(() => {
    if (!table?.surface.ok) return [];
    const { kind, value, edge } = table.surface.value;
    const near = kind === 'magnification';
    return [
      {
        title: `${kind} here`,
        meaning: `${near ? 'image over object height' : 'height over tan θ, mm'} in the image surface in use, small fields`,
        value,
      },
      ...(edge === null
        ? []
        : [{ title: '… at the largest field', meaning: 'the same by its real chief ray', value: edge }]),
    ];
  });
  const csv = () =>
    table && [
      ['', ...table.columns.map(({ nm }) => `${nm} nm`)],
      ...shown.map(({ title, read }) => [
        title,
        ...table.columns.map(({ data }) => (data.ok ? (read(data.value) ?? NaN) : NaN)),
      ]),
      ...inUse.map(({ title, value }) => [
        title,
        ...table.columns.map(({ wavelength }) => (wavelength === primary ? value : NaN)),
      ]),
    ];
  const failed = $derived(table?.columns.find(({ data }) => !data.ok)?.data);
</script>

<Tile title="First order" about="paraxial, by wavelength · mm" testid="first-order-tile">
  {#snippet tools()}<ExportMenu name="first-order" exports={{ csv }} />{/snippet}
  {#if query.answer && !query.answer.ok}
    <p class="none">✕ {query.answer.reason}</p>
  {:else if table}
    {#if failed && !failed.ok}<p class="none">✕ {failed.reason}</p>{/if}
    {#if shown.length > 0}
      <div class="scrolls">
        <table>
          <thead>
            <tr
              ><th></th>
              {#each table.columns as { wavelength, nm } (wavelength)}
                <th scope="col" class:primary={wavelength === primary} title="{nm} nm">{wavelengthLabel(nm)}</th>
              {/each}
            </tr>
          </thead>
          <tbody>
            {#each shown as { title, meaning, read, decimals } (title)}
              <tr>
                <th scope="row" title={meaning}>{title}</th>
                {#each table.columns as { wavelength, data } (wavelength)}
                  {@const value = data.ok ? read(data.value) : null}
                  <td class:primary={wavelength === primary}>{value === null ? '–' : told(value, decimals)}</td>
                {/each}
              </tr>
            {/each}
            {#each inUse as { title, meaning, value } (title)}
              <tr>
                <th scope="row" title={meaning}>{title}</th>
                {#each table.columns as { wavelength } (wavelength)}
                  <td class:primary={wavelength === primary}>{wavelength === primary ? told(value) : ''}</td>
                {/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {/if}
  {/if}
</Tile>

<style>
  .scrolls {
    height: 100%;
    overflow-y: auto;
    scrollbar-width: thin;
  }

  table {
    width: 100%;
    table-layout: fixed; /* new figures measure no columns anew */
    border-collapse: collapse;
    font-size: var(--size-small);
    line-height: 1.25;
  }

  th {
    color: var(--muted);
    font-weight: 400;
    text-align: right;
  }

  thead th:first-child {
    width: 40%;
  }

  th[scope='row'] {
    text-align: left;
    white-space: nowrap;
  }

  td {
    color: var(--muted);
    text-align: right;
  }

  td.primary {
    color: var(--ink);
    font-weight: 600;
  }

  th.primary {
    color: var(--ink);
  }

  .none {
    color: var(--bad);
    font-size: var(--size-small);
  }
</style>
