import { WorkerPool, type Jobs, type Outcome, type RunningJob } from '@ulvex/core';
import { availableParallelism } from 'node:os';
import { readText } from './body.ts';
import { Gate } from './gate.ts';
import { spawnNodeWorker } from './node-worker.ts';
import { refused, type Refusal } from './refusal.ts';

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
  waitMs: number('ULVEX_WAIT_SECONDS', 30) * 1000,
  stallMs: number('ULVEX_STALL_SECONDS', 10) * 1000,
};

/** How long a job that was given up may go on before its worker is ended, ms. */
const GRACE = 1000;

let pool: WorkerPool<Jobs> | undefined;
let stopping = false;

/** The server stops: running jobs end with a reason, and new requests are refused. */
function stop(): void {
  stopping = true;
  pool?.close();
}
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, stop);

/** The server's workers, started when they are first needed. What takes long leaves one for what is quick. */
export function computePool(): WorkerPool<Jobs> {
  const size = number('ULVEX_WORKERS', Math.max(2, availableParallelism() - 1));
  pool ??= new WorkerPool<Jobs>(spawnNodeWorker, size, () => {}, {
    grace: GRACE,
    slow: { names: ['scan', 'lot', 'trace', 'check'], most: Math.max(1, size - 1) },
  });
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
  if (stopping) return refused(STOPPING);
  let makeRoom = (): void => {};
  const wanted = new Promise<void>((resolve) => (makeRoom = resolve));
  const reader = reading.enter(address, makeRoom);
  if ('refusal' in reader) return refused(reader.refusal);
  const limits = { bytes: LIMITS.bytes, within: LIMITS.bodyMs, wanted };
  const read = await readText(body, limits).finally(reader.leave);
  if ('refusal' in read) return refused(read.refusal);
  const place = computing.enter(address);
  if ('refusal' in place) return refused(place.refusal);
  const { answer, ended } = work(read.text);
  void ended.then(place.leave, place.leave);
  return answer;
}

const STOPPING: Refusal = {
  status: 503,
  reason: 'The server is being stopped. Try again soon.',
  retryAfter: 10,
};

/** What became of a job, or why it is refused. */
export type InTime<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly refusal: Refusal };

/**
 * The result of a job, or the refusal that tells why there is none: what it fails of; that it takes longer than
 * `within` ms from when a worker takes it on,
 * and is ended with the worker; that no worker is free for it within the limit; that the other side has hung up. Never rejects.
 *
 * @param advice - what to do about one that takes too long
 * @param gone - aborts when the other side hangs up
 */
export async function inTime<T>(
  job: RunningJob<Outcome<T>>,
  within: number,
  advice: string,
  gone: AbortSignal,
): Promise<InTime<T>> {
  let why: Refusal | null = null;
  const refuse = (refusal: Refusal, end: () => void) => () => {
    why ??= refusal;
    end();
  };
  const late = refuse({ status: 422, reason: `This takes longer than ${within / 1000} s. ${advice}` }, job.kill);
  const busy = refuse(
    { status: 503, reason: 'All workers are busy. Nothing was computed; try again soon.', retryAfter: 10 },
    job.cancel,
  );
  let timer = setTimeout(busy, LIMITS.waitMs);
  void job.started.then(() => {
    if (why) return;
    clearTimeout(timer);
    timer = setTimeout(late, within);
  });
  const hungUp = refuse({ status: 503, reason: 'The other side has hung up.' }, job.cancel);
  if (gone.aborted) hungUp();
  gone.addEventListener('abort', hungUp, { once: true });
  try {
    const found = await job.result;
    return found.ok ? found : { ok: false, refusal: { status: 422, reason: found.reason } };
  } catch (error) {
    const refusal = why ?? (stopping ? STOPPING : null);
    return {
      ok: false,
      refusal: refusal ?? { status: 422, reason: `This cannot be computed: ${(error as Error).message}` },
    };
  } finally {
    why ??= { status: 503, reason: 'It is over.' };
    clearTimeout(timer);
    gone.removeEventListener('abort', hungUp);
  }
}
