import {
  compensatorTitle,
  compensatorUnit,
  inUnits,
  keeps,
  makeTrials,
  summaryOf,
  type LotSummary,
  type LotTrial,
  type WatchedRequirement,
} from '@ulvex/core/tolerance';
import type { Streams } from './main.ts';
import { csvRow, shown, type Form, type Study } from './study.ts';

interface Made {
  readonly name: string;
  readonly seed: number;
  readonly watched: readonly WatchedRequirement[];
  readonly trials: readonly LotTrial[];
  /** By requirement; null where no trial has a value. */
  readonly summaries: readonly (LotSummary | null)[];
  /** What is set after making, with its unit: in the order of `moved`. */
  readonly moves: readonly string[];
  /** Whether each trial keeps all requirements. */
  readonly passed: readonly boolean[];
}

/**
 * Makes a lot at random, each trial compensated and evaluated in full, and writes what follows for the requirements.
 *
 * @returns whether the lot could be made; trials without a value are part of the result
 */
export function lot(
  { project, tolerancing, watched }: Study,
  count: number,
  seed: number,
  form: Form,
  streams: Streams,
) {
  const { tolerances, compensators = [] } = tolerancing;
  const work = makeTrials({ project, tolerances, compensators, watched, seed }, 0, count);
  const trials: LotTrial[] = [];
  let step = work.next();
  for (; !step.done; step = work.next()) trials.push(step.value);
  if (!step.value.ok) {
    streams.err(step.value.reason);
    return false;
  }
  const summaries = watched.map((limits, k) =>
    summaryOf(
      trials.map(({ values }) => values[k]),
      limits,
      trials.map(({ errors }) => errors?.[k] ?? null),
    ),
  );
  const passed = trials.map(({ values }) => values.every((value, k) => keeps(value, watched[k])));
  const made = {
    name: project.name,
    seed,
    watched: inUnits(watched, step.value.value.units),
    trials,
    summaries,
    moves: compensators.map((one) => {
      const unit = compensatorUnit(project, one);
      return `${compensatorTitle(project, one)}${unit && `, ${unit}`}`;
    }),
    passed,
  };
  ({ text: writeText, json: writeJson, csv: writeCsv })[form](made, streams);
  return true;
}

export const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

/** What a lot comes to for one requirement, as text. */
export function writeSummary(
  { title, unit, min, max }: WatchedRequirement,
  summary: LotSummary | null,
  missing: string,
  out: Streams['out'],
): void {
  const limits = [
    ...(min === undefined ? [] : [`at least ${shown(min)}`]),
    ...(max === undefined ? [] : [`at most ${shown(max)}`]),
  ];
  out('');
  out(`${title}${unit && `, ${unit}`}: ${limits.join(', ') || 'no limits'}`);
  if (!summary) return out(`  ${missing}`);
  const { mean, meanError, deviation, percentiles, least, largest, yield: share, yieldRange, normal } = summary;
  const cpk = normal.cpk === null ? '' : `, Cpk ${shown(normal.cpk)}`;
  out(`  yield ${percent(share)} (${percent(yieldRange[0])} to ${percent(yieldRange[1])} at 95 %)${cpk}`);
  out(`  mean ${shown(mean)} ± ${shown(meanError)}, standard deviation ${shown(deviation)}`);
  if (summary.noise) {
    const { spread, spreadRange, deviation: byRays } = summary.noise;
    const [low, high] = spreadRange.map((value) => shown(value));
    out(`  of it by tolerances ${shown(spread)} (${low} to ${high}), by rays ${shown(byRays)}`);
  }
  const { p10, p50, p90, p98 } = percentiles;
  out(
    `  ${shown(least)} … 10 %: ${shown(p10)}, 50 %: ${shown(p50)}, 90 %: ${shown(p90)}, 98 %: ${shown(p98)} … ${shown(largest)}`,
  );
}

function writeText({ name, seed, watched, moves, trials, summaries, passed }: Made, { out }: Streams): void {
  const good = passed.filter(Boolean).length;
  out(`${name}: ${trials.length} trials, seed ${seed}; ${percent(good / trials.length)} keep every requirement`);
  watched.forEach((one, k) => writeSummary(one, summaries[k], 'no trial has a value', out));
  if (moves.length > 0) {
    out('');
    out('Set after making');
  }
  moves.forEach((move, k) => {
    const found = summaryOf(
      trials.flatMap(({ moved }) => (moved.length > k ? [moved[k]] : [])),
      {},
    );
    if (found)
      out(
        `  ${move}: mean ${shown(found.mean)}, standard deviation ${shown(found.deviation)}, ${shown(found.least)} … ${shown(found.largest)}`,
      );
  });
  const lost = trials.filter(({ reason }) => reason !== undefined);
  if (lost.length > 0) {
    out('');
    out(`${lost.length} without a value; the first is trial ${lost[0].trial}: ${lost[0].reason}`);
  }
}

function writeJson({ name, seed, watched, trials, summaries, passed }: Made, { out }: Streams): void {
  out(
    JSON.stringify({
      name,
      seed,
      yield: passed.filter(Boolean).length / trials.length,
      requirements: watched.map(({ id, title, unit, state, min, max }, k) => ({
        id,
        title,
        unit,
        state,
        min,
        max,
        ...summaries[k],
      })),
      trials: trials.map((trial, i) => ({ ...trial, passed: passed[i] })),
    }),
  );
}

function writeCsv({ watched, moves, trials, passed }: Made, { out }: Streams): void {
  const measures = watched.map(({ title, unit }) => `${title}${unit && `, ${unit}`}`);
  out(csvRow(['trial', ...measures, ...moves, 'passed', 'reason']));
  trials.forEach((one, i) =>
    out(csvRow([one.trial, ...one.values, ...one.moved, passed[i] ? 1 : 0, one.reason ?? ''])),
  );
}
