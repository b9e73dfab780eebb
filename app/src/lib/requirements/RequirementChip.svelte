<script lang="ts">
  import { findMeasure, standing, type Requirement } from '@ulvex/core';
  import { useDesk } from '$lib/desk/context.ts';
  import { significant, fixed } from '$lib/format.ts';
  import { statesQuestion, worstState } from '$lib/states/requirement-states.ts';

  interface Props {
    requirement: Requirement;
    /** Value and mark only, for a table that says the rest. */
    brief?: boolean;
    /** How it spreads when made; none where that is not shown, or not known. */
    spread?: { readonly mean: number; readonly deviation: number } | undefined;
  }
  let { requirement, brief = false, spread }: Props = $props();
  const desk = useDesk();
  const measure = $derived(findMeasure(requirement.measure));
  const query = desk.live.query(() => statesQuestion(desk.base, requirement));
  const before = desk.referenceLive.query(() =>
    desk.reference ? statesQuestion(desk.reference.project, requirement) : null,
  );
  /** The measured value, of several states that which stands worst to the limits. */
  const found = $derived(query.answer?.ok ? worstState(desk.base, requirement, query.answer.value) : null);
  const was = $derived(
    desk.reference && before.answer?.ok ? worstState(desk.reference.project, requirement, before.answer.value) : null,
  );
  const measured = $derived(found?.outcome ?? query.answer);
  /** How much the reference had less. */
  const change = $derived(
    was?.outcome.ok && found?.outcome.ok ? found.outcome.value.value - was.outcome.value.value : null,
  );
  const now = $derived(found?.outcome.ok ? found.outcome.value : null);
  const value = $derived(now?.value ?? null);
  const stand = $derived(value === null ? null : standing(value, requirement));
  const ownUnit = $derived(now?.unit ?? measure?.unit);
  const unit = $derived(ownUnit ? ` ${ownUnit}` : '');
  const error = $derived(now?.standardError);
  // A sampled value whose error could take it over a limit is close to it, on whichever side it lies.
  const verdict = $derived(
    stand && error !== undefined && Math.abs(stand.margin) < 2 * error
      ? 'close'
      : cautious(stand?.verdict ?? (query.answer ? 'missed' : 'met')),
  );
  /** What is said with a caution is not simply met. */
  function cautious(plain: 'met' | 'close' | 'missed'): 'met' | 'close' | 'missed' {
    return now?.caution && plain === 'met' ? 'close' : plain;
  }
  const marks = { met: '✓', close: '!', missed: '✕' } as const;
  const words = $derived({
    met: 'met',
    close: now?.caution ? 'met, with a caution' : 'met, close to its limit',
    missed: 'missed',
  });
  const tight = $derived(unit === ' °' ? '°' : unit);

  function shown(number: number): string {
    if (Math.abs(number) < 0.001) return error === undefined ? fixed(number, 3) : significant(number, 3);
    return Math.abs(number) >= 10 ? fixed(number, Math.abs(number) >= 1000 ? 1 : 2) : significant(number, 3);
  }

  const caution = $derived(now?.caution);
  const limits = $derived(
    [
      requirement.min === undefined ? null : `at least ${shown(requirement.min)}${tight}`,
      requirement.max === undefined ? null : `at most ${shown(requirement.max)}${tight}`,
    ]
      .filter((part) => part !== null)
      .join(', '),
  );
  /** Where made ones stand, one standard deviation to either side of their mean. */
  const made = $derived.by(() => {
    if (!spread) return null;
    const [from, to] = [-1, 1].map((side) => standing(spread.mean + side * spread.deviation, requirement).place);
    return Number.isFinite(from) && Number.isFinite(to) ? { from, to } : null;
  });
  const why = $derived(measured && !measured.ok ? measured.reason : null);
  const margin = $derived(stand ? `margin ${shown(stand.margin)}${tight}` : '');
  const title = $derived(
    [
      measure?.title,
      limits,
      requirement.state === 'every' && found?.state ? `worst ${found.state}` : null,
      why ?? margin,
      caution,
      now?.how,
    ]
      .filter(Boolean)
      .join('\n'),
  );
