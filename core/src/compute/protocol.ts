/**
 * The one protocol between a program and its workers, in the browser and in Node. A job is a named piece of work with a
 * typed input; it may send parts on its way and ends with a result, a failure or a cancellation.
 */

import { KeptValues, type Packed } from './kept-values.ts';

/** What a job is given beside its input. */
export interface JobContext<Part> {
  /** Whether the answer is no longer wanted. Look between chunks of about 20 ms, after `pause`. */
  cancelled(): boolean;
  /** Sends a part of the answer ahead. */
  report(part: Part): void;
  /** Lets waiting messages in, so that a cancellation can arrive; says that the job is alive. */
  pause(): Promise<void>;
  /** Says what the job is about to do, in a word of its own choice: should it not come back from that, this is what is told. */
  at(what: string): void;
  /**
   * Has a job done by another worker, if one is to spare: one is always left for what the user waits for. Resolves to null where none is, or where it
   * failed: then it is to be done here.
   */
  help(job: string, input: unknown): Promise<unknown>;
}

export type Job<Input, Part, Result> = (input: Input, context: JobContext<Part>) => Promise<Result> | Result;

// Jobs of any types, for tables of them: parameters are checked where a table is used through `JobInput` and its like.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type JobTable = Readonly<Record<string, Job<any, any, any>>>;

export type JobInput<T extends JobTable, K extends keyof T> = Parameters<T[K]>[0];
export type JobPart<T extends JobTable, K extends keyof T> = Parameters<Parameters<T[K]>[1]['report']>[0];
export type JobResult<T extends JobTable, K extends keyof T> = Awaited<ReturnType<T[K]>>;

/** Messages to a worker. Everything in them survives a structured clone. */
export type ToWorker =
  | { readonly type: 'start'; readonly id: number; readonly job: string; readonly packed: Packed }
  | { readonly type: 'cancel'; readonly id: number }
  /** Whether the job is to stay at its pauses: nobody takes in what it reports. */
  | { readonly type: 'hold'; readonly id: number; readonly on: boolean }
  | { readonly type: 'answer'; readonly id: number; readonly ask: number; readonly result: unknown };

/** Messages from a worker. Each started job ends with exactly one `done`, `failed` or `cancelled`; each `ask` is answered. */
export type FromWorker =
  | {
      readonly type: 'ask';
      readonly id: number;
      readonly ask: number;
      readonly job: string;
      readonly input: unknown;
    }
  | { readonly type: 'part'; readonly id: number; readonly part: unknown }
  /** The job is alive, or about to do something. */
  | { readonly type: 'step'; readonly id: number; readonly what?: string }
  | { readonly type: 'done'; readonly id: number; readonly result: unknown }
  | { readonly type: 'failed'; readonly id: number; readonly message: string; readonly stack?: string }
  | { readonly type: 'cancelled'; readonly id: number };

/** How often a job that pauses says that it is alive, ms. */
const STEP = 1000;

/**
 * The worker's side: runs jobs of a table as messages ask for them.
 *
 * @param post - sends a message to the program
 * @param pause - resolves after waiting messages were handled; a macrotask of the environment
 * @returns the handler of incoming messages
 */
export function serveJobs(
  table: JobTable,
  post: (message: FromWorker) => void,
  pause: () => Promise<void>,
): (message: ToWorker) => Promise<void> {
  const running = new Map<number, RunningState>();
  const kept = new KeptValues();
  const asked = new Map<number, (result: unknown) => void>();
  let asks = 0;
  return async (message) => {
    if (message.type === 'answer') {
      asked.get(message.ask)?.(message.result);
      asked.delete(message.ask);
      return;
    }
    const known = running.get(message.id);
    if (message.type === 'cancel') return known?.cancel();
    if (message.type === 'hold') return known?.hold(message.on);
    const { id } = message;
    const input = kept.unpack(message.packed);
    const state = new RunningState();
    running.set(id, state);
    post({ type: 'step', id });
    let stepped = Date.now();
    const alive = async () => {
      await pause();
      await state.free();
      if (Date.now() - stepped < STEP) return;
      stepped = Date.now();
      if (running.has(id)) post({ type: 'step', id });
    };
    try {
      const job = table[message.job];
      if (!job) throw new Error(`There is no job called ${message.job}`);
      const result: unknown = await job(input, {
        cancelled: () => state.cancelled,
        report: (part: unknown) => post({ type: 'part', id, part }),
        pause: alive,
        at: (what) => post({ type: 'step', id, what }),
        help: (name, input) =>
          new Promise((resolve) => {
            asked.set(++asks, resolve);
            post({ type: 'ask', id, ask: asks, job: name, input });
          }),
      });
      post(state.cancelled ? { type: 'cancelled', id } : { type: 'done', id, result });
    } catch (error) {
      const { message: text, stack } = error instanceof Error ? error : new Error(String(error));
      const failed: FromWorker = { type: 'failed', id, message: text, ...(stack && { stack }) };
      post(state.cancelled ? { type: 'cancelled', id } : failed);
    } finally {
      running.delete(id);
    }
  };
}

/** Whether a job is wanted, and whether it is held at its pauses. */
class RunningState {
  cancelled = false;
  #held: Promise<void> | null = null;
  #goOn: () => void = () => {};

  cancel(): void {
    this.cancelled = true;
    this.#goOn();
  }

  hold(on: boolean): void {
    this.#goOn();
    if (on) this.#held = new Promise((resolve) => (this.#goOn = resolve));
  }

  /** Resolves when the job may go on. */
  async free(): Promise<void> {
    while (this.#held && !this.cancelled) {
      const held = this.#held;
      await held;
      if (this.#held === held) this.#held = null;
    }
  }
}
