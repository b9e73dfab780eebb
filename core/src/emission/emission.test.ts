import { expect } from 'chai';
import { compileLaw, LAWS, type Law } from './laws/registry.ts';
import { orderedStart } from './order.ts';
import { compileRegion, REGIONS, type OwnRegion } from './regions/registry.ts';

const DRAWS = 20_000;

/** One of each law as it is chosen first, and some others. */
const LAW_SAMPLES: readonly Law[] = [
  ...LAWS.map(({ first }) => first),
  { kind: 'lambertian', half: 60 },
  { kind: 'isotropic', half: 130 },
  { kind: 'cosine_power', power: 0.5 },
  { kind: 'parallel', half: 0.2666 },
  { kind: 'gaussian', half: 20 },
  { kind: 'table', degrees: [0, 20, 50, 90], intensity: [1, 3, 0.5, 0] },
];

describe('laws of directions', () => {
  for (const law of LAW_SAMPLES.filter((one) => !compileLaw(one).parallel)) {
    const { angle, density, plain } = compileLaw(law);
    const out = new Float64Array(2);

    it(`send as much into a cone as they draw, and one in all: ${JSON.stringify(law)}`, () => {
      const cosines = Array.from({ length: DRAWS }, (_, k) => {
        angle((k + 0.5) / DRAWS, out);
        if (Math.abs(Math.hypot(out[0], out[1]) - 1) > 1e-12) expect.fail(`sine ${out[0]} and cosine ${out[1]}`);
        return out[1];
      });
      const sorted = [...cosines].sort((a, b) => b - a);
      // Cones that hold a tenth, half and nine tenths of the draws, and one that holds them all.
      for (const share of [0.1, 0.5, 0.9, 1]) {
        const reach = share === 1 ? Math.min(2, 1.3 * (1 - sorted[DRAWS - 1])) : 1 - sorted[share * DRAWS];
        let sum = 0;
        for (let k = 0; k < DRAWS; k++) sum += density(1 - reach + ((k + 0.5) / DRAWS) * reach);
        expect((sum * 2 * Math.PI * reach) / DRAWS, `share ${share}`).to.be.closeTo(share, 1e-3);
      }
    });

    if (plain)
      it(`are known to the compiled tracer as they are drawn here: ${JSON.stringify(law)}`, () => {
        const [kind, value] = plain;
        for (const u of [0, 0.1, 0.5, 0.99]) {
          angle(u, out);
          if (kind === 'sine') expect(out[0]).to.equal(value * Math.sqrt(u));
          else expect(out[1]).to.equal(1 - u * value);
        }
      });
  }

  it('send parallel light one way', () => {
    const { angle, parallel } = compileLaw({ kind: 'parallel', half: 0 });
    const out = new Float64Array(2);
    for (const u of [0, 0.3, 0.9]) {
      angle(u, out);
      expect([...out]).to.deep.equal([0, 1]);
    }
    expect(parallel).to.equal(true);
  });
});

describe('regions that shine', () => {
  const starts = (region: OwnRegion, count = 64) => {
    const { start } = compileRegion(region);
    return Array.from({ length: count * count }, (_, i) => {
      const out = new Float64Array(6);
      start(((i % count) + 0.5) / count, (Math.floor(i / count) + 0.5) / count, out);
      return [...out];
    });
  };
  const mean = (list: readonly number[]) => list.reduce((sum, value) => sum + value, 0) / list.length;

  for (const { kind, first } of REGIONS)
    it(`give unit normals, and starts about the origin: ${kind}`, () => {
      const all = starts(first);
      const off = all.map(([, , , l, m, n]) => Math.abs(Math.hypot(l, m, n) - 1));
      expect(Math.max(...off)).to.be.below(1e-12);
      for (const axis of [0, 1]) expect(Math.abs(mean(all.map((at) => at[axis])))).to.be.below(1e-12);
    });

  it('are evenly bright: second moments of the closed forms', () => {
    const square = (region: OwnRegion, axes: readonly number[]) =>
      mean(starts(region).map((at) => axes.reduce((sum, axis) => sum + at[axis] ** 2, 0)));
    expect(square({ kind: 'disc', radius: 3 }, [0, 1])).to.be.closeTo(9 / 2, 1e-9);
    expect(square({ kind: 'disc', radius: 3, inner: 1 }, [0, 1])).to.be.closeTo(10 / 2, 1e-9);
    expect(square({ kind: 'rectangle', width: 6, height: 2 }, [0])).to.be.closeTo(3, 1e-3);
    expect(square({ kind: 'rectangle', width: 6, height: 2 }, [1])).to.be.closeTo(1 / 3, 1e-3);
    // A third each of r² along x, y and z; a wire has all its light at its radius, and length²/12 along z.
    for (const axis of [0, 1, 2]) expect(square({ kind: 'sphere', radius: 2 }, [axis])).to.be.closeTo(4 / 3, 1e-3);
    expect(square({ kind: 'filament', radius: 0.5, length: 6 }, [0, 1])).to.be.closeTo(0.25, 1e-12);
    expect(square({ kind: 'filament', radius: 0.5, length: 6 }, [2])).to.be.closeTo(3, 1e-3);
    // Of exp(−2r²/w²), the mean of r² is w²/2.
    expect(square({ kind: 'waist', radius: 2 }, [0, 1])).to.be.closeTo(2, 0.05);
  });

  it('are known to the compiled tracer as they are drawn here', () => {
    const ring = compileRegion({ kind: 'disc', radius: 3, inner: 1 }).plain;
    expect(ring).to.deep.equal(['disc', 1, 8]);
    expect(compileRegion({ kind: 'rectangle', width: 6, height: 2 }).plain).to.deep.equal(['rectangle', 6, 2]);
    expect(compileRegion({ kind: 'point' }).plain).to.deep.equal(['disc', 0, 0]);
  });

  it('have regular starts where they are flat, each as often as the others', () => {
    const counts = (region: OwnRegion, order: Parameters<typeof orderedStart>[1]) => {
      const start = orderedStart(compileRegion(region), order);
      if (!start) return null;
      const found = new Map<string, number>();
      const out = new Float64Array(6);
      for (let k = 0; k < 1200; k++) {
        start((k + 0.5) / 1200, 0.5, out);
        const key = `${out[0].toFixed(9)} ${out[1].toFixed(9)}`;
        found.set(key, (found.get(key) ?? 0) + 1);
      }
      return [...found.values()];
    };
    const grid = { kind: 'grid', columns: 4, rows: 3 } as const;
    expect(counts({ kind: 'rectangle', width: 2, height: 1 }, grid)).to.deep.equal(Array(12).fill(100));
    expect(counts({ kind: 'disc', radius: 1 }, { kind: 'rings', rings: 2, arms: 5 })).to.deep.equal(
      Array(10).fill(120),
    );
    // The corners of a grid lie outside of a disc.
    expect(counts({ kind: 'disc', radius: 1 }, { kind: 'grid', columns: 4, rows: 4 })).to.have.length(12);
    expect(counts({ kind: 'sphere', radius: 1 }, grid)).to.equal(null);
    expect(counts({ kind: 'point' }, grid)).to.equal(null);
    expect(counts({ kind: 'rectangle', width: 2, height: 1 }, { kind: 'grid', columns: 1001, rows: 1000 })).to.equal(
      null,
    );
  });
});