</script>

<span
  class="chip {verdict}"
  class:brief
  {title}
  data-explain="measure:{requirement.measure}"
  data-testid="{brief ? 'now' : 'chip'}-{requirement.id}"
  data-value={value ?? ''}
  data-verdict={verdict}
  data-carries={query.revision}
>
  <span class="line">
    {#if !brief}<span class="label">{requirement.label ?? measure?.title ?? requirement.measure}</span>{/if}
    {#if found && requirement.state !== undefined}<span class="state" data-testid="state-of-{requirement.id}"
        >{found.state}</span
      >{/if}
    <strong>{value === null ? '–' : `${shown(value)}${error ? ` ± ${significant(error, 1)}` : ''}${tight}`}</strong>
    {#if caution}<span class="caution" aria-hidden="true">{now?.cautionLabel ?? 'of some rays'}</span>{/if}
    <span class="mark" aria-hidden="true">{marks[verdict]}</span>
    <span class="visually-hidden">{why ?? `${words[verdict]}, ${limits}. ${caution ?? ''}`}</span>
  </span>
  {#if !brief}<span class="under"
      ><svg class="bar" viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
        <line x1="0" x2="100" y1="4.500" y2="4.500" />
        {#if stand}
          <line
            class="allowed"
            x1={100 * (stand.minPlace ?? 0)}
            x2={100 * (stand.maxPlace ?? 1)}
            y1="4.500"
            y2="4.500"
          />
          {#if made}<line class="made" x1={100 * made.from} x2={100 * made.to} y1="4.500" y2="4.500" />{/if}
          <line class="needle" x1={100 * stand.place} x2={100 * stand.place} y1="0" y2="6" />
        {/if}
      </svg>{#if change !== null}<span class="change" title="Change against the reference"
          >{change > 0 ? '+' : ''}{shown(change)}</span
        >{/if}{#if spread}<span
          class="change"
          data-testid="spread-{requirement.id}"
          data-value={spread.deviation}
          title="When made: mean {shown(spread.mean)}{tight}, standard deviation {significant(
            spread.deviation,
            3,
          )}{tight}, by derivatives">σ {significant(spread.deviation, 2)}</span
        >{/if}</span
    >{/if}
</span>

<style>
  .chip {
    display: flex;
    flex-direction: column;
    gap: 1px;
    padding: 2px 8px 3px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--card);
    min-width: 0;
    text-align: left;
    white-space: nowrap;
  }

  .brief {
    border-color: transparent;
    background: none;
  }

  .line {
    display: flex;
    align-items: baseline;
    gap: 7px;
    min-width: 0;
  }

  .line > * {
    flex: none;
  }

  .line > .label {
    flex: 0 1 auto;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    color: var(--muted);
    font-size: var(--size-small);
  }

  .under {
    display: flex;
    gap: 6px;
    align-items: center;
  }

  .bar {
    flex: 1;
    min-width: 0;
    height: 6px;
  }

  line {
    stroke: var(--line);
    stroke-width: 1;
    vector-effect: non-scaling-stroke;
  }

  .allowed {
    stroke: var(--muted);
  }

  .made {
    stroke: var(--accent);
    stroke-width: 4px;
    opacity: 0.55;
  }

  .needle {
    stroke: var(--status);
    stroke-width: 2.5px;
  }

  .mark {
    color: var(--status);
    font-weight: 700;
  }

  .change {
    color: var(--muted);
    font-size: 11px;
    line-height: 1;
  }

  .state {
    color: var(--muted);
    font-size: 11px;
    font-style: italic;
  }

  .caution {
    color: var(--bad);
    font-size: 11px;
  }

  .met {
    --status: var(--ok);
  }

  .close {
    --status: var(--warn);
  }

  .missed {
    --status: var(--bad);
  }

  .close strong,
  .missed strong {
    color: var(--status);
  }
</style>
