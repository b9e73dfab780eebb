import { scanSize, type MeasureRequest, type Project, type ScanAxis, type ScanRow } from '@ulvex/core';
import { Run, type RunOwner } from '../compute/run.svelte.ts';

/** Points that are asked for at a time at first; then as many as a worker does in about `SLICE`. */
const FIRST_PART = 4;
/** ms that one part may hold a worker: what is drawn at once waits no longer for it. */
const SLICE = 60;
const AGAIN = 30;

interface ScanInput {
  readonly project: Project;
  readonly axes: readonly ScanAxis[];
  readonly measures: readonly MeasureRequest[];
}

/** A scan under way: point after point in a worker, behind everything that is drawn at once. Its parts are points. */
export class ScanRun extends Run {
  /** Whether what is drawn at once is being computed, or on its way to the screen: the scan waits meanwhile. */
  readonly #busy: () => boolean;
  #timer: ReturnType<typeof setTimeout> | undefined;
  rows = $state.raw<readonly (ScanRow | undefined)[]>([]);
  /** The project that the rows belong to. */
  project = $state.raw<Project | null>(null);

  constructor(owner: RunOwner, busy: () => boolean) {
    super(owner, { title: 'Scan', room: '/study' });
    this.#busy = busy;
  }

  start(project: Project, axes: readonly ScanAxis[], measures: readonly MeasureRequest[]): void {
    clearTimeout(this.#timer);
    this.begin();
    this.project = project;
    this.of = scanSize(axes);
    this.done = 0;
    this.rows = new Array<ScanRow | undefined>(this.of).fill(undefined);
    void this.#next({ project, axes, measures }, FIRST_PART);
  }

  protected override end(...how: Parameters<Run['end']>): void {
    clearTimeout(this.#timer);
    super.end(...how);
  }

  async #next(input: ScanInput, size: number): Promise<void> {
    if (this.done >= this.of) return this.end('done');
    if (this.#busy()) {
      this.#timer = setTimeout(() => void this.#next(input, size), AGAIN);
      return;
    }
    const from = this.done;
    const to = Math.min(this.of, from + size);
    const began = performance.now();
    const found: ScanRow[] = [];
    const end = await this.work('scanPart', { ...input, from, to }, (rows) => void found.push(...rows));
    if (!end) return;
    if (!end.ok) return this.end('failed', end.reason);
    const rows = [...this.rows];
    found.forEach((row, k) => (rows[from + k] = row));
    this.rows = rows;
    this.done = to;
    const each = (performance.now() - began) / (to - from);
    return this.#next(input, Math.max(1, Math.min(4 * size, Math.floor(SLICE / each))));
  }
}
