import { expect } from 'chai';
import { nudged, numberReader } from './number-cell.ts';

describe('number cells', () => {
  it('turn a number by one in its third digit and keep the digits behind', () => {
    expect(nudged('13.8165', 1)).to.equal('13.9165');
    expect(nudged('−23.6555', -1)).to.equal('-23.7555');
    expect(nudged('0.001', 1)).to.equal('0.00101');
    expect(nudged('970.198', -1)).to.equal('969.198');
    expect(nudged('∞', 1)).to.equal(null);
    expect(nudged('', 1)).to.equal(null);
  });

  it('say what the model demands beside what a number is', () => {
    const read = numberReader({ kind: 'length' }, (value) => (value > 0 ? null : 'Must be above 0.'));
    expect(read('1in')).to.deep.equal({ ok: true, value: 25.4 });
    expect(read('-1')).to.deep.equal({ ok: false, reason: 'Must be above 0.' });
    expect(read('x')).to.have.property('ok', false);
  });
});
