import { expect } from 'chai';
import fc from 'fast-check';
import { RandomStream } from '../math/random.ts';
import { basicFinish, BASIC_FINISHES } from './basic.ts';
import { compileFinish } from './finish.ts';
import { bareShares, metalShares, type FaceShares } from './fresnel.ts';
import { henyeyGreensteinCosine } from './phase-function.ts';
import { RadialLobe } from './radial-lobe.ts';
import { compileScatter, type Scatter } from './laws/registry.ts';
import type { FaceOptics } from './optics/registry.ts';
import { SHELF_FINISHES } from './shelf.ts';
import { filmShares, type Film } from './thin-film.ts';

const shares = (): FaceShares => ({ rs: 0, rp: 0, ts: 0, tp: 0 });
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('films', () => {
  const film = fc.record({ n: number(1.2, 2.6), k: fc.constant(0), nm: number(10, 800) });

  it('without absorption keep all light, and let as much through from either side', () => {
    fc.assert(
      fc.property(fc.array(film, { maxLength: 6 }), number(0.01, 1), number(1, 1.9), (films, cosine, behind) => {
        const [there, back] = [shares(), shares()];
        filmShares(550, 1, cosine, films, { n: behind, k: 0 }, there);
        expect(there.rs + there.ts).to.be.closeTo(1, 1e-12);
        expect(there.rp + there.tp).to.be.closeTo(1, 1e-12);
        const inside = Math.sqrt(1 - (1 - cosine * cosine) / (behind * behind));
        filmShares(550, behind, inside, [...films].reverse(), { n: 1, k: 0 }, back);
        expect(back.ts).to.be.closeTo(there.ts, 1e-10);
        expect(back.tp).to.be.closeTo(there.tp, 1e-10);
      }),
    );
  });

  it('with absorption let as much through from either side, and never more than comes', () => {
    const lossy = fc.record({ n: number(1.2, 3), k: number(0, 0.5), nm: number(10, 400) });
    fc.assert(
      fc.property(fc.array(lossy, { minLength: 1, maxLength: 5 }), number(0.05, 1), (films, cosine) => {
        const [there, back] = [shares(), shares()];
        filmShares(550, 1, cosine, films as Film[], { n: 1, k: 0 }, there);
        filmShares(550, 1, cosine, [...(films as Film[])].reverse(), { n: 1, k: 0 }, back);
        expect(back.ts).to.be.closeTo(there.ts, 1e-10);
        expect(there.rs + there.ts).to.be.at.most(1 + 1e-12);
        expect(there.rp + there.tp).to.be.at.most(1 + 1e-12);
      }),
    );
  });

  it('without a film are Fresnel’s face, and a metal is a film without end', () => {
    const [a, b] = [shares(), shares()];
    for (const cosine of [1, 0.7, 0.2]) {
      filmShares(550, 1, cosine, [], { n: 1.7, k: 0 }, a);
      bareShares(1, 1.7, cosine, b);
      for (const key of ['rs', 'rp', 'ts', 'tp'] as const) expect(a[key]).to.be.closeTo(b[key], 1e-14);
      filmShares(550, 1, cosine, [{ n: 0.96, k: 6.69, nm: 3000 }], { n: 1.5, k: 0 }, a);
      metalShares(1, 0.96, 6.69, cosine, b);
      expect(a.rs).to.be.closeTo(b.rs, 1e-12);
      expect(a.rp).to.be.closeTo(b.rp, 1e-12);
    }
  });

  it('let nothing through when thick and met beyond their critical angle, without losing themselves', () => {
    const out = shares();
    for (const nm of [1e3, 1e6, 1e9]) {
      filmShares(550, 1.6, 0.2, [{ n: 1.38, k: 0, nm }], { n: 1.6, k: 0 }, out);
      expect(out.rs + out.ts).to.be.closeTo(1, 1e-12);
      expect(out.rp + out.tp).to.be.closeTo(1, 1e-12);
      // exp(−4πκd/λ) of what the two faces let through alone.
      if (nm > 1e3) expect(out.ts).to.equal(0);
      else expect(out.ts).to.be.within(1e-9, 1e-6);
    }
    filmShares(550, 1, 0.5, [{ n: 0.96, k: 6.69, nm: 1e7 }], { n: 1.5, k: 0 }, out);
    expect([out.ts, out.tp]).to.deep.equal([0, 0]);
  });

  it('beyond the critical angle reflect everything', () => {
    const out = shares();
    filmShares(550, 1.5, Math.cos(0.9), [{ n: 1.38, k: 0, nm: 100 }], { n: 1, k: 0 }, out);
    expect(out.rs).to.be.closeTo(1, 1e-12);
    expect(out.tp).to.be.closeTo(0, 1e-12);
  });
});

