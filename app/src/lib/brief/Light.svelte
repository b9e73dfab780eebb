<script lang="ts">
  import { freshId, SPECTRAL_LINES, wavelengthLabel } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { waveColour } from '$lib/colours.ts';
  import CellGrid from '$lib/components/CellGrid.svelte';
  import { useDesk } from '$lib/desk/context.ts';

  const desk = useDesk();
  const lens = $derived(desk.lens!);
  const waves = $derived(lens.wavelengths);
  const list = $derived(`lenses.${lens.id}.wavelengths`);
  /** The visible, or as much more as the wavelengths need. */
  const span = $derived.by(() => {
    const all = waves.map(({ nm }) => nm);
    return [Math.min(380, ...all.map((nm) => nm - 20)), Math.max(740, ...all.map((nm) => nm + 20))];
  });
  const heaviest = $derived(Math.max(1e-9, ...waves.map(({ weight }) => weight)));
  const x = $derived((nm: number) => (300 * (nm - span[0])) / (span[1] - span[0]));

  const PRESETS: readonly {
    readonly title: string;
    readonly primary: number;
    readonly lines: readonly (readonly [nm: number, weight: number])[];
  }[] = [
    {
      title: 'visible: F d C',
      primary: 587.5618,
      lines: [
        [486.1327, 1],
        [587.5618, 1],
        [656.2725, 1],
      ],
    },
    {
      title: 'visible: F′ e C′',
      primary: 546.074,
      lines: [
        [479.9914, 1],
        [546.074, 1],
        [643.8469, 1],
      ],
    },
    {
      title: 'visible, five lines',
      primary: 546.074,
      lines: [
        [435.8343, 0.3],
        [486.1327, 0.8],
        [546.074, 1],
        [587.5618, 0.9],
        [656.2725, 0.4],
      ],
    },
    { title: 'helium–neon laser 633 nm', primary: 632.8, lines: [[632.8, 1]] },
    {
      title: 'near infrared 850 ± 25 nm',
      primary: 850,
      lines: [
        [825, 0.5],
        [850, 1],
        [875, 0.5],
      ],
    },
    {
      title: 'near infrared 940 ± 30 nm',
      primary: 940,
      lines: [
        [910, 0.5],
        [940, 1],
        [970, 0.5],
      ],
    },
    { title: 'near infrared 1310 nm', primary: 1310, lines: [[1310, 1]] },
    { title: 'near infrared 1550 nm', primary: 1550, lines: [[1550, 1]] },
  ];

  /** Other wavelengths altogether, as one gesture. */
  function take(title: string) {
    const preset = PRESETS.find((entry) => entry.title === title);
    if (!preset) return;
    const wavelengths = preset.lines.map(([nm, weight], i) => ({ id: `w${i + 1}`, nm, weight }));
    const primary = wavelengths.find(({ nm }) => nm === preset.primary)!.id;
    desk.commit(
      [
        { kind: 'set', path: list, value: wavelengths },
        { kind: 'set', path: `lenses.${lens.id}.primary`, value: primary },
      ],
      `Wavelengths ${title}`,
    );
  }

  function add() {
    const known = new Set(waves.map(({ nm }) => nm));
    const line = SPECTRAL_LINES.find(({ nm }) => nm > 430 && !known.has(nm)) ?? { nm: 550 };
    const item = { id: freshId('w', waves), nm: line.nm, weight: 1 };
    const edits = [{ kind: 'insert', list, after: waves.at(-1)?.id ?? null, item } as const];
    const first =
      waves.length === 0 ? [{ kind: 'set', path: `lenses.${lens.id}.primary`, value: item.id } as const] : [];
    desk.commit([...edits, ...first], 'Add a wavelength');
  }
</script>

<section data-explain="word:wavelengths" aria-label="Wavelengths">
  <h2>Wavelengths</h2>
  <svg viewBox="0 0 300 46" role="img" aria-label="Wavelengths with weights as heights">
    <line x1="0" x2="300" y1="36" y2="36" />
    {#each [400, 500, 600, 700, 800, 1000, 1200].filter((nm) => nm > span[0] && nm < span[1]) as nm (nm)}
      <text x={x(nm)} y="45">{nm}</text>
    {/each}
    {#each waves as { id, nm, weight } (id)}
      <rect
        x={x(nm) - 1.5}
        y={36 - (34 * weight) / heaviest}
        width="3"
        height={(34 * weight) / heaviest}
        style:fill={waveColour(nm)}
      />
    {/each}
  </svg>
  <CellGrid
    columns="90px 100px 70px 60px 24px"
    heads={['line', { number: 'nm, in air' }, { number: 'weight' }, { number: 'primary' }, '']}
  >
    {#each waves as wave, i (wave.id)}
      {@const at = `lenses.${lens.id}.wavelengths.${wave.id}`}
      <span class="name"><i style:background={waveColour(wave.nm)}></i>{wavelengthLabel(wave.nm)}</span>
      <ParameterCell address="{at}.nm" label="Wavelength {wave.id} in nm" row={i} col={0} testid="nm-{wave.id}" />
      <ParameterCell address="{at}.weight" label="Weight of wavelength {wave.id}" row={i} col={1} />
      <input
        type="radio"
        name="primary"
        aria-label="{wavelengthLabel(wave.nm)} is the primary wavelength"
        checked={lens.primary === wave.id}
        onchange={() =>
          desk.commit([{ kind: 'set', path: `lenses.${lens.id}.primary`, value: wave.id }], 'Primary wavelength')}
      />
      <Button
        small
        aria-label="Remove wavelength {wavelengthLabel(wave.nm)}"
        onclick={() =>
          desk.commit([{ kind: 'remove', list, id: wave.id }], `Remove wavelength ${wavelengthLabel(wave.nm)}`)}
        >−</Button
      >
    {/each}
  </CellGrid>
  <Button small onclick={add} data-testid="add-wavelength">+ wavelength</Button>
  <select
    class="add"
    aria-label="Take usual wavelengths"
    data-testid="wavelength-preset"
    value=""
    onchange={(event) => {
      take(event.currentTarget.value);
      event.currentTarget.value = '';
    }}
  >
    <option value="" hidden>usual wavelengths…</option>
    {#each PRESETS as { title } (title)}<option value={title}>{title}</option>{/each}
  </select>
</section>

<style>
  select.add {
    padding: 1px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }

  svg {
    width: 100%;
    max-width: 460px;
  }

  line {
    stroke: var(--muted);
    stroke-width: 0.7px;
  }

  text {
    fill: var(--muted);
    font-size: 8px;
    text-anchor: middle;
  }

  i {
    display: inline-block;
    width: 3px;
    height: 12px;
    margin-right: 8px;
    vertical-align: middle;
  }

  .add {
    align-self: flex-start;
  }

  input[type='radio'] {
    justify-self: end;
    accent-color: var(--accent);
  }
</style>
