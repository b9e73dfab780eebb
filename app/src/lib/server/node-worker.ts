import type { WorkerHandle } from '@ulvex/core';
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Worker } from 'node:worker_threads';

/** Memory of one worker: what needs more dies there and not in the server. */
const MEMORY_MB = 512;

/** Starts one compute worker as a thread of Node: the built one, or its source where there is no build (`npm run dev`). */
export function spawnNodeWorker(): WorkerHandle {
  const built = process.env.ULVEX_WORKER;
  const limits = { resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } };
  const worker =
    built && existsSync(built)
      ? new Worker(built, limits)
      : new Worker(resolve('src/lib/server/compute.worker.ts'), {
          ...limits,
          execArgv: ['--import', 'tsx'],
        });
  return {
    post: (message) => worker.postMessage(message),
    listen(onMessage, onDeath) {
      worker.on('message', onMessage);
      worker.on('error', (error) => onDeath(error.message));
      worker.on('exit', (code) => onDeath(`the worker ended with ${code}`));
      worker.on('messageerror', () => onDeath('a message could not be read'));
    },
    terminate: () => void worker.terminate(),
  };
}
