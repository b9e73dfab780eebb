<script lang="ts">
  import { failure, parseQuantity, success, type Outcome, type Tolerance } from '@ulvex/core';
  import {
    changeTolerances,
    effectsOfCurves,
    effectsOfResponse,
    toleranceTitle,
    type Effects,
    type Response,
    type Sampled,
    type Suggestion,
  } from '@ulvex/core/tolerance';
  import Button from '$lib/components/Button.svelte';
  import Cell from '$lib/components/Cell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { percent, significant } from '$lib/format.ts';
  import { limitsText } from './groups.ts';
  import type { RoomStudy } from './study-of.ts';

  interface Props {
    study: RoomStudy;
    /** Those that count. */
    tolerances: readonly Tolerance[];
    /** Their curves, in the order of what is watched. */
    curves: readonly Sampled[];
    /** Values of the design, in the same order. */
    nominal: readonly (number | null)[];
    /** All of them together; null while that is not known. */
    response: Response | null;
    onclose: () => void;
  }
  let { study, tolerances, curves, nominal, response, onclose }: Props = $props();
  const desk = useDesk();
  let wanted = $state(0.9);
  let found = $state.raw<Outcome<Suggestion> | null>(null);

  /** What is watched and has a value and a limit, by its place in the study. */
  const watched = $derived(
    study.watched.flatMap((one, k) => {
      const value = nominal[k];
      const known = value !== null && curves.every(({ curves: all }) => all[k].fit);
      return known && (one.min !== undefined || one.max !== undefined) ? [{ k, limits: one, value }] : [];
    }),
  );

  /** What the tolerances do: by the response with all products if it knows everything that counts, by the curves otherwise. */
  const effects = $derived.by((): Outcome<Effects> & { readonly together?: true } => {
    const places = watched.map(({ limits }) => response?.compositions.findIndex(({ id }) => id === limits.id) ?? -1);
    const all = response && effectsOfResponse(response, tolerances, places);
    if (all) return { ...success(all), together: true };
    return effectsOfCurves(
      tolerances,
      curves.map((one) => ({ ...one, curves: watched.map(({ k }) => one.curves[k]) })),
      watched.map(({ value }) => value),
    );
  });

  $effect(() => {
    found = null;
    if (!effects.ok) {
      found = effects;
      return;
    }
    const job = desk.pool.run('suggestLimits', {
      tolerances,
      effects: effects.value,
      limits: watched.map(({ limits }) => limits),
      wish: { yield: wanted },
    });
    job.result.then(
      (answer) => (found = answer),
      () => {}, // asked anew by then
    );
    return () => job.cancel();
  });

  function read(text: string): Outcome<number> {
    const value = parseQuantity(text.replace('%', ''), { kind: 'number' });
    if (!value.ok) return value;
    return value.value > 0 && value.value < 100 ? success(value.value / 100) : failure('Above 0 and below 100 %.');
  }

  function apply({ changes }: Suggestion) {
    const gesture = changeTolerances(
      desk.base,
      new Map(changes.map(({ tolerance, lower, upper }) => [tolerance, { lower, upper }])),
    );
    if (!gesture.ok) desk.notice = { tone: 'refused', title: gesture.reason };
    else {
      desk.commitDesign(gesture.value.edits, `Limits for a yield of ${significant(100 * wanted, 3)} %`);
      onclose();
    }
  }

  const signed = (value: number, text: string) => `${value < 0 ? '−' : '+'}${text.replace(/[-−]/, '')}`;
</script>

<section aria-label="Suggested limits" data-testid="suggestion">
  <p>
    Yield wanted <span class="wanted"
      ><Cell
        label="Wanted yield, %"
        text={significant(100 * wanted, 3)}
        testid="suggest-yield"
        {read}
        oncommit={(value) => (wanted = value)}
      /></span
    >
    %
    {#if found?.ok}
      <Button
        small
        strong
        disabled={found.value.changes.length === 0}
        data-testid="suggest-apply"
        onclick={() => found?.ok && apply(found.value)}>Apply</Button
      >
    {/if}
    <Button small onclick={onclose}>Cancel</Button>
  </p>
  {#if !found}
    <p class="muted">Looking for the loosest limits…</p>
  {:else if !found.ok}
    <p class="bad" role="alert">✕ {found.reason}</p>
  {:else}
    {@const { before, after, met, cost, changes } = found.value}
    <p data-testid="suggest-after" data-value={after}>
      {effects.together ? 'All tolerances together' : 'By the curves, without cross terms'}: {percent(before)} →
      <strong>{percent(after)}</strong>, cost
      {(100 * (cost / tolerances.length)).toFixed(0)} % of now.
      {#if !met}<span class="bad">✕ A quarter of all limits does not suffice.</span>{/if}
    </p>
    <ul>
      <li class="muted">
        <span></span><span></span>
        <span class="number" title="What the yield would lose if this one alone stayed as it is">yield</span>
        <span class="number" title="More or less to pay, in units of a number at its present limits: as 1/limit"
          >cost</span
        >
      </li>
      {#each changes as change (change.tolerance)}
        {@const tolerance = tolerances.find(({ id }) => id === change.tolerance)}
        {#if tolerance}
          <li>
            <span class="name">{toleranceTitle(desk.base, tolerance)}</span>
            <span class="limits">{limitsText(tolerance)} → <strong>{limitsText(change)}</strong></span>
            <span class="number">{signed(change.gain, percent(change.gain))}</span>
            <span class="number">{signed(-change.saved, significant(-change.saved, 2))}</span>
          </li>
        {/if}
      {/each}
    </ul>
  {/if}
</section>

<style>
  section {
    padding: 6px 8px;
    border: 1px solid var(--accent);
    border-radius: var(--radius);
    background: var(--card);
    font-size: var(--size-small);
  }

  p {
    margin: 0 0 4px;
  }

  .wanted {
    display: inline-block;
    width: 46px;
  }

  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }

  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto 46px 42px;
    gap: 0 8px;
    border-top: 1px solid var(--grid);
  }

  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }

  .limits {
    font-variant-numeric: tabular-nums;
  }

  .number {
    font-variant-numeric: tabular-nums;
    text-align: right;
  }

  .muted {
    color: var(--muted);
  }

  .bad {
    color: var(--bad);
  }
</style>
