<script lang="ts">
  import { failure, success, type GlassRules, type Outcome } from '@ulvex/core';
  import { allGlasses, glassShortlist } from '@ulvex/core/improve';
  import Cell from '$lib/components/Cell.svelte';
  import type { GlassChoice } from './run-of.svelte.ts';

  let { choice }: { choice: GlassChoice } = $props();
  type Limit = Exclude<keyof GlassRules, 'knownOnly'>;
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
  const count = $derived(glassShortlist(choice.rules).length);

  function read(text: string): Outcome<number | undefined> {
    if (/^\s*(–|-|any)?\s*$/.test(text)) return success(undefined);
    const value = Number(text.trim().replace(',', '.'));
    return value >= 0 ? success(value) : failure('Type a number, or – for any.');
  }

  function set(limit: Limit, value: number | undefined) {
    const { [limit]: _old, ...rest } = choice.rules;
    choice.rules = value === undefined ? rest : { ...rest, [limit]: value };
  }
</script>

<div class="shortlist" data-testid="shortlist" data-count={count}>
  <button
    aria-expanded={choice.open}
    data-testid="shortlist-open"
    onclick={() => (choice.open = !choice.open)}
    >{choice.open ? '▾' : '▸'} among {count} of {allGlasses().length} glasses</button
  >
  {#if choice.open}
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
        /> only where it is known</label
      >
    </div>
    {#if count === 0}<p class="bad">✕ No glass keeps all of it: loosen a rule.</p>{/if}
  {/if}
</div>

<style>
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

  button {
    padding: 0 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: none;
    color: var(--muted);
  }

  button:hover {
    border-color: var(--accent);
    color: var(--accent);
  }

  input[type='checkbox'] {
    accent-color: var(--accent);
  }
</style>
