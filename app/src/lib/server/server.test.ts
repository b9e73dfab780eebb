import { expect } from 'chai';
import { serveJobs, type JobContext, type Outcome, type RunningJob } from '@ulvex/core';
import { readText } from './body.ts';
import { inTime } from './compute.ts';
import { Gate } from './gate.ts';
import { LineStream } from './line-stream.ts';
import { refused } from './refusal.ts';

/** A body in chunks, each after a pause in ms; it may never end. */
function bodyOf(chunks: readonly (readonly [wait: number, text: string])[], ends = true): ReadableStream<Uint8Array> {
  return new ReadableStream({
    async start(controller) {
      for (const [wait, text] of chunks) {
        await new Promise((done) => setTimeout(done, wait));
        controller.enqueue(new TextEncoder().encode(text));
      }
      if (ends) controller.close();
    },
  });
}

describe('the gate of the server', () => {
  it('lets so many in, of one address and altogether, and others when they have left', () => {
    const gate = new Gate({ overall: 3, each: 2, what: 'computations' });
    const first = gate.enter('a');
    gate.enter('a');
    const third = gate.enter('a');
    expect('refusal' in third && third.refusal.status).to.equal(429);
    expect('refusal' in third && third.refusal.reason).to.match(/^2 computations from your address/);
    expect(gate.enter('b')).to.have.property('leave');
    const fourth = gate.enter('c');
    expect('refusal' in fourth && fourth.refusal).to.deep.include({ status: 503, retryAfter: 1 });
    if ('leave' in first) first.leave();
    expect(gate.enter('c')).to.have.property('leave');
  });

  it('asks the eldest to leave for a newcomer when all places are taken and it has had its time', () => {
    const asked: string[] = [];
    const clock = { now: 0 };
    const gate = new Gate({ overall: 2, each: 2, what: 'requests' }, () => clock.now);
    const enter = (name: string) => gate.enter(name, () => asked.push(name));
    const first = enter('a');
    clock.now = 1500;
    enter('b');
    expect(enter('c'), 'nobody has had its time yet').to.have.property('refusal');
    clock.now = 2500;
    expect(enter('c')).to.have.property('leave');
    expect(enter('d'), 'the next one has not').to.have.property('refusal');
    if ('leave' in first) first.leave();
    clock.now = 9000;
    enter('d');
    expect(asked).to.deep.equal(['a', 'b']);
  });

  it('tells a refusal with its status and when to come again', async () => {
    const answer = refused({ status: 503, reason: 'Busy.', retryAfter: 7 });
    expect([answer.status, answer.headers.get('retry-after'), await answer.json()]).to.deep.equal([
      503,
      '7',
      { error: 'Busy.' },
    ]);
  });
});

describe('a body', () => {
  const limits = { bytes: 100, within: 60 };

  it('is read whole, letters across chunks included', async () => {
    const bytes = new TextEncoder().encode('1 µm');
    const halves = new ReadableStream<Uint8Array>({
      start(controller) {
        controller.enqueue(bytes.slice(0, 3)); // in the middle of the µ
        controller.enqueue(bytes.slice(3));
        controller.close();
      },
    });
    expect(await readText(halves, limits)).to.deep.equal({ text: '1 µm' });
  });

  it('is refused when it is too large, too slow or not there', async () => {
    const large = await readText(
      bodyOf([
        [0, 'x'.repeat(60)],
        [0, 'x'.repeat(60)],
      ]),
      limits,
    );
    expect('refusal' in large && large.refusal.status).to.equal(413);
    const slow = await readText(bodyOf([[0, 'x']], false), limits);
    expect('refusal' in slow && slow.refusal).to.deep.include({ status: 503 });
    expect('refusal' in slow && slow.refusal.reason).to.match(/Only 1 bytes came/);
    const wanted = await readText(bodyOf([[0, 'xy']], false), {
      ...limits,
      within: 1e6,
      wanted: new Promise((done) => setTimeout(done, 100)),
    });
    expect('refusal' in wanted && wanted.refusal.reason).to.match(/Only 2 bytes came within \d+(\.\d)? s/);
    const none = await readText(null, limits);
    expect('refusal' in none && none.refusal.status).to.equal(422);
  });
});

describe('an answer in lines', () => {
  it('carries one JSON object a line and ends', async () => {
    const lines = new LineStream(() => {});
    lines.write({ done: 1 });
    lines.end({ finished: true });
    lines.write({ done: 2 }); // too late, and no error
    expect(await lines.response.text()).to.equal('{"done":1}\n{"finished":true}\n');
  });

  it('tells when the other side hangs up', async () => {
    let gone = false;
    const lines = new LineStream(() => (gone = true));
    await lines.response.body!.cancel();
    expect(gone).to.equal(true);
    lines.write({ done: 1 });
  });
});

