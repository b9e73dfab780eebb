import { expect } from 'chai';
import { compileScatter, type Scatter } from '../finishes/laws/registry.ts';
import { RandomStream } from '../math/random.ts';
import type { Part, Sampling, Source } from '../project/scene.ts';
import { coneAbout, drawToward, toL, toM, toN } from '../physics/directions.ts';
import { detector, part, sceneOf, source } from './fixtures.ts';
import { traceAll } from './run.ts';
import { detectorNumbers } from './statistics.ts';

/** ∫ f over the unit disc of direction cosines, dΩ = dA/cos θ, by midpoints in ρ² and azimuth. */
function overHemisphere(f: (x: number, y: number) => number, rings = 1500, arms = 256): number {
  let sum = 0;
  for (let i = 0; i < rings; i++) {
    // θ evenly, so that nothing piles up at the horizon.
    const theta = ((i + 0.5) / rings) * (Math.PI / 2);
    for (let j = 0; j < arms; j++) {
      const phi = ((j + 0.5) / arms) * 2 * Math.PI;
      sum += f(Math.sin(theta) * Math.cos(phi), Math.sin(theta) * Math.sin(phi)) * Math.sin(theta);
    }
  }
  return (sum * (Math.PI / 2) * 2 * Math.PI) / (rings * arms);
}

const LOBES: readonly Scatter[] = [
  { kind: 'lambertian', share: 1 },
  { kind: 'gaussian', share: 1, angle: 15 },
  { kind: 'cosine_power', share: 1, power: 12 },
  { kind: 'abg', a: 0.05, b: 0.02, g: 1.6 },
  { kind: 'shoulder', b0: 0.6, l: 0.1, s: -1.8 },
  { kind: 'exponential', share: 0.9, width: 0.2 },
];

describe('Probabilities of scattered directions', () => {
  for (const lobe of LOBES)
    for (const sine of [0, 0.5, 0.9])
      it(`are 1 together: ${lobe.kind} at an incidence of sine ${sine}`, () => {
        const { density } = compileScatter(lobe, 550);
        expect(overHemisphere((x, y) => density(sine, 0, x, y))).to.be.closeTo(1, 2e-3);
      });

  for (const lobe of LOBES)
    it(`are those that directions are drawn with: ${lobe.kind}`, () => {
      const compiled = compileScatter(lobe, 550);
      const random = new RandomStream(7, 1);
      const out = new Float64Array(3);
      const s = 0.7;
      let [mean, count] = [0, 0];
      for (; count < 40_000; count++) {
        compiled.draw(s, 0, random, out);
        mean += out[0];
      }
      const wanted = overHemisphere((x, y) => x * compiled.density(s, 0, x, y));
      expect(mean / count).to.be.closeTo(wanted, 0.012);
    });
});

describe('Aiming', () => {
  it('draws evenly from the cone of a ball, and knows what lies in it', () => {
    const radius = 2;
    const solid = drawToward(3, -1, 8, radius, 0.3, 0.6);
    const distance = Math.hypot(3, -1, 8);
    expect(solid).to.be.closeTo(2 * Math.PI * (1 - Math.sqrt(1 - (2 / distance) ** 2)), 1e-14);
    let along = 0;
    for (let k = 0; k < 1000; k++) {
      drawToward(3, -1, 8, radius, (k + 0.5) / 1000, (k * 0.618) % 1);
      expect(Math.hypot(toL, toM, toN)).to.be.closeTo(1, 1e-14);
      expect(coneAbout(3, -1, 8, radius, toL, toM, toN)).to.be.closeTo(solid, 1e-14);
      along += (toL * 3 - toM + toN * 8) / distance;
    }
    // Evenly over solid angle: the mean cosine is the middle of its range.
    expect(along / 1000).to.be.closeTo((1 + Math.sqrt(1 - (2 / distance) ** 2)) / 2, 1e-9);
    expect(coneAbout(3, -1, 8, radius, 0, 0, 1)).to.equal(0);
    expect(coneAbout(3, -1, 8, radius, -toL, -toM, -toN)).to.equal(0);
    expect(drawToward(0, 0, 1, radius, 0.5, 0.5), 'from inside').to.equal(0);
  });

  /** A beam falls on a wall at 40°; what it scatters into a small detector aside of the specular beam. */
  const wall = (finish: Part['finish'], sampling: Partial<Sampling>, rays: number) => {
    const model = sceneOf({
      finishes: LOBES.map((reflected, i) => ({
        id: `lobe${i}`,
        name: 'lobe',
        optics: { kind: 'mirror', reflectance: 0.8 },
        reflected,
      })),
      parts: [part('wall', { kind: 'sheet', width: 20, height: 20 }, { finish: finish! })],
      sources: [source({ frame: { dz: -50, dy: -50 * Math.tan((40 * Math.PI) / 180), tx: -40 } })],
      detectors: [
        detector({ kind: 'rectangle', width: 8, height: 8 }, { id: 'eye', frame: { dx: 12, dz: -40, dy: 20 } }),
      ],
      sampling: { splitting: 'split', threshold: 1e-6, events: 20, ...sampling },
    });
    const tally = traceAll(model, rays);
    expect(tally.ledger.launched / tally.chunks).to.be.closeTo(1, 1e-12);
    const { launched, ...ends } = tally.ledger;
    const all = Object.values(ends).reduce((sum, value) => sum + value, 0);
    expect(all / launched).to.be.closeTo(1, 1e-12);
    return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks).flux;
  };

  for (const splitting of ['split', 'one'] as const)
    LOBES.forEach((lobe, i) =>
      it(`finds what is found without it, with less noise: ${lobe.kind}, ${splitting}`, () => {
        const plain = wall(`lobe${i}`, { splitting, seed: 11 }, 65_536);
        const aimed = wall(`lobe${i}`, { splitting, seed: 12, aims: ['eye'] }, 8192);
        const both = Math.hypot(plain.standardError, aimed.standardError);
        expect(Math.abs(plain.value - aimed.value)).to.be.below(4 * both);
        expect(aimed.standardError / aimed.value).to.be.below(plain.standardError / plain.value);
      }),
    );

  it('counts light twice scattered once, with targets whose cones overlap', () => {
    const scene = (aims: readonly string[], rays: number) => {
      const model = sceneOf({
        finishes: [{ id: 'grey', name: 'grey', optics: { kind: 'paint', reflectance: 0.5 } }],
        parts: [
          part('floor', { kind: 'sheet', width: 20, height: 20 }, { finish: 'grey', frame: { dz: 10 } }),
          part('roof', { kind: 'disc', radius: 10, inner: 3 }, { finish: 'grey', frame: { dz: -2 } }),
          part('eye', { kind: 'sheet', width: 2, height: 2 }, { frame: { dx: 9, dz: 4, ty: 60 } }),
        ],
        sources: [source({ law: { kind: 'parallel', half: 3 } })],
        detectors: [
          detector({ kind: 'face', part: 'eye', face: 'face' }, { id: 'sees' }),
          detector({ kind: 'rectangle', width: 6, height: 6 }, { id: 'hole', frame: { dz: -2.5 } }),
        ],
        sampling: { splitting: 'split', threshold: 1e-6, events: 40, aims },
      });
      const tally = traceAll(model, rays);
      return model.detectors.map((one, d) => detectorNumbers(one, tally.detectors[d], tally.chunks).flux);
    };
    const plain = scene([], 65_536);
    const aimed = scene(['eye', 'hole', 'sees'], 16_384);
    plain.forEach((flux, d) =>
      expect(Math.abs(flux.value - aimed[d].value)).to.be.below(
        4 * Math.hypot(flux.standardError, aimed[d].standardError),
      ),
    );
  });

  it('names a target that has no place', () => {
    const { findings } = sceneOf({ parts: [], sources: [source({ aim: 'nowhere' })], sampling: { aims: ['gone'] } });
    expect(findings.map(({ text }) => text).join(' '))
      .to.match(/“gone”/)
      .and.match(/“nowhere”/);
  });
});

