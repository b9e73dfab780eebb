import {
  JobCancelled,
  scanSize,
  type Jobs,
  type MeasureRequest,
  type Project,
  type RunningJob,
  type ScanAxis,
  type ScanRow,
  type WorkerPool,
} from '@ulvex/core';

/** Points that are asked for at a time at first; then as many as a worker does in about `SLICE`. */
const FIRST_PART = 4;
/** ms that one part may hold a worker: what is drawn at once waits no longer for it. */
const SLICE = 60;
const AGAIN = 30;

/** One scan under way: point after point in a worker, behind everything that is drawn at once. */
export class ScanRun {
  readonly #pool: WorkerPool<Jobs>;
  /** Whether what is drawn at once is being computed, or on its way to the screen: the scan waits meanwhile. */
  readonly #busy: () => boolean;
  #run = 0;
  #job: RunningJob<unknown> | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  rows = $state.raw<readonly (ScanRow | undefined)[]>([]);
  done = $state(0);
  of = $state(0);
  state = $state<'idle' | 'running' | 'done' | 'stopped' | 'failed'>('idle');
  reason = $state('');
  /** The project that the rows belong to. */
  project = $state.raw<Project | null>(null);

  constructor(pool: WorkerPool<Jobs>, busy: () => boolean) {
    this.#pool = pool;
    this.#busy = busy;
  }

  start(project: Project, axes: readonly ScanAxis[], measures: readonly MeasureRequest[]): void {
    this.stop();
    this.project = project;
    this.of = scanSize(axes);
    this.done = 0;
    this.rows = new Array<ScanRow | undefined>(this.of).fill(undefined);
    this.state = 'running';
    this.reason = '';
    this.#next(this.#run, { project, axes, measures }, FIRST_PART);
  }

  stop(): void {
    this.#run++;
    clearTimeout(this.#timer);
    this.#job?.cancel();
    this.#job = null;
    if (this.state === 'running') this.state = 'stopped';
  }

  #next(
    run: number,
    input: { project: Project; axes: readonly ScanAxis[]; measures: readonly MeasureRequest[] },
    size: number,
  ): void {
    if (run !== this.#run) return;
    if (this.done >= this.of) {
      this.state = 'done';
      return;
    }
    if (this.#busy()) {
      this.#timer = setTimeout(() => this.#next(run, input, size), AGAIN);
      return;
    }
    const from = this.done;
    const to = Math.min(this.of, from + size);
    const began = performance.now();
    const found: ScanRow[] = [];
    const job = this.#pool.run('scanPart', { ...input, from, to }, (rows) => void found.push(...rows));
    this.#job = job;
    job.result.then(
      (outcome) => {
        if (run !== this.#run) return;
        if (!outcome.ok) {
          this.state = 'failed';
          this.reason = outcome.reason;
          return;
        }
        const rows = [...this.rows];
        found.forEach((row, k) => (rows[from + k] = row));
        this.rows = rows;
        this.done = to;
        const each = (performance.now() - began) / (to - from);
        this.#next(run, input, Math.max(1, Math.min(4 * size, Math.floor(SLICE / each))));
      },
      (error: Error) => {
        if (run !== this.#run || error instanceof JobCancelled) return;
        this.state = 'failed';
        this.reason = error.message;
      },
    );
  }
}
