<script lang="ts">
  import SectionDrawing from '$lib/drawing/SectionDrawing.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import ExportMenu from './ExportMenu.svelte';
  import { fieldLegend } from './legends.ts';
  import { RAY_COUNTS, sectionSettings, type SectionSettings } from './settings.ts';
  import Tile from './Tile.svelte';

  interface Props {
    settings: unknown;
    onsettings: (settings: SectionSettings) => void;
  }
  let { settings: stored, onsettings }: Props = $props();
  const desk = useDesk();
  const settings = $derived(sectionSettings(stored));
  const lens = $derived(desk.lens);
  const only = $derived(lens?.fields.points.find(({ id }) => id === settings.only) ?? null);
  const query = desk.live.query(() =>
    lens
      ? {
          kind: 'section',
          lens: lens.id,
          raysPerField: settings.rays,
          colours: settings.colours,
          range: settings.range,
          ...(only && { fields: [only.id] }),
        }
      : null,
  );
  let drawing = $state<SectionDrawing | null>(null);

  /** Points of surfaces and rays as they are drawn, mm. */
  function csv() {
    if (!query.answer?.ok) return null;
    const { surfaces, rays } = query.answer.value;
    const points = (name: string, path: Float64Array) =>
      Array.from({ length: path.length / 2 }, (_, k) => [name, path[2 * k], path[2 * k + 1]]);
    return [
      ['what', 'z mm', 'y mm'],
      ...surfaces.flatMap(({ id, line }) => points(id, line)),
      ...rays.flatMap((ray, k) => points(`ray ${k + 1} of ${ray.field}`, ray.points)),
    ];
  }

  const set = (change: Partial<SectionSettings>) => onsettings({ ...settings, ...change });
  const about = $derived(
    [
      `${settings.rays} ${settings.rays === 1 ? 'ray' : 'rays'} ${only && lens ? `of field ${fieldLabel(lens.fields.kind, only)}` : 'a field'}`,
      settings.colours === 'all' ? 'all colours' : 'primary wavelength',
      ...(settings.range === 'lens' ? ['lens only'] : []),
      'mm',
    ].join(' · '),
  );
</script>

<Tile title="Section" {about} testid="section-tile" carries={query.revision}>
  {#snippet tools()}
    <ExportMenu
      name="section"
      exports={{ svg: () => drawing?.svg() ?? null, csv, legend: () => fieldLegend(desk.lens) }}
    />
  {/snippet}
  {#snippet choices()}
    <label
      >rays a field
      <select
        data-testid="section-rays"
        value={settings.rays}
        onchange={(event) => set({ rays: Number(event.currentTarget.value) })}
      >
        {#each RAY_COUNTS as count (count)}<option value={count}>{count}</option>{/each}
      </select></label
    >
    <label
      >fields
      <select
        data-testid="section-field"
        value={only?.id ?? ''}
        onchange={(event) => set({ only: event.currentTarget.value || null })}
      >
        <option value="">all</option>
        {#each lens?.fields.points ?? [] as point (point.id)}<option value={point.id}
            >{fieldLabel(lens!.fields.kind, point)}</option
          >{/each}
      </select></label
    >
    <label
      >colours
      <select
        value={settings.colours}
        onchange={(event) => set({ colours: event.currentTarget.value as SectionSettings['colours'] })}
      >
        <option value="primary">primary</option><option value="all">all</option>
      </select></label
    >
    <label
      >drawn
      <select
        value={settings.range}
        onchange={(event) => set({ range: event.currentTarget.value as SectionSettings['range'] })}
      >
        <option value="whole">to the image</option><option value="lens">lens only</option>
      </select></label
    >
  {/snippet}
  {#if query.answer?.ok}
    <SectionDrawing bind:this={drawing} section={query.answer.value} editable />
  {:else if query.answer}
    <p>✕ {query.answer.reason}</p>
  {/if}
</Tile>
