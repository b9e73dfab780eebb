// Workers of this process trace the yardstick's rays side by side: how much two do over one. Every worker warms up by itself, then all
// begin at a word.
import { once } from 'node:events';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { runSequential } from './sequential.ts';

const RAYS = 2_000_000;

/**
 * Rates of two workers over that of one, round by round.
 *
 * @param rounds - how often each is measured, one after the other
 */
export async function workerRatios(rounds: number): Promise<number[]> {
  // A worker does not inherit the loader that reads TypeScript: it registers its own.
  const begin = `import('tsx/esm/api').then(({ register }) => { register(); import(${JSON.stringify(import.meta.url)}); });`;
  const workers = [0, 1].map(() => new Worker(begin, { eval: true }));
  try {
    await Promise.all(workers.map((worker) => once(worker, 'message')));
    const seconds = async (some: readonly Worker[]) => {
      const started = performance.now();
      const answers = some.map((worker) => once(worker, 'message'));
      for (const worker of some) worker.postMessage(RAYS);
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
  runSequential(1_000_000);
  port.on('message', (count: number) => port.postMessage(runSequential(count).alive));
  port.postMessage('warm');
}
