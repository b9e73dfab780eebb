import { expect } from 'chai';
import { detector, glassOf, part, sceneOf, source } from './fixtures.ts';
import { BATCH, chunksOf, traceAll, traceChunks, tracerOf } from './run.ts';
import { detectorNumbers } from './statistics.ts';
import { joinTallies, type Tally } from './tally.ts';
import { SceneTracer } from './tracer.ts';
import type { SceneModel } from './scene-model.ts';

const numbers = (model: SceneModel, tally: Tally, d = 0) =>
  detectorNumbers(model.detectors[d], tally.detectors[d], tally.chunks);

function expectClosed({ ledger }: Tally): void {
  const { launched, detected, absorbed, inBodies, escaped, cutOff, byLot } = ledger;
  expect(Math.abs(launched - detected - absorbed - inBodies - escaped - cutOff - byLot)).to.be.below(1e-9 * launched);
}

/** Within four standard errors, or the rounding of a sum that has none. */
function expectNear(estimate: { value: number; standardError: number }, expected: number): void {
  const off = Math.abs(estimate.value - expected);
  expect(off, `${estimate.value} ± ${estimate.standardError} for ${expected}`).to.be.at.most(
    Math.max(4 * estimate.standardError, 1e-9 * Math.abs(expected)),
  );
}

const slab = (thickness: number) =>
  part('slab', { kind: 'box', width: 400, height: 400, thickness }, { material: 'glass', frame: { dz: 5 } });
const screen = part('screen', { kind: 'sheet', width: 4000, height: 4000 }, { frame: { dz: 100 } });
const meter = detector({ kind: 'face', part: 'screen', face: 'face' });

describe('Slab with absorption and all its reflections', () => {
  // T = (1−R)²τ/(1−R²τ²)
  const through = (R: number, tau: number) => ((1 - R) ** 2 * tau) / (1 - R * R * tau * tau);

  for (const [degrees, polarised, R] of [
    [0, 's', 0.04],
    [45, 's', 0.0920133630455244],
    [60, 's', 0.17657148808284054],
    [60, 'p', 0.0018019375215850362],
  ] as const)
    it(`lets through what the series sums up to, ${degrees}° ${polarised}`, () => {
      const model = sceneOf({
        materials: [glassOf(1.5, 0.02)],
        parts: [slab(10), screen],
        sources: [source({ frame: { ty: degrees } })],
        detectors: [meter],
        sampling: { threshold: 1e-14, rays: 64 },
      });
      const tally = traceAll(model, 64, { polarised });
      const inside = Math.asin(Math.sin((degrees * Math.PI) / 180) / 1.5);
      const tau = Math.exp((-0.02 * 10) / Math.cos(inside));
      expect(numbers(model, tally).flux.value).to.be.closeTo(through(R, tau), 1e-12);
      expectClosed(tally);
    });

  it('is the same on the mean when one way is drawn by lot', () => {
    const model = sceneOf({
      materials: [glassOf(1.5, 0.02)],
      parts: [slab(10), screen],
      sources: [source()],
      detectors: [meter],
      sampling: { threshold: 0.2, rays: 50_000, splitting: 'one' },
    });
    const tally = traceAll(model, 50_000);
    expectNear(numbers(model, tally).flux, through(0.04, Math.exp(-0.2)));
    expectClosed(tally);
  });
});

describe('Standard errors', () => {
  it('are those that repetition shows', () => {
    const at = (seed: number) => {
      const model = sceneOf({
        parts: [part('screen', { kind: 'disc', radius: 7.3 }, { frame: { dx: 4, dz: 10 } })],
        sources: [source({ law: { kind: 'lambertian', half: 90 } })],
        detectors: [detector({ kind: 'face', part: 'screen', face: 'face' })],
        sampling: { seed, rays: 4096 },
      });
      return numbers(model, traceAll(model, 4096)).flux;
    };
    const runs = Array.from({ length: 60 }, (_, seed) => at(seed));
    // A point off the axis of a disc: ½(1 − (a² + h² − R²)/√((a² + h² + R²)² − 4a²R²)).
    const [a, h, R] = [4, 10, 7.3].map((value) => value * value);
    const share = 0.5 * (1 - (a + h - R) / Math.sqrt((a + h + R) ** 2 - 4 * a * R));
    const spread = Math.sqrt(runs.reduce((sum, { value }) => sum + (value - share) ** 2, 0) / runs.length);
    const claimed = Math.sqrt(runs.reduce((sum, run) => sum + run.standardError ** 2, 0) / runs.length);
    expect(spread / claimed).to.be.within(0.75, 1.33);
    for (const run of runs) expectNear(run, share);
  });
});

