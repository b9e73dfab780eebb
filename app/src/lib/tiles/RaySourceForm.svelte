<script lang="ts">
  import { surfaceTitle, wavelengthName, type RaySource } from '@ulvex/core';
  import Cell from '$lib/components/Cell.svelte';
  import { nudged, numberReader } from '$lib/components/number-cell.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { fieldLabel } from '$lib/desk/labels.ts';
  import { exactText, plain } from '$lib/format.ts';
  import { sourceOfKind, type RaySettings } from './ray-settings.ts';

  interface Props {
    settings: RaySettings;
    onsettings: (settings: RaySettings) => void;
  }
  let { settings, onsettings }: Props = $props();
  const desk = useDesk();
  const lens = $derived(desk.lens);
  const source = $derived(settings.source);

  const KINDS: readonly { readonly kind: RaySource['kind']; readonly title: string }[] = [
    { kind: 'pupil', title: 'through the pupil' },
    { kind: 'aimed', title: 'aimed at a surface' },
    { kind: 'launched', title: 'launched' },
  ];
  /** Numbers of each kind: key, title, unit, largest size. */
  const NUMBERS: Readonly<Record<RaySource['kind'], readonly (readonly [string, string, string, number])[]>> = {
    pupil: [
      ['px', 'px', '', 1],
      ['py', 'py', '', 1],
    ],
    aimed: [
      ['x', 'x', 'mm', Infinity],
      ['y', 'y', 'mm', Infinity],
    ],
    launched: [
      ['x', 'x', 'mm', Infinity],
      ['y', 'y', 'mm', Infinity],
      ['z', 'z', 'mm', Infinity],
      ['tx', 'θx', '°', 90],
      ['ty', 'θy', '°', 90],
    ],
  };

  function set(change: Partial<Record<string, unknown>>) {
    onsettings({ ...settings, source: { ...source, ...change } as RaySource });
  }

  const reader = (unit: string, limit: number, current: number) =>
    numberReader(
      { kind: unit === '°' ? 'angle' : unit === 'mm' ? 'length' : 'number', current, allowInfinity: false },
      (value) => {
        if (limit === 90) return Math.abs(value) < 90 ? null : 'An angle must lie between −90° and 90°.';
        return Math.abs(value) <= limit ? null : `It must lie between −${limit} and ${limit}.`;
      },
    );
</script>

<div class="form">
  <select
    aria-label="How the ray is chosen"
    data-testid="ray-kind"
    value={source.kind}
    onchange={(event) =>
      onsettings({
        ...settings,
        source: sourceOfKind(event.currentTarget.value as RaySource['kind'], source, lens),
      })}
  >
    {#each KINDS as { kind, title } (kind)}<option value={kind}>{title}</option>{/each}
  </select>
  {#if source.kind !== 'launched' && lens}
    <select
      aria-label="Field of the ray"
      data-testid="ray-field"
      value={source.field}
      onchange={(event) => set({ field: event.currentTarget.value })}
    >
      {#each lens.fields.points as point (point.id)}<option value={point.id}
          >{fieldLabel(lens.fields.kind, point)} {point.id}</option
        >{/each}
    </select>
  {/if}
  {#if source.kind === 'aimed' && lens}
    <select
      aria-label="Surface that the ray is aimed at"
      value={source.surface}
      onchange={(event) => set({ surface: event.currentTarget.value })}
    >
      {#each lens.surfaces as surface, index (surface.id)}<option value={surface.id}>{surfaceTitle(lens, index)}</option
        >{/each}
    </select>
  {/if}
  {#each NUMBERS[source.kind] as [key, title, unit, limit] (key)}
    {@const value = (source as unknown as Record<string, number>)[key]}
    <label
      ><span>{title}{unit ? ` ${unit}` : ''}</span>
      <Cell
        label="{title} of the ray{unit ? ` in ${unit}` : ''}"
        testid="ray-{key}"
        text={plain(value, 6)}
        exact={exactText(value)}
        read={reader(unit, limit, value)}
        nudge={nudged}
        onpreview={(next) => set({ [key]: next })}
        oncommit={(next) => set({ [key]: next })}
      /></label
    >
  {/each}
  {#if lens}
    <select
      aria-label="Wavelength of the ray"
      value={settings.wavelength ?? ''}
      onchange={(event) => onsettings({ ...settings, wavelength: event.currentTarget.value || null })}
    >
      <option value="">primary</option>
      {#each lens.wavelengths as { id, nm } (id)}<option value={id}>{wavelengthName(nm)}</option>{/each}
    </select>
  {/if}
</div>

<style>
  .form {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 8px;
    align-items: center;
    font-size: var(--size-small);
  }

  select {
    padding: 0 2px;
  }

  label {
    display: grid;
    grid-template-columns: auto 58px;
    gap: 3px;
    align-items: center;
    border-bottom: 1px solid var(--line);
  }

  span {
    color: var(--muted);
  }
</style>
