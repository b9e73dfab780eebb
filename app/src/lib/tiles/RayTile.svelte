<script lang="ts">
  import { surfaceTitle, type KeptRay, type RayStep } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Table from '$lib/components/Table.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fixed } from '$lib/format.ts';
  import ExportMenu from './ExportMenu.svelte';
  import RaySourceForm from './RaySourceForm.svelte';
  import { keptRayName, raySettings, type RaySettings } from './ray-settings.ts';
  import Tile from './Tile.svelte';

  interface Props {
    settings: unknown;
    onsettings: (settings: RaySettings) => void;
  }
  let { settings: stored, onsettings }: Props = $props();
  const desk = useDesk();
  const lens = $derived(desk.lens);
  const settings = $derived(raySettings(stored, lens));
  const query = desk.live.query(() =>
    lens ? { kind: 'ray', lens: lens.id, source: settings.source, wavelength: settings.wavelength } : null,
  );
  const ray = $derived(query.answer?.ok ? query.answer.value : null);
  const kept = $derived(lens?.rays ?? []);
  const titles = $derived(new Map(lens?.surfaces.map(({ id }, index) => [id, surfaceTitle(lens, index)])));

  let width = $state(0);
  /** Too narrow for places and direction cosines side by side: one of them is shown, files have both. */
  const narrow = $derived(width > 0 && width < 560);

  interface Column {
    readonly title: string;
    readonly meaning: string;
    readonly decimals: number;
    read(step: RayStep): number | null;
  }
  const columns = $derived(columnsOf(narrow ? (settings.directions ? 'directions' : 'places') : 'both'));

  function columnsOf(which: 'places' | 'directions' | 'both'): Column[] {
    const narrow = which !== 'both';
    const point = (step: RayStep) => (settings.global ? step.global : step.local);
    const way = (step: RayStep) => (settings.global ? step.globalDirection : step.direction);
    return [
      ...(which === 'directions' ? [] : ['x', 'y', 'z']).map((axis, k) => ({
        title: axis,
        meaning: 'where it meets the surface, mm',
        decimals: narrow ? 4 : 5,
        read: (step: RayStep) => point(step)[k],
      })),
      ...(which === 'places' ? [] : ['L', 'M', 'N']).map((name, k) => ({
        title: name,
        meaning: `direction cosine along ${'xyz'[k]} after the surface`,
        decimals: 6,
        read: (step: RayStep) => way(step)[k],
      })),
      { title: 'i °', meaning: 'angle of incidence', decimals: 3, read: (step) => step.incidence },
      {
        title: 'i′ °',
        meaning: 'angle of refraction or reflection',
        decimals: 3,
        read: (step) => step.refraction,
      },
      {
        title: 'path',
        meaning: 'optical path since the launch, mm',
        decimals: narrow ? 4 : 5,
        read: (step) => step.path,
      },
      {
        title: 'flux %',
        meaning:
          'what is left of its flux: by the coatings of surfaces, for light unpolarised at each, and by absorption on record',
        decimals: 2,
        read: (step) => 100 * step.flux,
      },
    ];
  }

  const about = $derived(
    `${ray ? `${fixed(ray.nm, 1)} nm · ` : ''}${settings.global ? 'coordinates of the first vertex' : 'coordinates of each surface'} ` +
      `· clipped by set apertures · flux by coatings${ray && ray.takenClear.length > 0 ? `, ${ray.takenClear.join(', ')} taken as clear` : ''}`,
  );

  function csv(): (string | number)[][] {
    const all = columnsOf('both');
    const rows = (ray?.steps ?? []).map((step) => [
      titles.get(step.surface) ?? step.surface,
      ...all.map(({ read }) => read(step) ?? ''),
    ]);
    const end = ray?.end
      ? [[`ends at ${titles.get(ray.end.surface) ?? ray.end.surface}: the ray ${ray.end.reason}`]]
      : [];
    return [['surface', ...all.map(({ title }) => title)], ...rows, ...end];
  }

  function change(rays: readonly KeptRay[], label: string) {
    desk.commit([{ kind: 'set', path: `lenses.${lens!.id}.rays`, value: rays.length > 0 ? rays : undefined }], label);
  }

  function keep() {
    let number = 1;
    while (kept.some(({ id }) => id === `ray${number}`)) number++;
    const { source, wavelength } = settings;
    const plainName = keptRayName(lens, source, wavelength);
    const same = kept.filter(({ name: other }) => other?.startsWith(plainName)).length;
    const name = same > 0 ? `${plainName} (${same + 1})` : plainName;
    change([...kept, { id: `ray${number}`, name, wavelength, source, drawn: true }], `Keep ray ${name}`);
  }

  function show(id: string) {
    const found = kept.find((one) => one.id === id);
    if (found) onsettings({ ...settings, source: found.source, wavelength: found.wavelength });
  }
