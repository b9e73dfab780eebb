import { SentValues, type KeptNames } from './kept-values.ts';
import type { FromWorker, JobInput, JobPart, JobResult, JobTable, ToWorker } from './protocol.ts';

/** A worker of any environment, as far as the pool needs one. */
export interface WorkerHandle {
  post(message: ToWorker): void;
  /**
   * Called once, before any message is posted.
   *
   * @param onDeath - told why the worker has ended, and whether its job is worth another try
   */
  listen(onMessage: (message: FromWorker) => void, onDeath: (reason: string, again?: boolean) => void): void;
  terminate(): void;
}

/** A job that was handed in. */
export interface RunningJob<Result> {
  /** Rejects with `JobCancelled` after a cancel, with `JobFailed` after a failure. */
  readonly result: Promise<Result>;
  /** Resolves when a worker has begun with it, the start of the worker itself not counted; never where it is cancelled before. */
  readonly started: Promise<void>;
  /** The job ends at its next pause; one that comes to none within the grace of the pool is ended with its worker. */
  cancel(): void;
  /** Keeps the job at its pauses, or lets it go on: nobody takes in what it reports. */
  hold(on: boolean): void;
  /** Ends the job at once, with the worker it runs on: for one that does not come to a pause. */
  kill(): void;
}

export class JobCancelled extends Error {}
export class JobFailed extends Error {}

/** A job that did not come to a step for so long that its worker was ended. */
export class JobOverrun extends JobFailed {
  /** What it was about to do, as it said itself; null where it said nothing. */
  readonly at: string | null;

  constructor(seconds: number, at: string | null) {
    super(
      `It was ended after ${seconds} s without a step. Ask for fewer rays, events or points, or for a simpler model.`,
    );
    this.at = at;
  }
}

/** Jobs that take long: how many of them, whichever, may run at once. */
interface SlowJobs {
  readonly names: readonly string[];
  readonly most: number;
}

/** See the constructor of `WorkerPool`. */
interface PoolLimits {
  readonly patience?: number;
  readonly grace?: number;
  readonly slow?: SlowJobs;
  readonly kept?: KeptNames;
}

interface Task {
  readonly id: number;
  /** For whom it runs. */
  readonly owner: string;
  readonly job: string;
  readonly input: unknown;
  readonly onPart: (part: unknown) => void;
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: Error) => void;
  deaths: number;
  cancelled: boolean;
  readonly begun: () => void;
  /** What it said last that it would do. */
  at: string | null;
}

interface Slot {
  worker: WorkerHandle;
  /** What it was sent that need not be sent again. */
  readonly sent: SentValues;
  task: Task | null;
  /** Ends the worker when its job does not come to a step. */
  watch: ReturnType<typeof setTimeout> | null;
}

/** Owners whose last turn is remembered. */
const REMEMBERED = 256;

/** How often a job is begun anew because its worker died, before it is given up. */
const MOST_DEATHS = 2;

/**
 * Runs jobs on a fixed number of workers, one job a worker at a time: owners take turns, the jobs of each run in the order they came. A worker
 * that dies is replaced and its job begun anew. Workers are started when they are first needed.
 */
export class WorkerPool<T extends JobTable> {
  readonly #spawn: () => WorkerHandle;
  #slots: (Slot | null)[];
  readonly #queue: Task[] = [];
  /** Turn of the last job of each owner. */
  readonly #turns = new Map<string, number>();
  #turn = 0;
  readonly #onActivity: (running: number, waiting: number) => void;
  readonly #patience: number;
  readonly #grace: number;
  readonly #slow: SlowJobs;
  readonly #kept: KeptNames;
  #nextId = 1;
  #closed = false;

  /**
   * @param spawn - starts one worker that serves the table
   * @param size - number of workers, at least 1
   * @param onActivity - told whenever the number of running or waiting jobs changes
   * @param limits - `patience`: how long a job may go without a step, ms; `grace`: how long after a cancel. Its worker is ended and replaced then.
   *   `slow`: jobs that must leave workers for others; `kept`: what of their inputs workers keep
   */
  constructor(
    spawn: () => WorkerHandle,
    size: number,
    onActivity: (running: number, waiting: number) => void = () => {},
    { patience = Infinity, grace = Infinity, slow = { names: [], most: Infinity }, kept = {} }: PoolLimits = {},
  ) {
    this.#patience = patience;
    this.#grace = grace;
    this.#slow = slow;
    this.#kept = kept;
    this.#spawn = spawn;
    this.#slots = new Array<Slot | null>(Math.max(1, Math.floor(size))).fill(null);
    this.#onActivity = onActivity;
  }

