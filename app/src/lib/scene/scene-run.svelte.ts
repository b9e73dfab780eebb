import {
  BATCH,
  chunksOf,
  JobCancelled,
  joinTallies,
  type Jobs,
  type Project,
  type RunningJob,
  type Tally,
  type WorkerPool,
} from '@ulvex/core';

/** Chunks from which on a standard error can be trusted. */
const LEAST_CHUNKS = 16;

/** Jobs that a run is cut into, for each worker: small enough to let other work in between. */
const JOBS_EACH = 4;

/**
 * One run of rays through a scene, on all workers. Batches come from several of them and are joined in the order of their chunks, so
 * that the result is the same to the last bit however many there are.
 */
export class SceneRun {
  readonly #pool: WorkerPool<Jobs>;
  #jobs: RunningJob<unknown>[] = [];
  #waiting: { from: number; to: number }[] = [];
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from what waits to be joined
  #early = new Map<number, Tally>();
  #next = 0;
  #run = 0;
  #asked: { project: Project; scene: string; rays: number } | null = null;

  /** What has been traced so far, without gaps. */
  tally = $state.raw<Tally | null>(null);
  /** The revision of the project that it belongs to; −1 before the first. */
  revision = $state.raw(-1);
  chunks = $state.raw(0);
  state = $state.raw<'idle' | 'running' | 'paused' | 'done' | 'failed'>('idle');
  reason = $state.raw('');
  /** Says of what was traced so far whether it is enough; asked after each batch. */
  enough: (tally: Tally) => boolean = () => false;

  constructor(pool: WorkerPool<Jobs>) {
    this.#pool = pool;
  }

  /** Share done, 0 to 1. */
  get progress(): number {
    return this.chunks === 0 ? 0 : (this.tally?.chunks ?? 0) / this.chunks;
  }

  /** Starts anew for a version of the project; what ran is dropped, its result stays until the first of the new one is there. */
  start(project: Project, scene: string, rays: number, revision: number): void {
    this.stop();
    this.#asked = { project, scene, rays };
    this.#early.clear();
    this.#next = 0;
    this.chunks = chunksOf(rays).count;
    this.#fresh = revision;
    this.#cut(0);
    this.#go();
  }

  #fresh = -1;

  /** Ends what runs; what was found stays. */
  stop(): void {
    this.#run++;
    for (const job of this.#jobs) job.cancel();
    this.#jobs = [];
    this.#waiting = [];
    if (this.state === 'running') this.state = 'paused';
  }

  /** Goes on where it was stopped. */
  resume(): void {
    if (this.state !== 'paused' || !this.#asked) return;
    this.#early.clear();
    this.#cut(this.#next * BATCH);
    this.#go();
  }

  #cut(from: number): void {
    const parts = JOBS_EACH * this.#pool.size;
    const step = Math.max(1, Math.ceil((this.chunks - from) / BATCH / parts)) * BATCH;
    this.#waiting = [];
    for (let at = from; at < this.chunks; at += step)
      this.#waiting.push({ from: at, to: Math.min(this.chunks, at + step) });
  }

  #go(): void {
    this.state = 'running';
    this.reason = '';
    const run = this.#run;
    for (let worker = 0; worker < this.#pool.size; worker++) this.#another(run);
  }

  #another(run: number): void {
    const part = this.#waiting.shift();
    if (!part || !this.#asked) return;
    const job = this.#pool.run('traceScene', { ...this.#asked, ...part }, ({ batch, tally }) => {
      if (run === this.#run) this.#take(batch, tally);
    });
    this.#jobs.push(job);
    job.result.then(
      (outcome) => {
        if (run !== this.#run) return;
        this.#jobs = this.#jobs.filter((one) => one !== job);
        if (!outcome.ok) this.#fail(outcome.reason);
        else if (this.#waiting.length > 0) this.#another(run);
        else if (this.#jobs.length === 0) this.state = 'done';
      },
      (error: Error) => {
        if (run === this.#run && !(error instanceof JobCancelled)) this.#fail(error.message);
      },
    );
  }

  #take(batch: number, tally: Tally): void {
    this.#early.set(batch, tally);
    let joined = this.#next === 0 ? null : this.tally;
    for (let next = this.#early.get(this.#next); next; next = this.#early.get(this.#next)) {
      this.#early.delete(this.#next++);
      joined = joined ? joinTallies(joined, next) : next;
    }
    if (!joined || joined === this.tally) return;
    this.tally = joined;
    this.revision = this.#fresh;
    if (this.state === 'running' && joined.chunks >= LEAST_CHUNKS && this.enough(joined)) {
      this.stop();
      this.state = 'done';
    }
  }

  #fail(reason: string): void {
    this.stop();
    this.state = 'failed';
    this.reason = reason;
    this.tally = null;
    this.revision = this.#fresh;
  }
}
