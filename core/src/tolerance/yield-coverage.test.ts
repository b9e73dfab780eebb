import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { yieldInterval } from '../math/capability.ts';
import { readProjectText } from '../project/read.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { keeps } from './lot-summary.ts';
import { lotByResponse } from './response-lot.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('unreadable');
const { project } = read;

describe('the interval of a yield', () => {
  it('covers the truth at 95 % in at least 90 of 100 repetitions, also where nearly all or nearly none pass', () => {
    const { tolerances, compensators = [] } = project.tolerancing!;
    const worst = { id: 'w', measure: 'rms_spot_radius', lens: 'tide', settings: { field: 'worst' } };
    const response = responseByDerivatives({ project, tolerances, compensators, watched: [worst] });
    if (!response.ok) throw new Error(response.reason);
    const lot = (seed: number, trials: number) => {
      const made = lotByResponse(response.value, tolerances, seed, trials);
      if (!made.ok) throw new Error(made.reason);
      return made.value.values[0];
    };
    const truth = lot(1000, 200_000);
    const share = (values: Float64Array, max: number) => values.filter((value) => keeps(value, { max })).length;
    for (const max of [8.5, 10.5, 12, 15.5]) {
      const real = share(truth, max) / truth.length;
      let covered = 0;
      for (let seed = 1; seed <= 100; seed++) {
        const [low, high] = yieldInterval(share(lot(seed, 200), max), 200);
        if (low <= real && real <= high) covered++;
      }
      expect(covered, `largest spot ${max} µm, yield ${real.toFixed(3)}`).to.be.at.least(90);
    }
  });
});
