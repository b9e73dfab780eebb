<script lang="ts">
  import { onDestroy, untrack } from 'svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { spreadsOf, type MadeSpread } from './made-spreads.ts';
  import { ResponseLot } from './response-lot.svelte.ts';
  import { studyOf } from './study-of.ts';

  interface Props {
    /** How requirements spread when made, by id: those that derivatives know. */
    spreads: ReadonlyMap<string, MadeSpread>;
  }
  let { spreads = $bindable() }: Props = $props();
  const desk = useDesk();
  const study = $derived(studyOf(desk.base));
  const live = desk.live.query(() =>
    study.tolerances.length === 0 || study.watched.length === 0
      ? null
      : {
          kind: 'tolerance_response',
          state: 'designed',
          tolerances: study.tolerances,
          compensators: study.compensators,
          watched: study.watched.map(({ id, measure, lens, settings, state = 'designed' }) => ({
            id,
            measure,
            lens,
            settings,
            state,
          })),
        },
  );
  const lot = new ResponseLot(desk, { quickOnly: true });
  $effect(() => {
    const response = live.answer?.ok ? live.answer.value : null;
    const watched = (response?.compositions ?? []).flatMap(({ id }) => study.watched.filter((one) => one.id === id));
    const [of, tolerances] = [watched.length === response?.compositions.length ? response : null, study.tolerances];
    untrack(() => lot.ask(of, tolerances, watched));
  });
  $effect(() => {
    spreads = spreadsOf(lot.summary, lot.watched);
  });
  onDestroy(() => (spreads = new Map()));
</script>
