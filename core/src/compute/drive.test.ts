import { expect } from 'chai';
import { drive, EVERY_STEP } from './drive.ts';

/** A context that counts looks and is cancelled at one of them. */
function context(cancelAt = Infinity) {
  const told = { looks: 0 };
  return {
    told,
    pause: () => Promise.resolve(void told.looks++),
    cancelled: () => told.looks >= cancelAt,
  };
}

function* count(to: number): Generator<number, string, void> {
  for (let i = 1; i <= to; i++) yield i;
  return `${to} steps`;
}

describe('driving the work of a job', () => {
  it('hands on each step and returns what the work returns', async () => {
    const seen: number[] = [];
    const result = await drive(count(5), context(), { onStep: (step) => void seen.push(step) });
    expect(result).to.equal('5 steps');
    expect(seen).to.deep.equal([1, 2, 3, 4, 5]);
  });

  it('looks at its messages as often as asked, sending what was gathered before each look and at the end', async () => {
    const one = context();
    const sent: number[] = [];
    let gathered = 0;
    const flush = () => {
      sent.push(gathered);
      gathered = 0;
    };
    await drive(count(7), one, { due: (step) => step % 3 === 0, onStep: () => void gathered++, flush });
    expect(one.told.looks).to.equal(2);
    expect(sent).to.deep.equal([3, 3, 1]);
  });

  it('does not look after steps that are over within the usual time', async () => {
    const one = context();
    await drive(count(50), one);
    expect(one.told.looks).to.equal(0);
  });

  it('ends at the look at which it is cancelled, and closes nothing it has not begun', async () => {
    const seen: number[] = [];
    const between: number[] = [];
    const result = await drive(count(9), context(3), {
      ...EVERY_STEP,
      onStep: (step) => void seen.push(step),
      between: (step) => Promise.resolve(void between.push(step)),
    });
    expect(result).to.equal(undefined);
    expect(seen).to.deep.equal([1, 2, 3]);
    expect(between, 'what is done between steps').to.deep.equal([1, 2]);
  });

  it('passes on an error of the work', async () => {
    const failing = (function* (): Generator<void, void, void> {
      yield;
      throw new Error('broken');
    })();
    const error = await drive(failing, context()).catch((thrown: Error) => thrown);
    expect(error).to.be.an('error').with.property('message', 'broken');
  });
});
