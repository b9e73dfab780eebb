import type { FromWorker, WorkerHandle } from '@ulvex/core';
import { fork } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';

/** Memory of one worker, MB: what needs more is ended. `ULVEX_WORKER_MEMORY_MB`, docs/server.md. */
const MEMORY_MB = Number(process.env.ULVEX_WORKER_MEMORY_MB) || 640;
/** How often it is looked at, ms. */
const LOOK = 100;
/** Bytes of a page of memory, in which the kernel counts. */
const PAGE = 4096;

/**
 * Starts one compute worker as a process of its own: the built one, or its source where there is no build (`npm run
 * dev`). A process and no thread, because the memory of typed arrays counts towards no limit of a thread: its
 * resident size is looked at instead, and a worker over the limit is ended (on Linux, which tells it; elsewhere the
 * limit of the heap alone holds).
 */
export function spawnNodeWorker(): WorkerHandle {
  const built = process.env.ULVEX_WORKER;
  const ready = built !== undefined && existsSync(built);
  const child = fork(ready ? built : resolve('src/lib/server/compute.worker.ts'), [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${MEMORY_MB}`, ...(ready ? [] : ['--import', 'tsx'])],
  });
  let over: string | null = null;
  const watch = setInterval(() => {
    const size = residentBytes(child.pid);
    if (size === null || size <= MEMORY_MB * 1024 * 1024) return;
    over = `it needs more than the ${MEMORY_MB} MB that a computation may take. Ask for less at once.`;
    child.kill('SIGKILL');
  }, LOOK);
  watch.unref();
  child.on('exit', () => clearInterval(watch));
  return {
    post: (message) => void (child.connected && child.send(message, () => {})), // a dead worker is reported by its exit event
    listen(onMessage, onDeath) {
      child.on('message', (message) => onMessage(message as FromWorker));
      child.on('error', (error) => onDeath(error.message));
      child.on('exit', (code, signal) => onDeath(over ?? `the worker ended with ${signal ?? code}`, over === null));
    },
    terminate: () => void child.kill('SIGKILL'),
  };
}

/** How much memory a process holds, bytes; null where the system does not tell. */
function residentBytes(pid: number | undefined): number | null {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * PAGE;
  } catch {
    return null;
  }
}
