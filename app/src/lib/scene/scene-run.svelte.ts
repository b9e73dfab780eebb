import { BATCH, chunksOf, joinTallies, type Project, type Tally } from '@ulvex/core';
import { Run, type RunOwner, type RunState } from '../compute/run.svelte.ts';
import { nextBatches } from './trace-parts.ts';

/** Chunks from which on a standard error can be trusted. */
const LEAST_CHUNKS = 16;

/** What is traced. */
interface Asked {
  readonly project: Project;
  readonly scene: string;
  readonly rays: number;
  readonly revision: number;
}

/**
 * One run of rays through a scene, on all workers; its parts are chunks of rays. Batches come from several workers and are joined in the order of
 * their chunks, so that the result is the same to the last bit however many there are.
 */
export class SceneRun extends Run {
  /** The first chunk that no job has, and how many batches the next job takes. */
  #from = 0;
  #batches = 2;
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from what waits to be joined
  #early = new Map<number, Tally>();
  #next = 0;
  #asked: Asked | null = null;

  /** What has been traced so far, without gaps. */
  tally = $state.raw<Tally | null>(null);
  /** The revision of the project that it belongs to; −1 before the first. */
  revision = $state.raw(-1);
  /** How long it has been at work, ms, up to what is traced. */
  elapsed = $state.raw(0);
  #since = 0;
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

  /** Goes on after its end, until there are so many times the rays: what was traced counts. */
  extend(times: number): void {
    if (this.active || !this.tally || !this.#asked || this.tally.chunks === 0) return;
    this.of = Math.max(this.of, times * this.tally.chunks);
    this.#go();
  }

  #go(): void {
    this.begin();
    this.#since = performance.now() - (this.#next === 0 ? 0 : this.elapsed);
    this.#early.clear();
    this.#from = this.#next * BATCH;
    this.#batches = 2;
    void this.#trace(this.#asked!);
  }

  /** Has parts traced until none is left, each about as long as a job may be. */
  async #trace({ project, scene, rays }: Asked): Promise<void> {
    const next = () => {
      if (this.#from >= this.of) return null;
      const [from, batches] = [this.#from, this.#batches];
      this.#from = Math.min(this.of, from + batches * BATCH);
      return { from, to: this.#from, batches };
    };
    const whole = await this.handOut(next, async ({ from, to, batches }) => {
      const begun = performance.now();
      let first = 0;
      const end = await this.work('traceScene', { project, scene, rays, from, to }, ({ batch, tally }) => {
        first ||= performance.now() - begun;
        this.#take(batch, tally);
      });
      if (end?.ok) this.#batches = nextBatches(batches, first, performance.now() - begun);
      else if (end) this.end('failed', end.reason);
      return end?.ok ?? false;
    });
    if (whole && this.active && this.done === this.of) this.end('done');
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
    this.elapsed = performance.now() - this.#since;
    this.done = joined.chunks;
    this.revision = this.#asked!.revision;
    if (joined.chunks >= LEAST_CHUNKS && this.enough(joined)) this.end('done');
  }

  protected override end(state: RunState, reason = ''): void {
    super.end(state, reason);
    if (state !== 'failed') return;
    this.tally = null;
    this.revision = this.#asked?.revision ?? -1;
  }
}
