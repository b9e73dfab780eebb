import {
  JobCancelled,
  type JobInput,
  type JobPart,
  type JobResult,
  type Jobs,
  type RunningJob,
  type WorkerPool,
} from '@ulvex/core';

/** How a run stands: not begun, waiting for a worker, at work, held, given up, failed, or finished. */
export type RunState = 'none' | 'queued' | 'running' | 'paused' | 'cancelled' | 'failed' | 'done';

/** Who owns runs: where they do their work, and whom they tell that they have begun. */
export interface RunOwner {
  readonly pool: WorkerPool<Jobs>;
  begun(run: Run): void;
}

/**
 * Work that takes long, in one or several jobs of the workers: a trace, a scan, a polish, a search, trials. It belongs to the desk and not to a
 * room, so it goes on while one looks elsewhere, and the header shows it.
 */
export abstract class Run {
  /** What it is called in a list of runs. */
  readonly title: string;
  /** Path of the room where it is looked at. */
  readonly room: string;
  /** Whether it goes on when another project is opened. */
  readonly outlasts: boolean;
  protected readonly pool: WorkerPool<Jobs>;
  readonly #owner: RunOwner;
  #jobs: readonly RunningJob<unknown>[] = [];
  /** Counts beginnings and ends: a job of an earlier one is no longer listened to. */
  #turn = 0;
  state = $state.raw<RunState>('none');
  /** Why it failed; empty otherwise. */
  reason = $state.raw('');
  /** Parts that are done, of how many; of 0 if that is not known. */
  done = $state.raw(0);
  of = $state.raw(0);

  constructor(owner: RunOwner, about: { readonly title: string; readonly room: string; readonly outlasts?: boolean }) {
    this.#owner = owner;
    this.pool = owner.pool;
    this.title = about.title;
    this.room = about.room;
    this.outlasts = about.outlasts ?? false;
  }

  /** Whether it is at work, or waits for a worker. */
  get active(): boolean {
    return this.state === 'queued' || this.state === 'running';
  }

  /** Share done, 0 to 1; null if that is not known. */
  get progress(): number | null {
    return this.of > 0 ? this.done / this.of : null;
  }

  /** Holds it where it is, if it can go on from there. */
  pause(): void {
    if (this.active) this.end('paused');
  }

  /** Gives it up; what it found so far stays. */
  stop(): void {
    if (this.active || this.state === 'paused') this.end('cancelled');
  }

  /** Begins, or goes on: what ran for an earlier beginning is dropped. */
  protected begin(): void {
    this.#drop();
    this.state = 'queued';
    this.reason = '';
    this.#owner.begun(this);
  }

  /** Ends all its jobs. */
  protected end(state: RunState, reason = ''): void {
    this.#drop();
    this.state = state;
    this.reason = reason;
  }

  /** How many of its jobs are under way. */
  protected get jobs(): number {
    return this.#jobs.length;
  }

  /**
   * Has one of its jobs done.
   *
   * @returns its result; null when the run has ended or begun anew meanwhile, or when the job failed, with which the run fails
   */
  protected async work<K extends keyof Jobs & string>(
    name: K,
    input: JobInput<Jobs, K>,
    onPart: (part: JobPart<Jobs, K>) => void = () => {},
  ): Promise<JobResult<Jobs, K> | null> {
    const turn = this.#turn;
    const job = this.pool.run(name, input, (part) => {
      if (turn === this.#turn) onPart(part);
    });
    this.#jobs = [...this.#jobs, job];
    void job.started.then(() => {
      if (turn === this.#turn && this.state === 'queued') this.state = 'running';
    });
    try {
      const result = await job.result;
      return turn === this.#turn ? result : null;
    } catch (error) {
      if (turn === this.#turn && !(error instanceof JobCancelled)) this.end('failed', (error as Error).message);
      return null;
    } finally {
      this.#jobs = this.#jobs.filter((one) => one !== job);
    }
  }

  /**
   * Hands out parts to all workers, each of which gets the next when it is done with one.
   *
   * @param next - the next part; null when there are no more
   * @param one - has a part done; false where the run has ended meanwhile
   * @returns whether all parts were done
   */
  protected async handOut<P>(next: () => P | null, one: (part: P) => Promise<boolean>): Promise<boolean> {
    const worker = async () => {
      for (let part = next(); part !== null; part = next()) if (!(await one(part))) return false;
      return true;
    };
    const ends = await Promise.all(Array.from({ length: this.pool.size }, worker));
    return ends.every(Boolean);
  }

  #drop(): void {
    this.#turn++;
    const jobs = this.#jobs;
    this.#jobs = [];
    for (const job of jobs) job.cancel();
  }
}
