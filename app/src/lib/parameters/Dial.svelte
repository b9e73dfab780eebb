<script lang="ts">
  import { findParameter, setParameter } from '@ulvex/core';
  import { untrack } from 'svelte';
  import Button from '$lib/components/Button.svelte';
  import ParameterCell from '$lib/components/ParameterCell.svelte';
  import { useDesk } from '$lib/desk/context.ts';
  import { plain } from '$lib/format.ts';
  import { dialRange, probeValues, rangeTrouble, sensitiveRange, type DialRange } from './dials.ts';
  import { heldWords, numberTitle } from '$lib/desk/number-state.ts';

  interface Props {
    address: string;
    onclose: () => void;
  }
  let { address, onclose }: Props = $props();
  const desk = useDesk();
  const shown = $derived(findParameter(desk.shown, address));
  const kept = $derived(findParameter(desk.project, address));
  const title = $derived(numberTitle(desk.project, address));
  const held = $derived(heldWords(desk.project, address));

  /** Where it stood when the dial was opened: a double click returns there. */
  const begun = untrack(() => (kept.ok ? kept.value : null));
  let range = $state.raw<DialRange>(begun ? dialRange(begun) : { from: 0, to: 1, step: 0.01 });
  let wrong = $state<string | null>(null);

  function edits(value: number) {
    const edit = kept.ok ? setParameter(kept.value, value) : kept;
    return edit.ok ? [edit.value] : [];
  }

  /** A turn that is not in the history yet: keys and clicks that follow each other closely are one gesture. */
  let pending: { readonly value: number; readonly timer: ReturnType<typeof setTimeout> } | null = null;
  const GESTURE = 350;

  function turn(value: number) {
    if (pending) wait(value);
    desk.preview(edits(value));
  }

  function wait(value: number) {
    if (pending) clearTimeout(pending.timer);
    pending = { value, timer: setTimeout(done, GESTURE) };
  }

  function done() {
    if (!pending) return;
    clearTimeout(pending.timer);
    const { value } = pending;
    pending = null;
    desk.commit(edits(value), `Turn ${title}`);
  }
  $effect(() => () => done());

  function back() {
    if (pending) clearTimeout(pending.timer);
    pending = null;
    const start = begun!.value;
    if (kept.ok && kept.value.value === start) desk.endPreview();
    else desk.commit(edits(start), `Turn ${title} back`);
  }

  // As far as changes what is seen: looked at once, beside everything else; what was typed meanwhile stays.
  let judged = $state(false);
  let typed = false;
  $effect(() =>
    untrack(() => {
      const [root, lens] = address.split('.');
      const values = begun && root === 'lenses' ? probeValues(begun) : [];
      if (values.length < 2 || !begun) {
        judged = true;
        return;
      }
      const spots: number[] = [];
      const measures = [{ measure: 'rms_spot_radius', lens, settings: { field: 'all' } }];
      const input = {
        project: desk.project,
        axes: [{ address, values }],
        measures,
        from: 0,
        to: values.length,
      };
      const job = desk.pool.run('scanPart', input, (rows) => {
        for (const {
          measured: [spot],
        } of rows)
          spots.push(spot.ok ? spot.value.value : NaN);
      });
      job.result.then(
        () => {
          const found = sensitiveRange(begun, values, spots);
          if (found && !typed && !pending) range = found;
          judged = true;
        },
        () => (judged = true), // a range that was guessed does
      );
      return () => job.cancel();
    }),
  );

  function bound(key: keyof DialRange, text: string) {
    const next = { ...range, [key]: Number(text.replace('−', '-')) };
    wrong = rangeTrouble(next);
    typed = true;
    if (!wrong) range = next;
  }
</script>

{#if shown.ok && begun}
  <div class="dial" data-testid="dial-{address.split('.').slice(-2).join('-')}" data-judged={judged}>
    <span class="title">{title}</span>
    <input
      class="end"
      aria-label="Left end of the dial of {title}"
      value={plain(range.from, 6)}
      onchange={(event) => bound('from', event.currentTarget.value)}
    />
    <input
      type="range"
      aria-label="Dial of {title}"
      min={range.from}
      max={range.to}
      step={range.step}
      value={shown.value.value}
      disabled={held !== null}
      title={held ?? 'Turn it; a double click returns to its start value'}
      data-testid="dial-range"
      oninput={(event) => turn(Number(event.currentTarget.value))}
      onchange={(event) => wait(Number(event.currentTarget.value))}
      onblur={done}
      ondblclick={back}
    />
    <input
      class="end"
      aria-label="Right end of the dial of {title}"
      value={plain(range.to, 6)}
      onchange={(event) => bound('to', event.currentTarget.value)}
    />
    <span class="value"><ParameterCell {address} label={title} testid="dial-value" /></span>
    <span class="unit">{shown.value.spec.unit}</span>
    <label class="unit"
      >step <input
        class="end"
        value={plain(range.step, 4)}
        onchange={(event) => bound('step', event.currentTarget.value)}
      /></label
    >
    <Button small title="Return to the start value" disabled={held !== null} onclick={back}>⟲</Button>
    <Button small aria-label="Close the dial of {title}" onclick={onclose}>✕</Button>
    {#if wrong}<span class="wrong" role="alert">✕ {wrong}</span>{/if}
  </div>
{/if}

<style>
  .dial {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
  }

  .title {
    font-weight: 600;
  }

  input[type='range'] {
    width: 260px;
    accent-color: var(--accent);
  }

  .end {
    width: 62px;
    padding: 1px 4px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    color: var(--muted);
    font-size: var(--size-small);
    text-align: right;
  }

  .end:hover {
    border-color: var(--line);
  }

  .value {
    width: 92px;
  }

  .unit {
    color: var(--muted);
    font-size: var(--size-small);
  }

  .wrong {
    color: var(--bad);
  }
</style>
