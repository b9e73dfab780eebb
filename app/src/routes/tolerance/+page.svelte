<script lang="ts">
  import { untrack } from 'svelte';
  import { inUnits, stateOfMade, type LotTrial, type Response } from '@ulvex/core/tolerance';
  import Trouble from '$lib/components/Trouble.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import Ladder from '$lib/tolerance/Ladder.svelte';
  import ByResponse from '$lib/tolerance/ByResponse.svelte';
  import Lot from '$lib/tolerance/Lot.svelte';
  import MadeSection from '$lib/tolerance/MadeSection.svelte';
  import { studiesOf } from '$lib/tolerance/runs-of.ts';
  import { studyOf } from '$lib/tolerance/study-of.ts';
  import Tolerances from '$lib/tolerance/Tolerances.svelte';

  const desk = useDesk();
  const { ladder, lot, joint } = $derived(studiesOf(desk));
  $effect(() => {
    const run = lot;
    untrack(() => run.takeUp());
  });
  const study = $derived(studyOf(desk.base));
  /** Units as they were found: those of detectors depend on what is counted. */
  const units = $derived(
    new Map(
      [ladder, lot].flatMap((run) =>
        inUnits(run.study?.watched ?? [], run.design.units).flatMap(({ id, unit }) =>
          unit.includes(',') ? [] : [[id, unit]],
        ),
      ) as [string, string][],
    ),
  );
  /** Requirements with the limits that are being typed or dragged. */
  const watched = $derived(
    studyOf(desk.shown).watched.map((one) => ({
      ...one,
      unit: units.get(one.id) ?? (one.unit.includes(',') ? '' : one.unit),
    })),
  );
  let looked = $state<string | null>(null);
  let chosen = $state<string | null>(null);
  const at = $derived(watched.find(({ id }) => id === looked) ?? watched[0] ?? null);
  const tolerance = $derived(desk.shown.tolerancing?.tolerances.find(({ id }) => id === chosen) ?? null);

  /** All tolerances by derivatives at the design. */
  const live = desk.live.query(() => {
    const { tolerances, compensators } = study;
    if (desk.made || tolerances.length === 0 || study.watched.length === 0) return null;
    const questions = study.watched.map(({ id, measure, lens, settings, state = 'designed' }) => ({
      id,
      measure,
      lens,
      settings,
      state,
    }));
    return { kind: 'tolerance_response', state: 'designed', tolerances, compensators, watched: questions };
  });
  /** The last that is known stays while a trial is looked at. */
  let response = $state.raw<Response | null>(null);
  $effect(() => {
    if (live.answer?.ok) response = live.answer.value;
    else if (!desk.made) response = null;
  });
  const isResponseKnown = $derived(response?.quadratics.some((one) => one !== null) ?? false);
  const WAYS = [
    ['response', 'By response', '100,000 trials by derivatives at the design, at once'],
    ['traced', 'Traced trials', 'Every trial traced in full'],
  ] as const;
  /** How a lot is looked at, once it was chosen. */
  let way = $state<'response' | 'traced' | null>(null);
  const wayNow = $derived(way ?? (lot.trials.length > 0 || lot.active || !isResponseKnown ? 'traced' : 'response'));

  async function open(trial: LotTrial) {
    if (desk.made?.trial === trial.trial) return desk.lookAtMade(null);
    const { study: made, seed } = lot;
    if (!made) return;
    const job = desk.pool.run('trialProject', { lot: { ...made, seed }, trial: trial.trial });
    const found = await desk.awaiting(job.result);
    if (found.ok) desk.lookAtMade({ title: `Trial ${trial.trial}`, trial: trial.trial, project: found.value });
    else desk.notice = { tone: 'refused', title: `Trial ${trial.trial} cannot be shown: ${found.reason}` };
  }

  /** The trial that is looked at, as a state of the model. */
  function keepAsState() {
    if (!desk.made) return;
    const { title, project } = desk.made;
    const kept = stateOfMade(desk.base, project, title);
    if (!kept.ok) {
      desk.notice = { tone: 'refused', title: kept.reason };
      return;
    }
    const { edits, label, missing } = kept.value;
    desk.commitDesign(edits, label);
    desk.notice = {
      tone: 'done',
      title: `“${title}” is a state now.${missing.length > 0 ? ` It lacks the errors of figure: the design has no numbers for them.` : ''}`,
    };
  }
