import {
  hasRelations,
  WorkerPool,
  type BrokenRelation,
  type Edit,
  type Jobs,
  type Outcome,
  type ParameterState,
  type Project,
  type Settled,
} from '@ulvex/core';
import type { FormulaEvaluator } from '@ulvex/core/relations';
import { spawnBrowserWorker } from '../compute/browser-worker.ts';

/** What makes numbers follow from others, with the evaluator of their formulas. */
type Loaded = typeof import('@ulvex/core/relations') & { readonly evaluate: FormulaEvaluator };

/** What is to be done so that relations hold, and which do not. */
export type Followed = Pick<Settled, 'edits' | 'broken' | 'unfinished'>;

/** How long relations may take on the page, ms: what takes longer is done in a worker. */
const AT_ONCE = 8;
/** A project whose relations came this quickly is tried on the page again, ms. */
const QUICK = 4;

/**
 * Makes linked and derived numbers follow. What is quick is done at once, so that a number and what follows from it
 * are one step; what is not goes to a worker of its own, which can be ended.
 */
export class Relations {
  #loaded: Loaded | null = null;
  #pool: WorkerPool<Jobs> | null = null;
  #slow = false;
  #stop: ((reason: string) => void) | null = null;
  /** Whether a worker is at it. */
  busy = $state.raw(false);
  /** Whether nothing is made to follow: a project can be looked at whose relations never come to rest. */
  off = $state.raw(false);

  async load(): Promise<Loaded> {
    if (this.#loaded) return this.#loaded;
    const module = await import('@ulvex/core/relations');
    return (this.#loaded = { ...module, evaluate: await module.formulaEvaluator() });
  }

  /** Another project is on the desk. */
  begin(off: boolean): void {
    this.#slow = false;
    this.off = off;
  }

  /** What follows in a project, at once; null where that would keep the page busy: `beside` finds it then. */
  now(project: Project): (Followed & { readonly project: Project }) | null {
    if (!project.parameters || !this.#loaded || this.off) return { project, edits: [], broken: [] };
    if (this.#slow) return null;
    const until = performance.now() + AT_ONCE;
    const settled = this.#loaded.settle(project, this.#loaded.evaluate, () => performance.now() > until);
    this.#slow = settled.unfinished === true;
    return this.#slow ? null : settled;
  }

  /** What follows in a project, found in a worker; `unfinished` where it was given up or took too long. */
  async beside(project: Project): Promise<Followed> {
    this.giveUp();
    this.busy = true;
    this.#pool ??= new WorkerPool<Jobs>(spawnBrowserWorker, 1);
    const running = this.#pool.run('settle', { project });
    const given = new Promise<Followed>((resolve) => {
      this.#stop = (reason) => {
        running.kill();
        resolve(unfinished(project, reason));
      };
    });
    const mine = this.#stop;
    try {
      const found = await Promise.race([running.result, given]);
      if (!found.unfinished && 'took' in found && (found.took as number) < QUICK) this.#slow = false;
      return found.unfinished && found.broken.length === 0 ? unfinished(project, 'That took too long.') : found;
    } catch (error) {
      return unfinished(project, (error as Error).message);
    } finally {
      if (this.#stop === mine) {
        this.#stop = null;
        this.busy = false;
      }
    }
  }

  /** Ends what a worker is at; numbers that follow keep the values they have. */
  giveUp(): void {
    const stop = this.#stop;
    this.#stop = null;
    this.busy = false;
    stop?.('It was cancelled.');
  }

  /** The edits that give numbers another state, see `changeState` of the core. */
  async changeState(
    project: Project,
    addresses: readonly string[],
    state: ParameterState | null,
  ): Promise<Outcome<readonly Edit[]>> {
    if (state === null || state.kind === 'free') {
      const { changeState, evaluate } = await this.load();
      return changeState(project, addresses, state, evaluate);
    }
    void this.load(); // it is needed as soon as the state is there
    this.#pool ??= new WorkerPool<Jobs>(spawnBrowserWorker, 1);
    return this.#pool.run('changeState', { project, addresses, state }).result;
  }
}

/** Every relation of a project as one that was not brought to hold. */
export function unfinished(project: Project, reason: string): Followed {
  const broken: BrokenRelation[] = Object.entries(project.parameters ?? {})
    .filter(([, { kind }]) => kind !== 'free')
    .map(([address]) => ({ address, reason: `It was not updated. ${reason}` }));
  return { edits: [], broken: hasRelations(project) ? broken : [], unfinished: true };
}
