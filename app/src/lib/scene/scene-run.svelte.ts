import { BATCH, chunksOf, joinTallies, type Project, type Tally } from '@ulvex/core';
import { Run, type RunOwner, type RunState } from '../compute/run.svelte.ts';

/** Chunks from which on a standard error can be trusted. */
const LEAST_CHUNKS = 16;

/** Jobs that a run is cut into, for each worker: small enough to let other work in between. */
const JOBS_EACH = 4;

/**
 * One run of rays through a scene, on all workers; its parts are chunks of rays. Batches come from several workers and are joined in the order of
 * their chunks, so that the result is the same to the last bit however many there are.
 */
export class SceneRun extends Run {
  #waiting: { from: number; to: number }[] = [];
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from what waits to be joined
  #early = new Map<number, Tally>();
  #next = 0;
  #asked: { project: Project; scene: string; rays: number; revision: number } | null = null;

  /** What has been traced so far, without gaps. */
  tally = $state.raw<Tally | null>(null);
  /** The revision of the project that it belongs to; −1 before the first. */
  revision = $state.raw(-1);
  /** Says of what was traced so far whether it is enough; asked after each batch. */
  enough: (tally: Tally) => boolean = () => false;

  constructor(owner: RunOwner) {
    super(owner, { title: 'Trace', room: '/layout/scene' });
  }

  /** Whether it was started for a version of the project. */
  isOf(project: Project, revision: number): boolean {
    return this.#asked?.project === project && this.#asked.revision === revision;
  }

  /** Starts anew for a version of the project; what ran is dropped, its result stays until the first of the new one is there. */
  start(project: Project, scene: string, rays: number, revision: number): void {
    this.#asked = { project, scene, rays, revision };
    this.#next = 0;
    this.done = 0;
    this.of = chunksOf(rays).count;
    this.#go();
  }

  /** Goes on where it was held. */
  resume(): void {
    if (this.state === 'paused') this.#go();
  }

  #go(): void {
    this.begin();
    this.#early.clear();
    const from = this.#next * BATCH;
    const parts = JOBS_EACH * this.pool.size;
    const step = Math.max(1, Math.ceil((this.of - from) / BATCH / parts)) * BATCH;
    this.#waiting = [];
    for (let at = from; at < this.of; at += step) this.#waiting.push({ from: at, to: Math.min(this.of, at + step) });
    for (let worker = 0; worker < this.pool.size; worker++) void this.#another();
  }

  /** Does parts that wait, one after the other. */
  async #another(): Promise<void> {
    const part = this.#waiting.shift();
    if (!part || !this.#asked) return;
    const { project, scene, rays } = this.#asked;
    const end = await this.work('traceScene', { project, scene, rays, ...part }, ({ batch, tally }) =>
      this.#take(batch, tally),
    );
    if (end && !end.ok) this.end('failed', end.reason);
    else if (end && this.#waiting.length > 0) return this.#another();
    else if (end && this.done === this.of) this.end('done');
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
    this.done = joined.chunks;
    this.revision = this.#asked!.revision;
    if (joined.chunks >= LEAST_CHUNKS && this.enough(joined)) this.end('done');
  }

  protected override end(state: RunState, reason = ''): void {
    super.end(state, reason);
    this.#waiting = [];
    if (state !== 'failed') return;
    this.tally = null;
    this.revision = this.#asked?.revision ?? -1;
  }
}