describe('an answer that the other side takes nothing of', () => {
  const line = { text: 'x'.repeat(100_000) };

  it('holds its job, and is ended when that has lasted too long', async () => {
    const calls: (boolean | 'gone')[] = [];
    let gone = () => {};
    const over = new Promise<void>((done) => (gone = done));
    const lines = new LineStream(
      () => {
        calls.push('gone');
        gone();
      },
      (on) => calls.push(on),
      30,
    );
    for (let i = 0; i < 4; i++) lines.write(line);
    await over;
    expect(calls).to.deep.equal([true, 'gone']);
    lines.write(line); // no error
    let failed = '';
    await lines.response.text().catch((error: Error) => (failed = error.message));
    expect(failed).to.match(/takes nothing in/);
  });

  it('lets its job go on as soon as it is read, and ends as it should', async () => {
    const calls: (boolean | 'gone')[] = [];
    const lines = new LineStream(
      () => calls.push('gone'),
      (on) => calls.push(on),
      200,
    );
    for (let i = 0; i < 4; i++) lines.write(line);
    const reading = lines.response.text();
    await new Promise((done) => setTimeout(done, 10));
    lines.end({ finished: true });
    expect((await reading).trim().split('\n')).to.have.length(5);
    await new Promise((done) => setTimeout(done, 250));
    expect(calls).to.deep.equal([true, false]);
  });
});

describe('a job for a request', () => {
  /** A job as the pool hands it out; the test decides when it starts and ends. */
  function job() {
    let settle: (found: Outcome<string>) => void = () => {};
    let fail: (error: Error) => void = () => {};
    let start = () => {};
    const calls: string[] = [];
    const end = (how: string) => () => {
      calls.push(how);
      fail(new Error(how));
    };
    const running: RunningJob<Outcome<string>> = {
      result: new Promise((resolve, reject) => ([settle, fail] = [resolve, reject])),
      started: new Promise((resolve) => (start = resolve)),
      cancel: end('cancel'),
      kill: end('kill'),
      hold: () => {},
    };
    return { running, calls, start, settle };
  }
  const never = new AbortController().signal;

  it('counts its time from when a worker takes it on, and is ended with its worker when that is over', async () => {
    const { running, calls, start } = job();
    const result = inTime(running, 30, 'Ask for less.', never);
    await new Promise((done) => setTimeout(done, 90));
    expect(calls, 'waiting is not computing').to.deep.equal([]);
    start();
    const found = await result;
    expect(calls).to.deep.equal(['kill']);
    expect(!found.ok && found.refusal).to.deep.equal({
      status: 422,
      reason: 'This takes longer than 0.03 s. Ask for less.',
    });
  });

  it('is given up when the other side hangs up, before or while it runs', async () => {
    for (const before of [true, false]) {
      const { running, calls, start } = job();
      const gone = new AbortController();
      if (before) gone.abort();
      const result = inTime(running, 1000, '', gone.signal);
      start();
      gone.abort();
      expect((await result).ok).to.equal(false);
      expect(calls).to.deep.equal(['cancel']);
    }
  });

  it('brings its value, or what it fails of, and leaves no timer behind', async () => {
    const [good, bad] = [job(), job()];
    good.start();
    good.settle({ ok: true, value: 'done' });
    bad.start();
    bad.settle({ ok: false, reason: 'no such measure' });
    expect(await inTime(good.running, 20, '', never)).to.deep.equal({ ok: true, value: 'done' });
    const refusal = { status: 422, reason: 'no such measure' };
    expect(await inTime(bad.running, 20, '', never)).to.deep.equal({ ok: false, refusal });
    await new Promise((done) => setTimeout(done, 50));
    expect([...good.calls, ...bad.calls]).to.deep.equal([]);
  });
});

describe('a reader who takes in less than is written', () => {
  it('makes the work wait, and lets it go on when he has caught up', async () => {
    const held: boolean[] = [];
    const lines = new LineStream(
      () => {},
      (on) => held.push(on),
    );
    const long = { words: 'x'.repeat(100_000) };
    for (let i = 0; i < 3; i++) lines.write(long);
    expect(held).to.deep.equal([true]);
    const reader = lines.response.body!.getReader();
    for (let i = 0; i < 3; i++) await reader.read();
    await new Promise((done) => setTimeout(done, 10));
    expect(held).to.deep.equal([true, false]);
  });

  it('holds a job at its pauses', async () => {
    const pause = () => new Promise<void>((done) => setImmediate(done));
    const parts: number[] = [];
    const table = {
      async count(_: null, context: JobContext<number>) {
        for (let i = 0; i < 6; i++) {
          context.report(i);
          await context.pause();
        }
      },
    };
    const serve = serveJobs(table, (message) => message.type === 'part' && parts.push(message.part as number), pause);
    void serve({ type: 'start', id: 1, job: 'count', packed: { input: null, names: {}, forget: [] } });
    await pause();
    void serve({ type: 'hold', id: 1, on: true });
    for (let i = 0; i < 20; i++) await pause();
    const held = parts.length;
    expect(held).to.be.below(6);
    void serve({ type: 'hold', id: 1, on: false });
    for (let i = 0; i < 20; i++) await pause();
    expect(parts).to.deep.equal([0, 1, 2, 3, 4, 5]);
  });
});
