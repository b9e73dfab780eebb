// `npm run bench -- tolerance`: what a study of the tide camera's 40 tolerances costs, on one thread and on two workers.
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { isMainThread, parentPort } from 'node:worker_threads';
import { readProjectText, type Project } from '@ulvex/core';
import {
  curvesOf,
  influencesOf,
  lotByResponse,
  makeTrials,
  oneByOne,
  responseByDerivatives,
  effectsOfCurves,
  suggestLimits,
  watchedRequirements,
  type OneByOne,
  type StudyInput,
} from '@ulvex/core/tolerance';
import { nativeTrials } from './tolerance-native.ts';
import { answered, withTwoWorkers } from './two-workers.ts';

const root = resolve(import.meta.dirname, '../..');

function tide(): Project {
  const read = readProjectText(readFileSync(join(root, 'samples/tide-camera.ulvex.json'), 'utf8'));
  if (!read.ok) throw new Error('The tide camera cannot be read.');
  return read.project;
}

/** All tolerances and the refocus; the RMS spot of each field, of all colours. */
function study(): StudyInput {
  const project = tide();
  const [lens] = project.lenses;
  const { tolerances, compensators = [] } = project.tolerancing!;
  const watched = lens.fields.points.map(({ id }) => ({
    id,
    measure: 'rms_spot_radius',
    lens: lens.id,
    settings: { field: id },
  }));
  return { project, tolerances, compensators, watched };
}

const SEED = 1;

/** Makes trials: how many seconds that took, and the mean of all spots, µm. */
function made(from: number, to: number): { readonly seconds: number; readonly mean: number } {
  const begun = performance.now();
  const work = makeTrials({ ...study(), seed: SEED }, from, to);
  const values: number[] = [];
  let step = work.next();
  for (; !step.done; step = work.next()) values.push(...step.value.values.map((value) => value ?? NaN));
  if (!step.value.ok) throw new Error(step.value.reason);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return { seconds: (performance.now() - begun) / 1000, mean };
}

/** Trials beside the same in C++, in turn; the spots of both must agree. */
function besideNative(trials: number, rounds: number): void {
  const native = nativeTrials(study(), SEED, trials);
  if (!native) return console.log('no g++: trials are not measured beside C++');
  const ratios = Array.from({ length: rounds }, () => {
    const [own, theirs] = [made(0, trials), native()];
    if (!(Math.abs(own.mean - theirs.checksum) < 1e-6))
      throw new Error(`spots of ${own.mean}, in C++ ${theirs.checksum}`);
    return { ratio: (1000 * own.seconds) / trials / theirs.millisecondsPerTrial, theirs: theirs.millisecondsPerTrial };
  });
  const middle = ratios.sort((a, b) => a.ratio - b.ratio)[rounds >> 1];
  const [least, most] = [ratios[0], ratios[rounds - 1]].map(({ ratio }) => ratio.toFixed(2));
  console.log(
    `a trial over the same in plain C++ (${middle.theirs.toFixed(2)} ms): ${middle.ratio.toFixed(2)} (${least}–${most})`,
  );
}

const onTwo = (trials: number) =>
  withTwoWorkers(
    import.meta.url,
    async (workers) =>
      (await answered(workers, [
        [0, trials / 2],
        [trials / 2, trials],
      ])) / 1000,
  );

function ladder(): { readonly seconds: number; readonly found: OneByOne; readonly input: StudyInput } {
  const input = { ...study(), watched: watchedRequirements(tide()) };
  const begun = performance.now();
  const work = oneByOne(input);
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return { seconds: (performance.now() - begun) / 1000, found: step.value.value, input };
}

/** The median time of the response by derivatives and of its curves, and that of a lot by it. */
function byDerivatives(): { readonly ms: number; readonly lotMs: number } {
  const input = { ...study(), watched: watchedRequirements(tide()) };
  const times: number[] = [];
  const lots: number[] = [];
  for (let round = 0; round < 25; round++) {
    const begun = performance.now();
    const response = responseByDerivatives(input);
    if (!response.ok) throw new Error(response.reason);
    curvesOf(response.value);
    times.push(performance.now() - begun);
    if (round % 5 > 0) continue;
    const from = performance.now();
    lotByResponse(response.value, input.tolerances, SEED, 100_000);
    lots.push(performance.now() - from);
  }
  const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1];
  return { ms: median(times), lotMs: median(lots) };
}

export async function benchTolerance(): Promise<void> {
  made(0, 30); // warm
  const one = made(0, 200).seconds;
  console.log(
    `a trial of the tide camera, 40 tolerances, refocused, RMS spots of its fields: ${(5 * one).toFixed(1)} ms`,
  );
  console.log(`1,000 of them on two workers: ${(await onTwo(1000)).toFixed(1)} s`);
  besideNative(100, 5);
  const response = byDerivatives();
  console.log(`the ladder by derivatives, all requirements: ${response.ms.toFixed(0)} ms`);
  console.log(`100,000 trials by that response: ${response.lotMs.toFixed(0)} ms`);
  const { seconds: whole, found, input } = ladder();
  console.log(`40 tolerances one by one over the requirements, 5 departures each: ${whole.toFixed(2)} s`);
  const sampled = found.influences.map((curves, i) => ({ tolerance: found.tolerances[i].id, curves }));
  const ms = (work: () => void, times: number) => {
    work();
    const begun = performance.now();
    for (let i = 0; i < times; i++) work();
    return (performance.now() - begun) / times;
  };
  console.log(`limits changed, all statistics: ${ms(() => influencesOf(found.tolerances, sampled), 50).toFixed(2)} ms`);
  const nominal = found.nominal.map((value) => (value.ok ? value.value : NaN));
  const limits = watchedRequirements(input.project);
  const effects = effectsOfCurves(found.tolerances, sampled, nominal);
  if (!effects.ok) throw new Error(effects.reason);
  const suggest = () => suggestLimits(found.tolerances, effects.value, limits, { yield: 0.9 });
  console.log(`limits suggested for a yield of 90 %: ${ms(suggest, 3).toFixed(0)} ms`);
}

if (!isMainThread && parentPort) {
  const port = parentPort;
  made(0, 30); // warm
  port.on('message', ([from, to]: [number, number]) => {
    made(from, to);
    port.postMessage('done');
  });
  port.postMessage('warm');
}