describe('finishes', () => {
  const ALL: readonly FaceOptics[] = [...BASIC_FINISHES, ...SHELF_FINISHES].map(({ optics }) => optics);

  it('of the shelf never make light', () => {
    const out = shares();
    for (const optics of ALL)
      for (const [n1, n2] of [
        [1, 1.5],
        [1.5, 1],
        [1, 1],
      ] as const)
        for (const outward of [true, false])
          for (let cosine = 0.02; cosine <= 1; cosine += 0.07) {
            compileFinish({ optics }, 550).shares(n1, n2, cosine, outward, out);
            for (const [r, t] of [
              [out.rs, out.ts],
              [out.rp, out.tp],
            ]) {
              expect(r).to.be.within(0, 1 + 1e-12);
              expect(t).to.be.within(0, 1 + 1e-12);
              expect(r + t, `${optics.kind} ${cosine}`).to.be.at.most(1 + 1e-12);
            }
          }
  });

  it('the broadband design reflects less than bare glass over the visible', () => {
    const out = shares();
    const { optics } = SHELF_FINISHES.find(({ id }) => id === 'broadband')!;
    for (let nm = 430; nm <= 670; nm += 20) {
      compileFinish({ optics }, nm).shares(1, 1.5168, 1, false, out);
      expect(out.rs, `${nm} nm`).to.be.below(0.021);
    }
  });

  it('tables are read between their entries', () => {
    const finish = compileFinish(
      {
        optics: {
          kind: 'coating_table',
          nm: [400, 600],
          degrees: [0, 60],
          reflectance: [0.1, 0.3, 0.5, 0.7],
          transmittance: [0.9, 0.7, 0.5, 0.3],
        },
      },
      500,
    );
    const out = shares();
    finish.shares(1, 1.5, Math.cos(Math.PI / 6), false, out);
    expect(out.rs).to.be.closeTo(0.4, 1e-12);
    expect(out.ts).to.be.closeTo(0.6, 1e-12);
    // Where the medium behind knows no such angle what would go through is reflected.
    finish.shares(1.5, 1, Math.cos(1.2), true, out);
    expect(out.rs).to.be.closeTo(1, 1e-12);
  });

  it('basic ones are known by their words', () => {
    expect(basicFinish('bare')?.optics.kind).to.equal('bare');
    expect(basicFinish('velvet')).to.equal(undefined);
  });
});

describe('scatter', () => {
  const MODELS: readonly Scatter[] = [
    { kind: 'lambertian', share: 1 },
    { kind: 'gaussian', share: 0.5, angle: 6 },
    { kind: 'cosine_power', share: 0.5, power: 30 },
    { kind: 'abg', a: 0.001, b: 0.01, g: 2 },
    { kind: 'abg', a: 1e-4, b: 1e-5, g: 2.5 },
    { kind: 'shoulder', b0: 1, l: 0.01, s: -2 },
    { kind: 'exponential', share: 0.7, width: 0.08 },
    { kind: 'table', beta: [0.01, 0.1, 0.5, 1], bsdf: [10, 1, 0.1, 0.01] },
  ];

  for (const model of MODELS)
    it(`${model.kind}: draws as its density says`, () => {
      const scatter = compileScatter(model, 550);
      const random = new RandomStream(5, 0);
      const out = new Float64Array(3);
      const [sx, sy] = [0.3, 0];
      const draws = 60_000;
      // The share of draws within rings about the specular direction, against the integral of the density over them.
      const edges = [0.005, 0.02, 0.08, 0.2];
      const counts = edges.map(() => 0);
      let longest = 0;
      for (let i = 0; i < draws; i++) {
        scatter.draw(sx, sy, random, out);
        longest = Math.max(longest, Math.abs(Math.hypot(out[0], out[1], out[2]) - 1));
        const off = Math.hypot(out[0] - sx, out[1] - sy);
        edges.forEach((edge, k) => (counts[k] += off < edge ? 1 : 0));
      }
      expect(longest).to.be.below(1e-12);
      edges.forEach((edge, k) => {
        let expected = 0;
        const steps = 400;
        for (let i = 0; i < steps; i++) {
          const rho = edge * ((i + 0.5) / steps) ** 2; // finer toward the middle
          const width = edge * (((i + 1) / steps) ** 2 - (i / steps) ** 2);
          for (let j = 0; j < 48; j++) {
            const turn = (2 * Math.PI * (j + 0.5)) / 48;
            const [ox, oy] = [sx + rho * Math.cos(turn), sy + rho * Math.sin(turn)];
            const cosine = Math.sqrt(1 - ox * ox - oy * oy);
            expected += ((scatter.density(sx, sy, ox, oy) / cosine) * rho * width * 2 * Math.PI) / 48;
          }
        }
        const error = Math.sqrt((expected * (1 - expected)) / draws);
        expect(Math.abs(counts[k] / draws - expected), `within ${edge}: ${expected}`).to.be.below(
          4 * error + 2e-3 * expected + 1e-4,
        );
      });
    });

  it('total scatter is that of the closed form, πA ln(1 + 1/B) for g = 2', () => {
    const lobe = new RadialLobe((rho) => 0.001 / (0.01 + rho * rho), 0.1);
    expect(lobe.integrate(0)).to.be.closeTo(Math.PI * 0.001 * Math.log(101), 1e-14);
    expect(lobe.total(0)).to.be.closeTo(lobe.integrate(0), 1e-14);
    expect(lobe.total(0.31)).to.be.closeTo(lobe.integrate(0.31), 1e-6);
  });

  it('total scatter of an exponential lobe at normal incidence is its share', () => {
    for (const width of [0.02, 0.1, 0.7, 5])
      expect(compileScatter({ kind: 'exponential', share: 0.6, width }, 550).share(0), `width ${width}`).to.be.closeTo(
        0.6,
        1e-3,
      );
  });

  it('Henyey and Greenstein’s cosines have the mean g', () => {
    for (const g of [-0.5, 0, 1e-5, 0.3, 0.9]) {
      let sum = 0;
      const count = 20_000;
      for (let i = 0; i < count; i++) sum += henyeyGreensteinCosine(g, (i + 0.5) / count);
      expect(sum / count).to.be.closeTo(g, 1e-4);
    }
  });
});
