<script lang="ts">
  import { gradeTolerances, GRADES } from '@ulvex/core/tolerance';
  import type { Bar } from '$lib/components/bars.ts';
  import { useDesk } from '$lib/desk/context.ts';
  import { spreadBars } from './spread-bars.ts';
  import { studyOf } from './study-of.ts';

  interface Props {
    /** Bars of the cells, by address. */
    bars: ReadonlyMap<string, Bar>;
  }
  let { bars = $bindable() }: Props = $props();
  const desk = useDesk();
  const study = $derived(studyOf(desk.base));
  const lens = $derived(desk.lensIn(desk.shown));
  /** Tolerances of the project, or those of a precision workshop while it has none. */
  const assumed = $derived(study.tolerances.length === 0);
  const tolerances = $derived(assumed && lens ? gradeTolerances(desk.base, lens, GRADES[1]) : study.tolerances);
  const spots = $derived(study.watched.filter(({ measure }) => measure.startsWith('rms_spot')));
  let wanted = $state<string | null>(null);
  const chosen = $derived(study.watched.find(({ id }) => id === wanted) ?? spots[0] ?? study.watched[0] ?? null);
  const live = desk.live.query(() => {
    if (!chosen || tolerances.length === 0) return null;
    const { id, measure, lens: of, settings, state = 'designed' } = chosen;
    return {
      kind: 'tolerance_response',
      state: 'designed',
      tolerances,
      compensators: study.compensators,
      watched: [{ id, measure, lens: of, settings, state }],
    };
  });
  const reason = $derived(
    live.answer && !live.answer.ok
      ? live.answer.reason
      : live.answer?.ok && live.answer.value.quadratics.every((one) => one === null)
        ? 'not known by derivatives'
        : null,
  );
  $effect(() => {
    bars =
      lens && chosen && live.answer?.ok
        ? spreadBars(desk.base, lens, live.answer.value, chosen.id, chosen.unit)
        : new Map();
    return () => (bars = new Map());
  });
</script>

{#if study.watched.length === 0}
  <p>Set a requirement in Brief to see what its spread comes of.</p>
{:else}
  <p data-testid="sensitivity">
    <label
      >Bars: spread of <select
        value={chosen?.id}
        data-testid="sensitivity-of"
        onchange={(event) => (wanted = event.currentTarget.value)}
        >{#each study.watched as { id, title } (id)}<option value={id}>{title}</option>{/each}</select
      ></label
    >
    by {assumed ? 'the tolerances of a precision workshop' : 'its tolerances'}{reason ? `: ${reason}` : ''}
  </p>
{/if}

<style>
  p {
    margin: 0;
    padding: 2px 4px;
    color: var(--muted);
    font-size: var(--size-small);
  }

  select {
    max-width: 150px;
    padding: 0 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
  }
</style>