</script>

<div class="room">
  <div class="column">
    <svelte:boundary>
      <Tolerances bind:chosen />
      {#snippet failed(error, reset)}<Trouble what="list of tolerances" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
  <div class="column middle">
    <svelte:boundary>
      {#if watched.length > 1}
        <label class="watched"
          >Watch <select value={at?.id} data-testid="watched" onchange={(event) => (looked = event.currentTarget.value)}
            >{#each watched as { id, title, unit } (id)}<option value={id}>{title}{unit && `, ${unit}`}</option
              >{/each}</select
          ></label
        >
      {/if}
      <div class="ladder">
        <Ladder
          run={ladder}
          {response}
          fitted={joint.isOf(study) ? (joint.joint?.response ?? null) : null}
          {study}
          watched={at}
          bind:chosen
        />
      </div>
      {#if desk.lens}<MadeSection {tolerance} />{/if}
      {#snippet failed(error, reset)}<Trouble what="study one by one" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
  <div class="column last">
    <svelte:boundary>
      <div class="ways" role="radiogroup" aria-label="How lots are made">
        {#each WAYS as [id, word, meaning] (id)}
          <label title={meaning}
            ><input
              type="radio"
              name="way"
              checked={wayNow === id}
              data-testid="way-{id}"
              onchange={() => (way = id)}
            />{word}</label
          >
        {/each}
      </div>
      {#if wayNow === 'response'}
        <ByResponse
          run={joint}
          {study}
          {response}
          pending={live.pending}
          reason={live.answer && !live.answer.ok ? live.answer.reason : ''}
          {watched}
          bind:looked={() => at?.id ?? null, (id) => (looked = id)}
        />
      {:else}<Lot
          run={lot}
          {study}
          {watched}
          bind:looked={() => at?.id ?? null, (id) => (looked = id)}
          nominals={lot.design.values}
          opened={desk.made?.trial ?? null}
          onopen={(trial) => void open(trial)}
          onkeep={keepAsState}
        />{/if}
      {#snippet failed(error, reset)}<Trouble what="lot" {error} {reset} />{/snippet}
    </svelte:boundary>
  </div>
</div>

<style>
  .room {
    display: grid;
    grid-template-columns: minmax(350px, 0.95fr) minmax(300px, 0.85fr) minmax(420px, 1.2fr);
    height: 100%;
  }

  .column {
    min-width: 0;
    min-height: 0;
    overflow: auto;
    scrollbar-width: thin;
  }

  .column + .column {
    border-left: 1px solid var(--line);
  }

  .last {
    display: flex;
    flex-direction: column;
  }

  .last > :global(.lot) {
    flex: 1;
    min-height: 0;
  }

  .ways {
    display: flex;
    gap: 14px;
    padding: 8px 12px 0;
    font-size: var(--size-small);
  }

  .ways label {
    display: inline-flex;
    gap: 4px;
    align-items: center;
  }

  .ways input {
    margin: 0;
    accent-color: var(--accent);
  }

  .middle {
    display: flex;
    flex-direction: column;
    overflow: hidden;
  }

  .ladder {
    flex: 1;
    min-height: 0;
    overflow: auto;
    scrollbar-width: thin;
  }

  .watched {
    padding: 8px 12px 0;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .watched select {
    max-width: calc(100% - 50px);
    padding: 0 4px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    color: var(--ink);
  }
</style>
