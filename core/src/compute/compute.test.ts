import { expect } from 'chai';
import { JobCancelled, JobFailed, JobOverrun, WorkerPool, type WorkerHandle } from './pool.ts';
import { serveJobs, type FromWorker, type JobContext, type ToWorker } from './protocol.ts';

const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

const table = {
  double: (value: number) => value * 2,
  fail: (): number => {
    throw new Error('no such luck');
  },
  stuck: () => new Promise<never>(() => {}),
  hang(what: string, context: JobContext<never>) {
    context.at(what);
    return new Promise<never>(() => {});
  },
  async crawl(steps: number, context: JobContext<never>) {
    for (let i = 0; i < steps; i++) {
      await new Promise((resolve) => setTimeout(resolve, 60));
      context.at(`step ${i}`);
    }
    return steps;
  },
  async count(to: number, context: JobContext<number>) {
    for (let i = 0; i < to; i++) {
      context.report(i);
      await context.pause();
      if (context.cancelled()) return -1;
    }
    return to;
  },
  /** Doubles of all, by others where there are any: their number, and who did them. */
  async share(values: readonly number[], context: JobContext<never>) {
    const done = (await Promise.all(values.map((value) => context.help('double', value)))) as (number | null)[];
    return {
      sum: done.reduce<number>((all, one, i) => all + (one ?? 2 * values[i]), 0),
      helped: done.filter((one) => one !== null).length,
    };
  },
  askForWhatFails: (_: null, context: JobContext<never>) => context.help('fail', 0),
};

/** A worker in this very thread, which sees only clones and can be made to die. */
class FakeWorker implements WorkerHandle {
  static living = 0;
  died = false;
  #onDeath: (reason: string) => void = () => {};
  #serve: (message: ToWorker) => Promise<void> = async () => {};
  readonly #diesOn: (message: ToWorker) => boolean;

  constructor(diesOn: (message: ToWorker) => boolean = () => false) {
    this.#diesOn = diesOn;
    FakeWorker.living++;
  }

  listen(onMessage: (message: FromWorker) => void, onDeath: (reason: string) => void): void {
    this.#onDeath = onDeath;
    this.#serve = serveJobs(table, (message) => !this.died && onMessage(structuredClone(message)), pause);
  }

