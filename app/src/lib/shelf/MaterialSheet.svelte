<script lang="ts">
  import {
    abbeNumber,
    DISPERSION_TITLES,
    fillMedium,
    internalTransmittance,
    isSolid,
    nearestMaterials,
    partialDispersion,
    refractiveIndex,
    type Material,
    type FamilyProperty,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { fixed, plain } from '$lib/format.ts';
  import Chart from '$lib/tiles/Chart.svelte';
  import { dispersionOption, type ShelfStyle } from './shelf-charts.ts';

  interface Props {
    material: Material;
    style: ShelfStyle;
    onchoose: (id: string) => void;
  }
  let { material, style, onchoose }: Props = $props();
  const desk = useDesk();
  const lens = $derived(desk.lens);
  const nd = $derived(refractiveIndex(material.dispersion, 587.5618));
  const vd = $derived(abbeNumber(material.dispersion));
  const elements = $derived(
    (lens?.surfaces ?? []).flatMap((surface) =>
      isSolid(desk.project, surface.after)
        ? [{ id: surface.id, name: surface.after!.name ?? surface.id, material: surface.after!.material }]
        : [],
    ),
  );
  let wanted = $state('');
  const target = $derived(elements.find(({ id }) => id === wanted)?.id ?? elements[0]?.id ?? '');
  const neighbours = $derived(
    nd < 2.5 && Number.isFinite(vd)
      ? nearestMaterials(nd, vd, 6)
          .filter((entry) => entry.material.id !== material.id)
          .slice(0, 5)
      : [],
  );
  const middle = $derived(lens?.wavelengths.find(({ id }) => id === lens.primary)?.nm ?? 587.5618);
  const share = $derived(internalTransmittance(material, middle, 10));

  const facts = $derived.by(() => {
    const { thermal, typical = {}, ofFamily = [], range, against, temperature, dispersion } = material;
    const rows: [string, string][] = [];
    /** Marks what is not known of the material itself. */
    const familiar = (property: FamilyProperty) => (ofFamily.includes(property) ? ', typical of its family' : '');
    if (nd > 0) rows.push(['nd', fixed(nd, 5)]);
    if (Number.isFinite(vd)) rows.push(['Vd', fixed(vd, 2)], ['P(g,F)', fixed(partialDispersion(dispersion), 4)]);
    for (const wave of lens?.wavelengths ?? []) {
      const n = refractiveIndex(dispersion, wave.nm);
      rows.push([
        `n at ${plain(wave.nm)} nm`,
        n > 0 && wave.nm >= range[0] && wave.nm <= range[1] ? fixed(n, 6) : 'outside its range',
      ]);
    }
    rows.push(['of use', `${plain(range[0])} – ${plain(range[1])} nm`]);
    rows.push(['given by', DISPERSION_TITLES[dispersion.kind]]);
    rows.push(['against', `${against ?? 'air'} at ${plain(temperature ?? 20)} °C`]);
    if (thermal?.kind === 'linear')
      rows.push(['dn/dT', `${plain(thermal.dndt * 1e6, 4)}·10⁻⁶/K, against ${thermal.against}${familiar('thermal')}`]);
    if (thermal?.kind === 'band') rows.push(['dn/dT', 'by formula, absolute']);
    rows.push([
      'internal transmittance',
      share === null
        ? 'no data: assumed clear'
        : `${fixed(share, 4)} for 10 mm at ${plain(middle)} nm${familiar('transmittance')}`,
    ]);
    const usual: [string, number | undefined, string, FamilyProperty | null][] = [
      ['density', typical.density, 'g/cm³', null],
      ['expansion', typical.expansion, '10⁻⁶/K', 'expansion'],
      ['price against 517642', typical.cost, '×', 'cost'],
      ['climate class', typical.climate, 'of 1–4', 'climate'],
      ['stain class', typical.stain, 'of 0–5', 'stain'],
    ];
    for (const [title, value, unit, property] of usual)
      if (value !== undefined)
        rows.push([title, `${plain(value)} ${unit}${(property && familiar(property)) || ', typical'}`]);
    return rows;
  });

  function use() {
    if (!lens || !target) return;
    const gesture = fillMedium(desk.project, lens, target, material);
    if (gesture.ok) desk.perform(gesture.value);
    const name = elements.find(({ id }) => id === target)!.name;
    desk.notice = {
      tone: 'done',
      title: `${name} is made of ${material.label} now.`,
      action: { label: 'Undo', run: () => desk.undo() },
    };
  }
</script>

<article aria-label="Material {material.label}" data-testid="material-sheet">
  <header>
    <h3>{material.label}</h3>
    <span>{material.family}</span>
    {#if material.trust}<em>{material.trust}, not measured</em>{/if}
  </header>
  {#if elements.length > 0}
    <p class="use">
      <Button onclick={use} data-testid="use-material">Use for</Button>
      <select
        aria-label="Element that the material is used for"
        value={target}
        onchange={(event) => (wanted = event.currentTarget.value)}
      >
        {#each elements as element (element.id)}<option value={element.id}
            >{element.name}{element.material === material.id ? ' ✓' : ''}</option
          >{/each}
      </select>
    </p>
  {/if}
  <div class="curve">
    <Chart
      option={() => dispersionOption(material, lens?.wavelengths ?? [], style)}
      label="Index of {material.label} against the wavelength"
    />
  </div>
  <dl>
    {#each facts as [title, text] (title)}<dt>{title}</dt>
      <dd>{text}</dd>{/each}
  </dl>
  {#if material.note}<p class="note">{material.note}</p>{/if}
  {#if neighbours.length > 0}
    <h4>Nearest measured ones</h4>
    <ul>
      {#each neighbours as near (near.material.id)}
        <li>
          <Button onclick={() => onchoose(near.material.id)}>{near.material.label}</Button>
          <span>Δnd {fixed(near.nd - nd, 5)}</span>
          <span>ΔVd {fixed(near.vd - vd, 2)}</span>
        </li>
      {/each}
    </ul>
  {/if}
</article>

<style>
  article {
    display: flex;
    flex-direction: column;
    gap: 8px;
    min-height: 0;
    padding: 12px 16px;
    border-left: 1px solid var(--line);
    overflow: auto;
  }

  header {
    display: flex;
    flex-wrap: wrap;
    gap: 0 8px;
    align-items: baseline;
  }

  h3 {
    font-size: 16px;
  }

  h4 {
    margin: 4px 0 0;
    font-size: inherit;
  }

  header span,
  dt,
  .note,
  li span {
    color: var(--muted);
  }

  em {
    color: var(--warn);
    font-style: normal;
  }

  .use {
    display: flex;
    gap: 6px;
  }

  .curve {
    flex: 0 0 170px;
  }

  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 2px 12px;
    margin: 0;
  }

  dd {
    margin: 0;
  }

  .note {
    font-size: var(--size-small);
  }

  ul {
    display: grid;
    gap: 3px;
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: grid;
    grid-template-columns: minmax(90px, max-content) 1fr 1fr;
    gap: 10px;
    align-items: center;
  }
</style>
