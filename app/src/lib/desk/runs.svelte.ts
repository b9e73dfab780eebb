import type { Jobs, WorkerPool } from '@ulvex/core';
import type { Run, RunOwner } from '../compute/run.svelte.ts';

/** The runs of a desk, by what they do. */
export class Runs implements RunOwner {
  readonly pool: WorkerPool<Jobs>;
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- a run is looked up while something is derived; `active` is what is shown
  readonly #all = new Map<string, Run>();
  #begun = $state.raw<readonly Run[]>([]);

  constructor(pool: WorkerPool<Jobs>) {
    this.pool = pool;
  }

  /** Those at work or waiting for a worker, in the order in which they began. */
  get active(): readonly Run[] {
    return this.#begun.filter((run) => run.active);
  }

  begun(run: Run): void {
    this.#begun = [...this.#begun.filter((one) => one !== run && one.active), run];
  }

  /**
   * The run of a kind with a key; made when there is none.
   *
   * @param most - of how many keys a run of the kind is kept; the one asked for longest ago is stopped and forgotten first
   */
  of<T extends Run>(kind: string, key: string, make: () => T, most = Infinity): T {
    const name = `${kind} ${key}`;
    const run = (this.#all.get(name) as T | undefined) ?? make();
    this.#all.delete(name); // the one that was used last is the last to go
    this.#all.set(name, run);
    const alike = [...this.#all].filter(([one]) => one.startsWith(`${kind} `));
    for (const [oldest, one] of alike.slice(0, Math.max(0, alike.length - most))) {
      one.stop();
      this.#all.delete(oldest);
    }
    return run;
  }

  /** Another project is opened: what is of use only for the present one ends. */
  leaveProject(): void {
    for (const run of this.#all.values()) if (!run.outlasts) run.stop();
  }
}
