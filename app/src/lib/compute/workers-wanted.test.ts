import { expect } from 'chai';
import { rememberWorkers, workersWanted } from './workers-wanted.ts';

describe('the number of workers', () => {
  const kept = (value: string | null) => ({ getItem: () => value, setItem: () => {} });

  it('follows the machine, two at least and eight at most', () => {
    expect([1, 2, 4, 32].map((processors) => workersWanted(null, processors))).to.deep.equal([2, 2, 3, 8]);
  });

  it('is what the user has chosen, whatever else the store may hold', () => {
    expect(workersWanted(kept('1'), 8)).to.equal(1);
    expect(workersWanted(kept('400'), 8)).to.equal(16);
    for (const nonsense of ['', 'many', '-3', '2.5', null]) expect(workersWanted(kept(nonsense), 4)).to.equal(3);
    const full = {
      getItem: () => null,
      setItem: () => {
        throw new Error('full');
      },
    };
    expect(() => rememberWorkers(3, full)).to.not.throw();
  });
});