describe('Determinism', () => {
  it('a run is the same to the last bit however its chunks are shared out', () => {
    const model = sceneOf({
      parts: [slab(10), screen],
      sources: [source({ law: { kind: 'lambertian', half: 60 }, region: { kind: 'disc', radius: 3 } })],
      detectors: [meter],
    });
    const whole = traceAll(model, 5000);
    const { count } = chunksOf(5000);
    const cut = BATCH * 2;
    // The second part first, by another tracer: no state must go from chunk to chunk.
    const later = traceChunks(tracerOf(model), 5000, cut, count);
    expect(cut).to.be.below(count);
    const parts = joinTallies(traceChunks(tracerOf(model), 5000, 0, cut), later);
    expect(parts.detectors[0].moments).to.deep.equal(whole.detectors[0].moments);
    expect(parts.detectors[0].hits).to.deep.equal(whole.detectors[0].hits);
    for (const [cell, value] of whole.detectors[0].flux.entries())
      expect(parts.detectors[0].flux[cell]).to.be.closeTo(value, 1e-15 * Math.abs(value) + 1e-300);
  });
});

describe('Bodies in bodies', () => {
  it('a bubble in glass, and glass that touches glass', () => {
    const model = sceneOf({
      parts: [
        slab(10),
        part('bubble', { kind: 'sphere', radius: 2 }, { material: 'air', frame: { dz: 10 } }),
        part(
          'second',
          { kind: 'box', width: 400, height: 400, thickness: 7 },
          { material: 'glass', frame: { dz: 15 } },
        ),
        screen,
      ],
      sources: [source({ region: { kind: 'disc', radius: 4 }, law: { kind: 'lambertian', half: 40 } })],
      detectors: [meter],
      sampling: { splitting: 'one', rays: 5000 },
    });
    const tally = traceAll(model, 5000);
    expect(tally.mishaps).to.deep.equal([]);
    expectClosed(tally);
  });

  it('bodies that cross each other are found, with a place', () => {
    const model = sceneOf({
      parts: [
        slab(10),
        part('intruder', { kind: 'sphere', radius: 3 }, { material: 'glass', frame: { dz: 15 } }),
        screen,
      ],
      sources: [source({ region: { kind: 'disc', radius: 2 } })],
    });
    const { mishaps } = traceAll(model, 500);
    expect(mishaps[0].kind).to.equal('overlap');
    expect(mishaps[0].at[2]).to.be.within(11, 19);
  });

  it('a source in glass starts in it', () => {
    const model = sceneOf({
      parts: [slab(10), screen],
      sources: [source({ frame: { dz: 10 } })],
      detectors: [meter],
      sampling: { threshold: 1e-14 },
    });
    expect(new SceneTracer(model).starts).to.deep.equal([[0]]);
    // Half of it would need a mirror; one face forward, then multiple reflections: T/(1−R²) with T = 1−R.
    expect(numbers(model, traceAll(model, 64)).flux.value).to.be.closeTo(0.96 / (1 - 0.04 ** 2), 1e-12);
  });
});

describe('Events that end', () => {
  it('two perfect mirrors facing each other keep light until the limit, and the book closes', () => {
    const model = sceneOf({
      parts: [
        part('left', { kind: 'sheet', width: 10, height: 10 }, { frame: { dz: -1 }, finish: 'mirror' }),
        part('right', { kind: 'sheet', width: 10, height: 10 }, { frame: { dz: 1 }, finish: 'mirror' }),
      ],
      sources: [source()],
      sampling: { events: 50 },
    });
    const tally = traceAll(model, 64);
    expect(tally.ledger.cutOff / tally.chunks).to.be.closeTo(1, 1e-12);
    expectClosed(tally);
  });
});

describe('Scattering media', () => {
  it('a thin cloud lets exp(−s/ℓ) through unscattered, and takes none', () => {
    const cloud = part(
      'cloud',
      { kind: 'box', width: 1e6, height: 1e6, thickness: 1 },
      { material: 'air', volume: { freePath: 2 }, frame: { dz: 1 } },
    );
    const model = sceneOf({
      parts: [cloud, part('pin', { kind: 'disc', radius: 1e-6 }, { frame: { dz: 3 } })],
      sources: [source()],
      detectors: [detector({ kind: 'face', part: 'pin', face: 'face' })],
      sampling: { rays: 40_000 },
    });
    const tally = traceAll(model, 40_000);
    expectNear(numbers(model, tally).flux, Math.exp(-0.5));
    expectClosed(tally);
  });
});