describe('Aimed sources', () => {
  const eye = { kind: 'rectangle', width: 2e-6, height: 2e-6 } as const;
  const at = (light: Partial<Source>, frame: Part['frame']) => {
    const model = sceneOf({
      parts: [],
      sources: [source({ ...light, aim: 'eye' })],
      detectors: [detector(eye, { id: 'eye', frame: frame! })],
    });
    const tally = traceAll(model, 16_384);
    return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks).mean;
  };

  it('give the irradiance of a small place: cos⁴ of a Lambertian point', () => {
    for (const degrees of [0, 20, 60]) {
      const theta = (degrees * Math.PI) / 180;
      const { value, standardError } = at(
        { law: { kind: 'lambertian', half: 90 } },
        { dx: 2 * Math.tan(theta), dz: 2 },
      );
      const wanted = (Math.cos(theta) ** 4 / 4) * (1 / Math.PI);
      expect(standardError / value).to.be.below(0.01);
      expect(Math.abs(value - wanted)).to.be.below(4 * standardError);
    }
  });

  it('launch as they did before where they stand inside of the ball they aim at', () => {
    const model = sceneOf({
      parts: [part('room', { kind: 'sphere', radius: 10 })],
      sources: [source({ law: { kind: 'isotropic', half: 180 }, aim: 'room' })],
    });
    expect(traceAll(model, 256).ledger.launched).to.be.closeTo(traceAll(model, 256).chunks, 1e-9);
  });

  it('start from regular places', () => {
    const places = (order: Source['order'], region: Source['region']) => {
      const model = sceneOf({ parts: [], sources: [source({ region, order: order! })] });
      const u = new Float64Array(5);
      const out = new Float64Array(7);
      const seen = new Set<string>();
      for (let k = 0; k < 4096; k++) {
        u[0] = (k + 0.5) / 4096;
        model.sources[0].launch(u, out);
        seen.add(`${out[0].toFixed(6)} ${out[1].toFixed(6)}`);
      }
      return seen;
    };
    const grid = places({ kind: 'grid', columns: 4, rows: 2 }, { kind: 'rectangle', width: 8, height: 2 });
    expect(grid.size).to.equal(8);
    expect(grid.has('-3.000000 0.500000')).to.equal(true);
    // Of a square of 4 × 4 the corners lie outside of the disc.
    expect(places({ kind: 'grid', columns: 4, rows: 4 }, { kind: 'disc', radius: 1 }).size).to.equal(12);
    const rings = places({ kind: 'rings', rings: 3, arms: 6 }, { kind: 'disc', radius: 1 });
    expect(rings.size).to.equal(18);
    const radii = [...rings].map((place) => Math.hypot(...place.split(' ').map(Number)));
    expect(Math.min(...radii)).to.be.closeTo(Math.sqrt(1 / 6), 1e-5);
  });
});