  get size(): number {
    return this.#slots.length;
  }

  /** Another number of workers, at least 1. Jobs under way on workers that are given up are begun anew on others. */
  resize(size: number): void {
    const wanted = Math.max(1, Math.floor(size));
    const given = this.#slots.slice(wanted);
    const kept = this.#slots.slice(0, wanted);
    this.#slots = [...kept, ...new Array<Slot | null>(wanted - kept.length).fill(null)];
    for (const slot of given) {
      slot?.worker.terminate();
      if (slot?.task && !slot.task.cancelled) this.#queue.unshift(slot.task);
    }
    this.#advance();
  }

  /** Names of the jobs that run and wait. */
  get jobs(): { readonly running: readonly string[]; readonly waiting: readonly string[] } {
    return {
      running: this.#slots.flatMap((slot) => slot?.task?.job ?? []),
      waiting: this.#queue.map(({ job }) => job),
    };
  }

  /**
   * Hands in a job. Parts arrive in order, before the result.
   *
   * @param owner - for whom it runs: one who hands in many jobs does not keep the others waiting
   */
  run<K extends keyof T & string>(
    job: K,
    input: JobInput<T, K>,
    onPart: (part: JobPart<T, K>) => void = () => {},
    owner = '',
  ): RunningJob<JobResult<T, K>> {
    const id = this.#nextId++;
    let task: Task;
    let begun = () => {};
    const started = new Promise<void>((resolve) => (begun = resolve));
    const result = new Promise<unknown>((resolve, reject) => {
      task = {
        id,
        owner,
        job,
        input,
        onPart: onPart as Task['onPart'],
        resolve,
        reject,
        deaths: 0,
        cancelled: false,
        begun,
        at: null,
      };
    });
    if (this.#closed) task!.reject(new JobFailed('The pool is closed.'));
    else {
      this.#queue.push(task!);
      this.#advance();
    }
    return {
      result: result as Promise<JobResult<T, K>>,
      started,
      hold: (on) => this.#slots.find((slot) => slot?.task === task)?.worker.post({ type: 'hold', id, on }),
      cancel: () => this.#cancel(task),
      kill: () => this.#kill(task),
    };
  }

  /** Ends all workers; jobs that were not done are rejected as cancelled. */
  close(): void {
    this.#closed = true;
    for (const task of this.#queue.splice(0)) task.reject(new JobCancelled('The pool was closed.'));
    for (const [i, slot] of this.#slots.entries()) {
      slot?.worker.terminate();
      slot?.task?.reject(new JobCancelled('The pool was closed.'));
      this.#slots[i] = null;
    }
  }

  #cancel(task: Task): void {
    if (task.cancelled) return;
    task.cancelled = true;
    const waiting = this.#queue.indexOf(task);
    if (waiting >= 0) this.#queue.splice(waiting, 1);
    const slot = this.#slots.find((one) => one?.task === task);
    slot?.worker.post({ type: 'cancel', id: task.id });
    if (slot && Number.isFinite(this.#grace)) setTimeout(() => this.#end(slot, task), this.#grace);
    task.reject(new JobCancelled('Cancelled.'));
    this.#tell();
  }

  #kill(task: Task): void {
    this.#cancel(task);
    const slot = this.#slots.find((one) => one?.task === task);
    if (slot) this.#end(slot, task);
  }

  /** Ends a worker that is still at a task. */
  #end(slot: Slot, task: Task): void {
    const index = this.#slots.indexOf(slot);
    if (index < 0 || slot.task !== task) return;
    if (slot.watch !== null) clearTimeout(slot.watch);
    slot.worker.terminate();
    this.#slots[index] = null;
    this.#advance();
  }

  #advance(): void {
    for (let i = 0; i < this.#slots.length; i++) {
      if (this.#slots[i]?.task) continue;
      const task = this.#next();
      if (!task) break;
      const slot = (this.#slots[i] ??= this.#open(i));
      slot.task = task;
      slot.worker.post({ type: 'start', id: task.id, job: task.job, packed: slot.sent.pack(task.input) });
    }
    this.#tell();
  }

  /** Takes the next job out of the queue: of those that may run, the first one of the owner whose turn was longest ago; null for none. */
  #next(): Task | null {
    const turnOf = ({ owner }: Task) => this.#turns.get(owner) ?? 0;
    const { names, most } = this.#slow;
    const running = this.#slots.filter((slot) => slot?.task && names.includes(slot.task.job)).length;
    const may = ({ job }: Task) => running < most || !names.includes(job);
    let task: Task | null = null;
    for (const one of this.#queue) if (may(one) && (!task || turnOf(one) < turnOf(task))) task = one;
    if (!task) return null;
    this.#queue.splice(this.#queue.indexOf(task), 1);
    this.#turns.delete(task.owner);
    this.#turns.set(task.owner, ++this.#turn);
    const [oldest] = this.#turns.keys();
    if (this.#turns.size > REMEMBERED) this.#turns.delete(oldest);
    return task;
  }

  #open(index: number): Slot {
    const slot: Slot = { worker: this.#spawn(), sent: new SentValues(this.#kept), task: null, watch: null };
    slot.worker.listen(
      (message) => this.#receive(slot, message),
      (reason, again) => this.#bury(index, slot, reason, again),
    );
    return slot;
  }

  #receive(slot: Slot, message: FromWorker): void {
    const { task } = slot;
    if (!task || task.id !== message.id || !this.#slots.includes(slot)) return; // of a job or a worker that was given up
    this.#watch(slot);
    task.begun();
    if (message.type === 'step') {
      task.at = message.what ?? task.at;
      return;
    }
    if (message.type === 'part') {
      if (!task.cancelled) task.onPart(message.part);
      return;
    }
    if (message.type === 'ask') {
      this.#help(slot, message);
      return;
    }
    slot.task = null;
    this.#watch(slot);
    if (message.type === 'done') task.resolve(message.result);
    else if (message.type === 'failed') task.reject(new JobFailed(message.message));
    else task.reject(new JobCancelled('Cancelled.'));
    this.#advance();
  }

  /** Waits for the next step of the job of a worker, from the first one on: until then the worker may still be starting. */
  #watch(slot: Slot): void {
    if (slot.watch !== null) clearTimeout(slot.watch);
    slot.watch = null;
    const { task } = slot;
    if (!task || !Number.isFinite(this.#patience)) return;
    slot.watch = setTimeout(() => {
      task.reject(new JobOverrun(this.#patience / 1000, task.at));
      this.#end(slot, task);
    }, this.#patience);
  }

  /** Has part of a job done by another worker, where more than one has nothing to do: the last one is for whom the user waits. */
  #help(slot: Slot, { id, ask, job, input }: Extract<FromWorker, { type: 'ask' }>): void {
    const idle = this.#slots.filter((one) => !one?.task).length;
    const answer = (result: unknown) => slot.worker.post({ type: 'answer', id, ask, result });
    if (idle < 2 || this.#queue.length > 0) answer(null);
    else this.run(job, input as JobInput<T, string>).result.then(answer, () => answer(null));
  }

  #bury(index: number, slot: Slot, reason: string, again = true): void {
    if (this.#closed || this.#slots[index] !== slot) return;
    slot.worker.terminate();
    this.#slots[index] = null;
    const { task } = slot;
    if (task && !task.cancelled) {
      task.deaths++;
      if (!again) task.reject(new JobFailed(reason));
      else if (task.deaths > MOST_DEATHS)
        task.reject(new JobFailed(`The worker died ${task.deaths} times on this job: ${reason}`));
      else this.#queue.unshift(task);
    }
    this.#advance();
  }

  #tell(): void {
    this.#onActivity(this.#slots.filter((slot) => slot?.task).length, this.#queue.length);
  }
}
