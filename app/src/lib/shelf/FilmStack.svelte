<script lang="ts">
  import {
    addLayer,
    CATALOGUE,
    failure,
    filmMedia,
    filmOf,
    isGas,
    layerSpecs,
    moveLayer,
    parseQuantity,
    removeLayer,
    setLayerMaterial,
    type Change,
    type Finish,
    type Layer,
  } from '@ulvex/core';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';
  import SpectralCell from '$lib/surface/SpectralCell.svelte';

  interface Props {
    finish: Finish;
    layers: readonly Layer[];
    /** Whether it can be changed: not on the shelf that all projects share. */
    editable: boolean;
  }
  let { finish, layers, editable }: Props = $props();
  const desk = useDesk();

  /** Wavelength at which films are counted in quarter waves, nm. */
  let quarter = $state(550);
  const own = $derived(desk.shown.materials.filter((one) => !isGas(one)));
  const offered = $derived([...own, ...CATALOGUE.filter((one) => !isGas(one) && !own.some(({ id }) => id === one.id))]);
  const media = $derived(filmMedia(desk.shown));
  const at = (id: string) => `finishes.${finish.id}.optics.layers.${id}`;
  const perform = (change: Change | null) => change && desk.commit(change.edits, change.label);

  const indexOf = (layer: Layer) => filmOf(layer, quarter, media)?.n ?? NaN;
  const labelOf = (id: string) => offered.find((one) => one.id === id)?.label ?? `${id} (not in the project)`;

  const read = (text: string) => {
    const found = parseQuantity(text, { kind: 'number', current: NaN });
    return found.ok && !(found.value > 0) ? failure('It must be above 0.') : found;
  };
</script>

<div class="stack">
  <p>
    Films from the outside in. Quarter waves at
    <span class="cell"
      ><Cell
        label="Wavelength of the quarter waves, nm"
        text={plain(quarter, 6)}
        testid="quarter-nm"
        read={(text) => read(text.replace(/\s*nm$/, ''))}
        oncommit={(value) => (quarter = value)}
      /></span
    > nm.
  </p>
  <ol data-testid="film-stack">
    {#each layers as layer, k (layer.id)}
      {@const n = indexOf(layer)}
      <li data-testid="film-{k}">
        <div class="line">
          <span class="number">{k + 1}</span>
          {#if editable}
            <select
              aria-label="Material of film {k + 1}"
              data-testid="film-material-{k}"
              value={layer.material ?? ''}
              onchange={(event) => {
                const material = offered.find(({ id }) => id === event.currentTarget.value) ?? null;
                perform(setLayerMaterial(desk.project, finish, layer, material, quarter));
              }}
            >
              <option value="">index of its own</option>
              {#if layer.material !== undefined && !offered.some(({ id }) => id === layer.material)}<option
                  value={layer.material}>{labelOf(layer.material)}</option
                >{/if}
              {#each offered as one (one.id)}<option value={one.id}>{one.label} · {one.family}</option>{/each}
            </select>
            <Button
              small
              aria-label="Move film {k + 1} outward"
              disabled={k === 0}
              onclick={() => perform(moveLayer(finish, layer.id, -1))}>↑</Button
            >
            <Button
              small
              aria-label="Move film {k + 1} inward"
              disabled={k === layers.length - 1}
              onclick={() => perform(moveLayer(finish, layer.id, 1))}>↓</Button
            >
            <Button
              small
              aria-label="Remove film {k + 1}"
              data-testid="film-remove-{k}"
              disabled={layers.length < 2}
              onclick={() => perform(removeLayer(finish, layer.id))}>✕</Button
            >
          {:else}
            <span class="what"
              >{layer.material === undefined ? `n ${plain(n, 5)}` : labelOf(layer.material)}, {plain(
                layer.thickness,
                6,
              )} nm</span
            >
          {/if}
        </div>
        {#if editable}
          <div class="numbers">
            <label
              ><span>thickness nm</span><ParameterCell
                address="{at(layer.id)}.thickness"
                label="Thickness of film {k + 1}, nm"
                testid="film-thickness-{k}"
              /></label
            >
            <label
              ><span title="n·d over λ/4">quarter waves</span><Cell
                label="Quarter waves of film {k + 1} at {plain(quarter, 6)} nm"
                text={Number.isFinite(n) ? plain((4 * n * layer.thickness) / quarter, 5) : '–'}
                testid="film-quarters-{k}"
                read={(text) =>
                  Number.isFinite(n) ? read(text) : failure('The film has no index at this wavelength.')}
                oncommit={(value) =>
                  desk.commit(
                    [{ kind: 'set', path: `${at(layer.id)}.thickness`, value: (value * quarter) / (4 * n) }],
                    `Thickness of film ${k + 1} of ${finish.name}`,
                  )}
              /></label
            >
            {#if layer.material === undefined}
              {#each layerSpecs(layer).filter(({ spectral }) => spectral) as spec (spec.id)}
                <div class="index">
                  <span>{spec.id === 'index' ? 'n' : 'k'}</span>
                  <SpectralCell
                    {spec}
                    address="{at(layer.id)}.{spec.id}"
                    of="film {k + 1}"
                    testid="film-{spec.id}-{k}"
                  />
                </div>
              {/each}
            {:else}<span class="read">n {Number.isFinite(n) ? plain(n, 6) : 'not known'} at {plain(quarter, 6)} nm</span
              >{/if}
          </div>
        {/if}
      </li>
    {/each}
  </ol>
  {#if editable}
    <p>
      <Button
        small
        data-testid="film-add-outer"
        onclick={() => perform(addLayer(finish, null, { index: 1.38, thickness: quarter / 4 / 1.38 }))}
        >+ outermost film</Button
      >
      <Button
        small
        data-testid="film-add-inner"
        onclick={() =>
          perform(addLayer(finish, layers.at(-1)?.id ?? null, { index: 2.1, thickness: quarter / 4 / 2.1 }))}
        >+ innermost film</Button
      >
    </p>
  {/if}
</div>

<style>
  .stack {
    font-size: var(--size-small);
  }

  p {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
    margin: 4px 0;
    color: var(--muted);
  }

  .cell {
    width: 48px;
    border-bottom: 1px solid var(--line);
  }

  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    padding: 3px 0 4px 6px;
    border-top: 1px solid var(--line);
    border-left: 5px solid var(--glass-3);
  }

  li:nth-child(even) {
    border-left-color: var(--glass-1);
  }

  .line {
    display: flex;
    gap: 4px;
    align-items: center;
  }

  .number {
    width: 18px;
    color: var(--muted);
  }

  select {
    flex: 1;
    min-width: 0;
    padding: 1px 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: var(--ink);
    font-size: inherit;
  }

  .numbers {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 2px 10px;
    padding-left: 22px;
  }

  label,
  .index {
    display: grid;
    grid-template-columns: auto minmax(44px, 1fr);
    gap: 4px;
    align-items: baseline;
    border-bottom: 1px solid var(--line);
    color: var(--ink);
  }

  label span,
  .index > span,
  .read {
    color: var(--muted);
    white-space: nowrap;
  }

  .read {
    grid-column: 1 / -1;
  }
</style>
