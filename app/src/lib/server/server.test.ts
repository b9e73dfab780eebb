import { expect } from 'chai';
import { readText } from './body.ts';
import { Gate } from './gate.ts';
import { LineStream } from './line-stream.ts';
import { refused } from './refusal.ts';

/** A body in chunks, each after a pause in ms; it may never end. */
function bodyOf(
  chunks: readonly (readonly [wait: number, text: string])[],
  ends = true,
): ReadableStream<Uint8Array> {
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
