import {
  joint,
  lotByResponse,
  sumUp,
  toleranceTitle,
  type Joint,
  type ResponseLotSummary,
} from '@ulvex/core/tolerance';
import { percent, writeSummary } from './lot.ts';
import type { Streams } from './main.ts';
import { csvRow, type Form, type Study } from './study.ts';

/** The fit error that is good enough, and the most trials that are traced for it. */
const [WANTED, MOST] = [0.05, 4000];

/**
 * Fits the response of the requirements to all tolerances together, makes a lot by it, and writes what follows.
 *
 * @returns whether every requirement has a usable response; what is wrong goes to the error stream
 */
export function response(
  { project, tolerancing, watched }: Study,
  count: number,
  seed: number,
  form: Form,
  streams: Streams,
): boolean {
  const { tolerances, compensators = [] } = tolerancing;
  const work = joint({ project, tolerances, compensators, watched }, { seed, wanted: WANTED, most: MOST });
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) {
    streams.err(step.value.reason);
    return false;
  }
  const fit = step.value.value;
  const lot = lotByResponse(fit.response, tolerances, seed, count);
  if (!lot.ok) {
    streams.err(lot.reason);
    return false;
  }
  const summary = sumUp(lot.value, watched);
  const write = { text: writeText, json: writeJson, csv: writeCsv }[form];
  write({ name: project.name, seed, watched, fit, summary }, streams);
  const bad = fit.quality.flatMap((one, k) =>
    !one || one.verdict === 'unusable'
      ? [`${watched[k].title}: ${one ? verdictOf(fit, k) : 'no response was found'}`]
      : [],
  );
  const bent = fit.quality.flatMap((one) => (one?.verdict === 'unusable' ? one.bends : []));
  const titles = tolerances.filter(({ id }) => bent.includes(id)).map((one) => toleranceTitle(project, one));
  for (const line of bad) streams.err(line);
  if (titles.length > 0) streams.err(`Bent most by ${titles.join(', ')}.`);
  return bad.length === 0;
}

interface Found {
  readonly name: string;
  readonly seed: number;
  readonly watched: Study['watched'];
  readonly fit: Joint;
  readonly summary: ResponseLotSummary;
}

/** How good the response of a requirement is, in words. */
function verdictOf({ quality }: Joint, k: number): string {
  const one = quality[k];
  return one ? `${one.verdict} fit, off by ${percent(one.error)} of its standard deviation` : 'not known';
}

function writeText({ name, seed, watched, fit, summary }: Found, { out }: Streams): void {
  const { trials, passed } = summary;
  const [low, high] = summary.yieldRange.map(percent);
  out(
    `${name}: ${trials} trials by response, seed ${seed}; ${percent(passed / trials)} keep every requirement (${low} to ${high})`,
  );
  out(`${fit.trials} traced trials fitted${fit.lost > 0 ? `, ${fit.lost} of them without all values` : ''}`);
  watched.forEach((one, k) => {
    writeSummary(one, summary.measures[k]?.summary ?? null, 'no response was found', out);
    out(`  ${verdictOf(fit, k)}`);
  });
}

function writeJson({ name, seed, watched, fit, summary }: Found, { out }: Streams): void {
  const { trials, passed, yieldRange } = summary;
  out(
    JSON.stringify({
      name,
      seed,
      trials,
      yield: passed / trials,
      yieldRange,
      traced: fit.trials,
      requirements: watched.map(({ id, title, unit, state, min, max }, k) => ({
        id,
        title,
        unit,
        state,
        min,
        max,
        fit: fit.quality[k],
        ...summary.measures[k]?.summary,
      })),
    }),
  );
}

function writeCsv({ watched, fit, summary }: Found, { out }: Streams): void {
  out(
    csvRow(['requirement', 'unit', 'yield', 'mean', 'standard deviation', '10 %', '50 %', '90 %', '98 %', 'fit error']),
  );
  watched.forEach(({ title, unit }, k) => {
    const found = summary.measures[k]?.summary;
    const numbers = found
      ? [found.yield, found.mean, found.deviation, ...Object.values(found.percentiles)]
      : [null, null, null, null, null, null, null];
    out(csvRow([title, unit, ...numbers, fit.quality[k]?.error ?? null]));
  });
}
