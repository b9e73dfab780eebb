<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { catalogueMaterial, failure, success, type GlassRules, type Outcome } from '@ulvex/core';
  import { allGlasses, glassShortlist } from '@ulvex/core/improve';
  import Cell from '$lib/components/Cell.svelte';
  import type { GlassChoice } from './glass-choice.svelte.ts';

  interface Props {
    choice: GlassChoice;
    panel: NonNullable<GlassChoice['shown']>;
  }
  let { choice, panel }: Props = $props();
  const open = $derived(choice.shown === panel);
  type Limit = Exclude<keyof GlassRules, 'knownOnly' | 'with' | 'without'>;
  const LIMITS: readonly (readonly [Limit, string, string])[] = [
    ['minIndex', 'nd at least', 'Refractive index at 587.56 nm'],
    ['maxIndex', 'at most', 'Refractive index at 587.56 nm'],
    ['minAbbe', 'Vd at least', 'Abbe number: low dispersion for high ones'],
    ['maxAbbe', 'at most', 'Abbe number: low dispersion for high ones'],
    ['maxCost', 'price at most', 'Price of a blank over that of 517642'],
    ['maxClimate', 'climate at most', 'Class of resistance to humid climate, 1 (best) to 4'],
    ['maxStain', 'stain at most', 'Class of resistance to stains, 0 (best) to 5'],
    ['maxDensity', 'g/cm³ at most', 'Density'],
    ['minBlue', 'τ(400) at least', 'Internal transmittance of 10 mm at 400 nm, 0 to 1'],
  ];
  const taken = $derived(new Set(glassShortlist(choice.rules)));
  const count = $derived(taken.size);
  const byHand = $derived((choice.rules.with?.length ?? 0) + (choice.rules.without?.length ?? 0));

  function read(text: string): Outcome<number | undefined> {
    if (/^\s*(–|-|any)?\s*$/.test(text)) return success(undefined);
    const value = Number(text.trim().replace(',', '.'));
    return value >= 0 ? success(value) : failure('Type a number, or – for any.');
  }

  /** Takes a glass, or excludes it, by hand; back to what the rules say where that is the same. */
  function turn(id: string) {
    const { with: taking = [], without: leaving = [], ...rules } = choice.rules;
    const [kept, left] = [taking, leaving].map((list) => list.filter((one) => one !== id));
    const wanted = !taken.has(id);
    const byRules = glassShortlist(rules).includes(id);
    choice.rules = {
      ...rules,
      with: wanted && !byRules ? [...kept, id] : kept,
      without: !wanted && byRules ? [...left, id] : left,
    };
  }

  function set(limit: Limit, value: number | undefined) {
    const { [limit]: _old, ...rest } = choice.rules;
    choice.rules = value === undefined ? rest : { ...rest, [limit]: value };
  }
</script>

<div class="shortlist" data-testid="shortlist" data-count={count}>
  <Button aria-expanded={open} data-testid="shortlist-open" onclick={() => (choice.shown = open ? null : panel)}
    >{open ? '▾' : '▸'} among {count} of {allGlasses().length} glasses</Button
  >
  {#if open}
    <div class="rules" data-walk>
      {#each LIMITS as [limit, words, meaning], k (limit)}
        <span title={meaning}>{words}</span>
        <Cell
          label="{meaning}: {words}"
          text={choice.rules[limit] === undefined ? '–' : String(choice.rules[limit])}
          muted={choice.rules[limit] === undefined}
          row={k >> 1}
          col={k & 1}
          testid="rule-{limit}"
          {read}
          oncommit={(value) => set(limit, value)}
        />
      {/each}
      <label
        ><input
          type="checkbox"
          checked={choice.rules.knownOnly ?? false}
          onchange={(event) => (choice.rules = { ...choice.rules, knownOnly: event.currentTarget.checked })}
        /> by data of the glass itself only</label
      >
    </div>
    <details>
      <summary>by hand{byHand > 0 ? ` (${byHand})` : ''}</summary>
      <div class="glasses" role="group" aria-label="Glasses by hand">
        {#each allGlasses() as id (id)}
          <button
            class:taken={taken.has(id)}
            aria-pressed={taken.has(id)}
            title={catalogueMaterial(id)?.family}
            data-testid="glass-{id}"
            onclick={() => turn(id)}>{taken.has(id) ? '✓' : '✕'} {id.slice(1)}</button
          >
        {/each}
      </div>
    </details>
    {#if count === 0}<p class="bad">✕ No glass meets all rules: loosen one.</p>{/if}
  {/if}
</div>

<style>
  .glasses {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(72px, 1fr));
    gap: 1px;
    max-height: 150px;
    overflow: auto;
    scrollbar-width: thin;
  }

  .glasses button {
    padding: 0 3px;
    border: 0;
    background: none;
    color: var(--muted);
    font-size: var(--size-small);
    text-align: left;
  }

  .glasses .taken {
    color: var(--ink);
  }

  .glasses button:hover {
    color: var(--accent);
  }

  summary {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .rules {
    display: grid;
    grid-template-columns: 96px 56px 96px 56px;
    gap: 1px 8px;
    align-items: center;
    padding: 4px 0;
    font-size: var(--size-small);
  }

  span {
    color: var(--muted);
    text-align: right;
  }

  label {
    grid-column: span 2;
    color: var(--muted);
  }

  .bad {
    margin: 0;
    color: var(--bad);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
