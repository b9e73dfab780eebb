import { failure, WorkerPool, type Jobs, type Outcome, type RunningJob } from '@ulvex/core';
import { availableParallelism } from 'node:os';
import { readText } from './body.ts';
import { Gate } from './gate.ts';
import { spawnNodeWorker } from './node-worker.ts';
import { refused } from './refusal.ts';

const number = (name: string, fallback: number) => {
  const given = Number(process.env[name]);
  return Number.isFinite(given) && given > 0 ? given : fallback;
};

/** What one request may cost; the variables are told in docs/server.md. */
export const LIMITS = {
  bytes: number('ULVEX_MAX_BODY_MB', 8) * 1024 * 1024,
  bodyMs: number('ULVEX_BODY_SECONDS', 10) * 1000,
  measuresMs: number('ULVEX_MEASURES_SECONDS', 20) * 1000,
  scanMs: number('ULVEX_SCAN_SECONDS', 120) * 1000,
};

let pool: WorkerPool<Jobs> | undefined;

/** The server's workers, started when they are first needed; one thread is left for answering. */
export function computePool(): WorkerPool<Jobs> {
  pool ??= new WorkerPool<Jobs>(
    spawnNodeWorker,
    number('ULVEX_WORKERS', Math.max(1, availableParallelism() - 1)),
  );
  return pool;
}

/** Bodies being read, and jobs that run or wait for a worker. */
const reading = new Gate({ overall: 64, each: 32, what: 'requests' });
const computing = new Gate({ overall: 24, each: 12, what: 'computations' });

/** Work on a request that was let in: its answer, and when it no longer costs anything. */
export interface Work {
  readonly answer: Promise<Response>;
  readonly ended: Promise<unknown>;
}

/**
 * Takes a request in: reads its body within the limits and hands its text to the work, which counts as a computation until it has
 * ended. What is not let in is answered with a reason.
 */
export async function admit(
  address: string,
  body: ReadableStream<Uint8Array> | null,
  work: (text: string) => Work,
): Promise<Response> {
  const reader = reading.enter(address);
  if ('refusal' in reader) return refused(reader.refusal);
  const read = await readText(body, { bytes: LIMITS.bytes, within: LIMITS.bodyMs }).finally(reader.leave);
  if ('refusal' in read) return refused(read.refusal);
  const place = computing.enter(address);
  if ('refusal' in place) return refused(place.refusal);
  const { answer, ended } = work(read.text);
  void ended.then(place.leave, place.leave);
  return answer;
}

/**
 * The result of a job; a failure in words when the job fails, or takes longer than `within` ms and is ended with its worker. Never
 * rejects.
 *
 * @param advice - what to do about one that takes too long
 */
export async function inTime<T>(
  job: RunningJob<Outcome<T>>,
  within: number,
  advice: string,
): Promise<Outcome<T>> {
  let late = false;
  const timer = setTimeout(() => {
    late = true;
    job.kill();
  }, within);
  try {
    return await job.result;
  } catch (error) {
    if (late) return failure(`This takes longer than ${within / 1000} s. ${advice}`);
    return failure(`This cannot be computed: ${(error as Error).message}`);
  } finally {
    clearTimeout(timer);
  }
}
