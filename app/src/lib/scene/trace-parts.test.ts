import { expect } from 'chai';
import { nextBatches } from './trace-parts.ts';

/** Batches of jobs one after another: making ready takes `ready` ms, each batch `each`. */
function parts(ready: number, each: number, jobs: number): number[] {
  const found = [2];
  while (found.length < jobs) {
    const batches = found.at(-1)!;
    found.push(nextBatches(batches, ready + each, ready + each * batches));
  }
  return found;
}

describe('parts of a trace', () => {
  it('grow by no more than twice, to those that fill a slice of time', () => {
    expect(parts(1, 50, 5)).to.deep.equal([2, 4, 8, 8, 8]);
    expect(parts(0, 1000, 3), 'of long batches').to.deep.equal([2, 2, 2]);
  });

  it('are longer if making the scene ready takes long: a fifth of the time at most goes into that', () => {
    const [batches] = parts(1000, 10, 12).slice(-1);
    expect(batches).to.equal(400);
    expect(1000 / (1000 + 10 * batches)).to.be.at.most(0.2 + 1e-12);
  });

  it('shrink again when batches take longer', () => {
    expect(nextBatches(64, 100, 100 + 63 * 100)).to.equal(4);
    expect(nextBatches(1, 5, 5)).to.equal(2);
  });
});
