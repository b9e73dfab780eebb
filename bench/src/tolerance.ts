// `npm run bench -- tolerance`: what a study of the tide camera's 40 tolerances costs, on one thread and on two workers.
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { isMainThread, parentPort } from 'node:worker_threads';
import { readProjectText, type Project } from '@ulvex/core';
import {
  influencesOf,
  makeTrials,
  oneByOne,
  suggestLimits,
  watchedRequirements,
  type OneByOne,
  type StudyInput,
} from '@ulvex/core/tolerance';
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

/** Makes trials, and says how many seconds that took. */
function seconds(from: number, to: number): number {
  const begun = performance.now();
  const work = makeTrials({ ...study(), seed: 1 }, from, to);
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return (performance.now() - begun) / 1000;
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

export async function benchTolerance(): Promise<void> {
  seconds(0, 30); // warm
  const one = seconds(0, 200);
  console.log(
    `a trial of the tide camera, 40 tolerances, refocused, RMS spots of its fields: ${(5 * one).toFixed(1)} ms`,
  );
  console.log(`1,000 of them on two workers: ${(await onTwo(1000)).toFixed(1)} s`);
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
  const suggest = () => suggestLimits(found.tolerances, sampled, nominal, limits, { yield: 0.9 });
  console.log(`limits suggested for a yield of 90 %: ${ms(suggest, 3).toFixed(0)} ms`);
}

if (!isMainThread && parentPort) {
  const port = parentPort;
  seconds(0, 30); // warm
  port.on('message', ([from, to]: [number, number]) => {
    seconds(from, to);
    port.postMessage('done');
  });
  port.postMessage('warm');
}