  post(message: ToWorker): void {
    setImmediate(() => {
      if (this.died) return;
      if (this.#diesOn(message)) this.#onDeath('out of memory');
      else void this.#serve(structuredClone(message));
    });
  }

  terminate(): void {
    if (!this.died) FakeWorker.living--;
    this.died = true;
  }
}

async function failureOf(promise: Promise<unknown>): Promise<Error> {
  return promise.then(
    (value) => {
      throw new Error(`resolved to ${String(value)}`);
    },
    (error: Error) => error,
  );
}

describe('WorkerPool', () => {
  let pool: WorkerPool<typeof table>;
  const open = (size: number, spawn = () => new FakeWorker()) => (pool = new WorkerPool<typeof table>(spawn, size));
  afterEach(() => {
    pool.close();
    expect(FakeWorker.living, 'workers left behind').to.equal(0);
  });

  it('answers every job, more of them than workers', async () => {
    open(2);
    const results = await Promise.all([1, 2, 3, 4, 5].map((value) => pool.run('double', value).result));
    expect(results).to.deep.equal([2, 4, 6, 8, 10]);
  });

  it('sends parts in order and before the result', async () => {
    open(1);
    const parts: number[] = [];
    expect(await pool.run('count', 4, (part) => parts.push(part)).result).to.equal(4);
    expect(parts).to.deep.equal([0, 1, 2, 3]);
  });

  it('passes a failure on in words and goes on working', async () => {
    open(1);
    const error = await failureOf(pool.run('fail', undefined as never).result);
    expect(error).to.be.instanceOf(JobFailed);
    expect(error.message).to.equal('no such luck');
    expect(await pool.run('double', 4).result).to.equal(8);
    expect((await failureOf(pool.run('nothing' as 'double', 1).result)).message).to.match(/no job called nothing/);
  });

  it('cancels running and waiting jobs, and hears no part of them again', async () => {
    open(1);
    const parts: number[] = [];
    const long = pool.run('count', 1e9, (part) => {
      parts.push(part);
      if (part === 3) {
        long.cancel();
        waiting.cancel();
      }
    });
    const waiting = pool.run('count', 1e9);
    const [first, second] = await Promise.all([failureOf(long.result), failureOf(waiting.result)]);
    expect(first).to.be.instanceOf(JobCancelled);
    expect(second).to.be.instanceOf(JobCancelled);
    expect(await pool.run('double', 3).result).to.equal(6);
    expect(parts).to.deep.equal([0, 1, 2, 3]);
  });

  it('replaces a worker that dies and does its job again', async () => {
    let spawned = 0;
    open(1, () => new FakeWorker(++spawned === 1 ? (message) => message.type === 'start' : undefined));
    expect(await pool.run('double', 21).result).to.equal(42);
    expect(spawned).to.equal(2);
  });

  it('gives up a job that kills every worker, and no other', async () => {
    open(1, () => new FakeWorker((message) => message.type === 'start' && message.job === 'fail'));
    const deadly = failureOf(pool.run('fail', undefined as never).result);
    const harmless = pool.run('double', 5).result;
    expect((await deadly).message).to.match(/died 3 times on this job: out of memory/);
    expect(await harmless).to.equal(10);
  });

  it('lets a job have parts done by workers that have nothing to do, but for one that is left for others', async () => {
    for (const [size, helped] of [
      [1, 0],
      [2, 0],
      [3, 1],
      [5, 3],
    ]) {
      open(size);
      expect(await pool.run('share', [1, 2, 3]).result).to.deep.equal({ sum: 12, helped });
      pool.close();
    }
    open(4);
    expect(await pool.run('askForWhatFails', null).result).to.equal(null);
  });

  it('lets owners take turns: one who hands in many jobs does not keep the others waiting', async () => {
    open(1);
    const done: string[] = [];
    const one = (owner: string, value: number) =>
      pool.run('double', value, undefined, owner).result.then((found) => done.push(`${owner}${found}`));
    const all = [1, 2, 3, 4].map((value) => one('a', value));
    all.push(one('b', 1), one('c', 1), one('b', 2));
    await Promise.all(all);
    expect(done).to.deep.equal(['a2', 'b2', 'c2', 'a4', 'b4', 'a6', 'a8']);
  });

  it('says that a job has started when a worker has begun with it, not when one is asked to', async () => {
    let answer: (message: FromWorker) => void = () => {};
    const slow = { listen: (hear: typeof answer) => (answer = hear), post: () => {}, terminate: () => {} };
    pool = new WorkerPool<typeof table>(() => slow, 1);
    const job = pool.run('double', 1);
    let started = false;
    void job.started.then(() => (started = true));
    await pause();
    expect(started).to.equal(false);
    answer({ type: 'step', id: 1 });
    await pause();
    expect(started).to.equal(true);
    answer({ type: 'done', id: 1, result: 2 });
    expect(await job.result).to.equal(2);
  });

  it('keeps a worker free of the jobs of a name that may not take them all', async () => {
    pool = new WorkerPool<typeof table>(() => new FakeWorker(), 2, undefined, { slow: { names: ['count'], most: 1 } });
    const ended: string[] = [];
    const long = [1, 2].map((n) => pool.run('count', 50).result.then(() => ended.push(`long ${n}`)));
    const quick = [1, 2].map((n) => pool.run('double', n).result.then(() => ended.push(`quick ${n}`)));
    await pause();
    expect(pool.jobs.running).to.deep.equal(['count', 'double']);
    await Promise.all([...long, ...quick]);
    expect(ended).to.deep.equal(['quick 1', 'quick 2', 'long 1', 'long 2']);
  });

  it('kills a job that comes to no pause, and puts a new worker in its place', async () => {
    let spawned = 0;
    open(1, () => {
      spawned++;
      return new FakeWorker();
    });
    const stuck = pool.run('stuck', undefined as never);
    const waiting = pool.run('double', 8).result;
    stuck.kill();
    expect(await failureOf(stuck.result)).to.be.instanceOf(JobCancelled);
    expect(await waiting).to.equal(16);
    expect(spawned).to.equal(2);
  });

  it('ends a job that takes no step, says what it was at, and puts a new worker in its place', async () => {
    pool = new WorkerPool<typeof table>(
      () => new FakeWorker(),
      1,
      () => {},
      { patience: 200 },
    );
    const stuck = pool.run('hang', 'the third question').result;
    const waiting = pool.run('double', 8).result;
    const slow = pool.run('crawl', 5).result;
    const error = await failureOf(stuck);
    expect(error).to.be.instanceOf(JobOverrun);
    expect((error as JobOverrun).at).to.equal('the third question');
    expect(await waiting).to.equal(16);
    expect(await slow, 'one that takes steps may take as long as it likes').to.equal(5);
  });

  it('takes another number of workers at any time, and loses no job by it', async () => {
    open(3);
    const jobs = [1, 2, 3, 4, 5, 6].map((value) => pool.run('count', value).result);
    expect(pool.jobs.running).to.have.length(3);
    pool.resize(1);
    expect(pool.size).to.equal(1);
    expect(pool.jobs).to.deep.equal({ running: ['count'], waiting: new Array(5).fill('count') });
    pool.resize(2);
    expect(await Promise.all(jobs)).to.deep.equal([1, 2, 3, 4, 5, 6]);
    pool.resize(0);
    expect(pool.size).to.equal(1);
  });

  it('rejects what is left when it is closed', async () => {
    open(1);
    const left = failureOf(pool.run('count', 1e9).result);
    pool.close();
    expect(await left).to.be.instanceOf(JobCancelled);
    expect(await failureOf(pool.run('double', 1).result)).to.be.instanceOf(JobFailed);
  });
});
