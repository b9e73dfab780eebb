// Workers of this process trace the yardsticks' rays side by side: how much two do over one. Every worker warms up by itself, then all
// begin at a word.
import { once } from 'node:events';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { runMirror } from './mirror.ts';
import { runSequential } from './sequential.ts';

/** What is done, with as many rays as take some tenths of a second. */
const WORK = {
  sequential: { rays: 2_000_000, run: runSequential },
  mirror: { rays: 2_000_000, run: runMirror },
};

/**
 * Rates of two workers over that of one, round by round.
 *
 * @param what - the work
 * @param rounds - how often each is measured, one after the other
 */
export async function workerRatios(what: keyof typeof WORK, rounds: number): Promise<number[]> {
  // A worker does not inherit the loader that reads TypeScript: it registers its own.
  const begin = [new URL('../../scripts/typescript.mjs', import.meta.url).href, import.meta.url]
    .map((url) => `await import(${JSON.stringify(url)});`)
    .join(' ');
  const workers = [0, 1].map(() => new Worker(`(async () => { ${begin} })()`, { eval: true }));
  try {
    await Promise.all(workers.map((worker) => once(worker, 'message')));
    const seconds = async (some: readonly Worker[]) => {
      const started = performance.now();
      const answers = some.map((worker) => once(worker, 'message'));
      for (const worker of some) worker.postMessage(what);
      await Promise.all(answers);
      return performance.now() - started;
    };
    const ratios: number[] = [];
    for (let round = 0; round < rounds; round++) {
      const one = await seconds([workers[round % 2]]);
      const both = await seconds(workers);
      ratios.push((2 * one) / both);
    }
    return ratios;
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

if (!isMainThread && parentPort) {
  const port = parentPort;
  for (const { rays, run } of Object.values(WORK)) run(rays / 2); // warm
  port.on('message', (what: keyof typeof WORK) => {
    WORK[what].run(WORK[what].rays);
    port.postMessage('done');
  });
  port.postMessage('warm');
}
