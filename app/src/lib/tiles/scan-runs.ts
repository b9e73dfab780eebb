import type { Jobs, WorkerPool } from '@ulvex/core';
import { ScanRun } from './scan-run.svelte.ts';

/** Runs that are kept: as many scans as boards usually have. */
const KEPT = 8;
const runs = new WeakMap<WorkerPool<Jobs>, Map<string, ScanRun>>();

/** The run of a scan by what it asks: it goes on while one looks at another room, and is there when one comes back. */
export function scanRunOf(pool: WorkerPool<Jobs>, key: string, busy: () => boolean): ScanRun {
  let own = runs.get(pool);
  if (!own) runs.set(pool, (own = new Map<string, ScanRun>()));
  let run = own.get(key);
  if (!run) own.set(key, (run = new ScanRun(pool, busy)));
  else {
    own.delete(key); // the one that was used last is the last to go
    own.set(key, run);
  }
  for (const [oldest, one] of own) {
    if (own.size <= KEPT) break;
    one.stop();
    own.delete(oldest);
  }
  return run;
}
