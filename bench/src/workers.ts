// Workers of this process trace the yardsticks' rays side by side: how much two do over one. Every worker warms up by itself, then all
// begin at a word.
import { isMainThread, parentPort } from 'node:worker_threads';
import { runMirror } from './mirror.ts';
import { runSequential } from './sequential.ts';
import { answered, withTwoWorkers } from './two-workers.ts';

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
  return withTwoWorkers(import.meta.url, async (workers) => {
    const ratios: number[] = [];
    for (let round = 0; round < rounds; round++) {
      const one = await answered([workers[round % 2]], [what]);
      const both = await answered(workers, [what, what]);
      ratios.push((2 * one) / both);
    }
    return ratios;
  });
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
