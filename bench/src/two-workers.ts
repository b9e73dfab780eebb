import { once } from 'node:events';
import { Worker } from 'node:worker_threads';

/**
 * Two workers that run a module of ours and have said that they are warm; `use` is given them, and they end after it. The module answers each
 * message by one when its work is done.
 *
 * @param url - of the module
 */
export async function withTwoWorkers<T>(url: string, use: (workers: readonly Worker[]) => Promise<T>): Promise<T> {
  // A worker does not inherit the loader that reads TypeScript: it registers its own.
  const begin = [new URL('../../scripts/typescript.mjs', import.meta.url).href, url]
    .map((one) => `await import(${JSON.stringify(one)});`)
    .join(' ');
  const workers = [0, 1].map(() => new Worker(`(async () => { ${begin} })()`, { eval: true }));
  try {
    await Promise.all(workers.map((worker) => once(worker, 'message')));
    return await use(workers);
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

/** Sends each worker its message at once, and says how many milliseconds it took until all had answered. */
export async function answered(workers: readonly Worker[], messages: readonly unknown[]): Promise<number> {
  const begun = performance.now();
  const answers = workers.map((worker) => once(worker, 'message'));
  workers.forEach((worker, k) => worker.postMessage(messages[k]));
  await Promise.all(answers);
  return performance.now() - begun;
}
