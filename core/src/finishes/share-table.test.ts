import { expect } from 'chai';
import fc from 'fast-check';
import { compileFinish } from './finish.ts';
import type { FaceShares } from './fresnel.ts';
import { shareTable, tableShares } from './share-table.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const layer = fc.record({
  index: number(1.3, 2.6),
  extinction: fc.oneof(fc.constant(0), number(0, 1)),
  thickness: number(5, 600),
});

describe('Tables of the shares of coated faces', () => {
  it('are right to 1e-6 at every incidence, from either side, into either medium', () => {
    let tables = 0;
    fc.assert(
      fc.property(
        fc.array(layer, { minLength: 1, maxLength: 6 }),
        fc.constantFrom([1, 1.52], [1.52, 1], [1.33, 1.8], [1.8, 1.33], [1, 1]),
        fc.boolean(),
        number(380, 780),
        fc.array(number(0.001, 1), { minLength: 60, maxLength: 60 }),
        (layers, [n1, n2], outward, nm, cosines) => {
          const finish = compileFinish(
            { optics: { kind: 'coating', layers: layers.map((one, k) => ({ id: `f${k + 1}`, ...one })) } },
            nm,
          );
          const table = shareTable(finish, n1, n2, outward);
          if (!table) return;
          tables++;
          const out: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
          const critical = n1 > n2 ? Math.sqrt(1 - (n2 / n1) ** 2) : 0.5;
          // Where light just stops to find a way on, too.
          for (const cosine of [...cosines, critical * 1.0001, critical * 0.9999, 1]) {
            finish.shares(n1, n2, cosine, outward, out);
            const { reflected, through } = tableShares(table, n1, n2, cosine);
            expect(reflected, `${cosine}`).to.be.closeTo((out.rs + out.rp) / 2, 1e-6);
            expect(through, `${cosine}`).to.be.closeTo((out.ts + out.tp) / 2, 1e-6);
          }
        },
      ),
      { seed: 3, numRuns: 150 },
    );
    expect(tables).to.be.above(140);
  });

  it('are kept for a finish, and not made of what changes too quickly', () => {
    const finish = compileFinish(
      { optics: { kind: 'coating', layers: [{ id: 'f1', index: 1.38, thickness: 100 }] } },
      550,
    );
    expect(shareTable(finish, 1, 1.5, false)).to.equal(shareTable(finish, 1, 1.5, false));
    const thick = compileFinish(
      { optics: { kind: 'coating', layers: [{ id: 'f1', index: 1.38, thickness: 1e6 }] } },
      550,
    );
    expect(shareTable(thick, 1, 1.5, false)).to.equal(null);
  });
});
