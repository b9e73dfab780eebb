import { expect } from 'chai';
import { part, sceneOf } from '../../scene/fixtures.ts';
import { sectionFill } from './section-fill.ts';

/** mm² of what is cut, by part. */
function areas(parts: readonly ReturnType<typeof part>[]): Readonly<Record<string, number>> {
  const found: Record<string, number> = {};
  for (const { part: id, positions } of sectionFill(sceneOf({ parts }))) {
    found[id] = 0;
    for (let k = 0; k < positions.length; k += 9) {
      const [ay, az, by, bz, cy, cz] = [1, 2, 4, 5, 7, 8].map((at) => positions[k + at]);
      expect([positions[k], positions[k + 3], positions[k + 6]]).to.deep.equal([0, 0, 0]);
      found[id] += Math.abs((by - ay) * (cz - az) - (cy - ay) * (bz - az)) / 2;
    }
  }
  return found;
}

describe('bodies cut open', () => {
  it('show as much matter as their section has', () => {
    const found = areas([
      part('block', { kind: 'box', width: 3, height: 4, thickness: 5 }, { material: 'glass' }),
      part('ball', { kind: 'sphere', radius: 3 }, { frame: { dx: 1, dz: 20 } }),
      part('pipe', { kind: 'tube', radius: 3, inner: 2, length: 5 }, { frame: { dz: 30, tx: 30 } }),
      part('ring', { kind: 'torus', ring: 5, tube: 1 }, { frame: { dz: 50 } }),
      part('aside', { kind: 'sphere', radius: 3 }, { frame: { dx: 4, dz: 60 } }),
    ]);
    expect(Object.keys(found)).to.deep.equal(['block', 'ball', 'pipe', 'ring']);
    expect(found.block).to.be.closeTo(20, 1e-3);
    expect(found.ball).to.be.closeTo(8 * Math.PI, 0.08); // a circle of radius √(3² − 1)
    expect(found.pipe).to.be.closeTo(10, 0.05);
    expect(found.ring).to.be.closeTo(2 * Math.PI, 0.08);
  });

  it('leave out what is cut away from them', () => {
    const found = areas([
      part('whole', { kind: 'box', width: 10, height: 10, thickness: 10 }, { material: 'glass' }),
      part('bore', { kind: 'cylinder', radius: 2, length: 20 }, { frame: { dz: -5 } }),
      part('cut', { kind: 'combined', operation: 'difference', first: 'whole', second: 'bore' } as never, {
        material: 'glass',
      }),
    ]);
    expect(found.cut).to.be.closeTo(60, 0.1);
  });
});