</script>

<Tile title="Ray inspector" {about} testid="ray-tile" carries={query.revision}>
  {#snippet tools()}
    <Button
      small
      aria-pressed={settings.global}
      title="Coordinates of each surface, or of the first vertex"
      data-testid="ray-frame"
      onclick={() => onsettings({ ...settings, global: !settings.global })}
      >{settings.global ? 'global' : 'local'}</Button
    >
    {#if narrow}
      <Button
        small
        aria-pressed={settings.directions}
        title="Direction cosines after each surface in the place of x, y, z"
        data-testid="ray-directions"
        onclick={() => onsettings({ ...settings, directions: !settings.directions })}>L M N</Button
      >
    {/if}
    <Button small data-testid="keep-ray" title="Keep this ray with the project" onclick={keep}>keep</Button>
    <ExportMenu name="ray" exports={{ csv }} />
  {/snippet}
  <div class="content" bind:clientWidth={width}>
    <RaySourceForm {settings} {onsettings} />
    {#if query.answer && !query.answer.ok}
      <p class="bad">✕ {query.answer.reason}</p>
    {:else if ray}
      {#if ray.end}<p class="bad" data-testid="ray-end">
          ✕ The ray {ray.end.reason} at {titles.get(ray.end.surface) ?? ray.end.surface}.
        </p>{/if}
      <Table heads={['', ...columns]}>
        <tbody>
          {#each ray.steps as step (step.surface)}
            <tr data-step={step.surface} class:selected={desk.selected === step.surface}>
              <th scope="row">{titles.get(step.surface) ?? step.surface}</th>
              {#each columns as { title, decimals, read } (title)}
                {@const value = read(step)}
                <td>{value === null ? '–' : fixed(value, decimals)}</td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </Table>
    {/if}
    {#if kept.length > 0}
      <p class="kept" data-testid="kept-rays">
        kept:
        {#each kept as one (one.id)}
          <span>
            <Button small class="name" onclick={() => show(one.id)}>{one.name ?? one.id}</Button>
            <Button
              small
              aria-pressed={one.drawn ?? false}
              title="Draw it in the section"
              onclick={() =>
                change(
                  kept.map((other) => (other.id === one.id ? { ...other, drawn: !other.drawn } : other)),
                  `Draw ${one.name ?? one.id}`,
                )}>{one.drawn ? 'drawn' : 'not drawn'}</Button
            >
            <Button
              small
              aria-label="Give up {one.name ?? one.id}"
              onclick={() =>
                change(
                  kept.filter(({ id }) => id !== one.id),
                  `Give up ${one.name ?? one.id}`,
                )}>−</Button
            >
          </span>
        {/each}
      </p>
    {/if}
  </div>
</Tile>

<style>
  .content {
    height: 100%;
    overflow: auto;
  }

  .selected {
    background: var(--accent-ground);
  }

  .bad {
    margin: 4px 0;
    color: var(--bad);
    font-size: var(--size-small);
  }

  .kept {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    margin: 6px 0 0;
    color: var(--muted);
    font-size: var(--size-small);
  }
</style>
