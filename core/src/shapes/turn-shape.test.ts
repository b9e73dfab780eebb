import { expect } from 'chai';
import { SAMPLES } from './fixtures.ts';
import { compileShape } from './registry.ts';
import { turnShape } from './turn-shape.ts';

describe('shapes turned end for end', () => {
  for (const sample of Object.values(SAMPLES)) {
    if (sample.kind === 'ideal_lens') continue;
    it(`${sample.kind}: its sag is that of the other side, and twice turned it is itself`, () => {
      const turned = turnShape(sample)!;
      const [before, after] = [compileShape(sample), compileShape(turned)];
      for (const [x, y] of [
        [0, 0],
        [1.3, 0.4],
        [-2.1, 3.3],
        [4.2, -1.7],
        [-3, -5],
      ] as const)
        expect(after.sag(x, y), `${x}, ${y}`).to.be.closeTo(-before.sag(-x, y), 1e-12);
      expect(turnShape(turned)).to.deep.equal(sample);
    });
  }

  it('leaves an ideal lens as it is, but for one that has an object side', () => {
    const ideal = { kind: 'ideal_lens', focal_length: 60 } as const;
    expect(turnShape(ideal)).to.deep.equal(ideal);
    expect(turnShape(SAMPLES.ideal_lens)).to.equal(null);
  });
});
