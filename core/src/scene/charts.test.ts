import { expect } from 'chai';
import fc from 'fast-check';
import { AT_REST } from '../math/rigid.ts';
import { encircledRadius } from './encircled.ts';
import type { DetectorPlace } from '../detectors/registry.ts';
import type { Source } from '../project/scene.ts';
import { detector, glassOf, part, sceneOf, source } from './fixtures.ts';
import { noTally, traceAll, tracerOf } from './run.ts';
import { detectorNumbers } from './statistics.ts';
import { SceneTracer } from './tracer.ts';
import { depositAlong, type VolumeMeter } from './volume-meter.ts';

const lamp: Partial<Source> = { law: { kind: 'isotropic', half: 180 } };
const count = (on: DetectorPlace, rays = 32_768, light: Partial<Source> = lamp, seed = 1) => {
  const model = sceneOf({
    parts: [],
    sources: [source(light)],
    detectors: [detector(on, { columns: 12, rows: 10 })],
    sampling: { seed },
  });
  const tally = traceAll(model, rays);
  return { model, tally, numbers: detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks) };
};

describe('Maps on curved detectors', () => {
  it('cover the surface: cells of a ball, a wall and a disc add up to its area', () => {
    const area = (on: DetectorPlace) => count(on, 16).model.detectors[0].size.reduce((sum, cell) => sum + cell, 0);
    expect(area({ kind: 'sphere', radius: 3 })).to.be.closeTo(36 * Math.PI, 1e-11);
    expect(area({ kind: 'cylinder', radius: 3, length: 5 })).to.be.closeTo(30 * Math.PI, 1e-11);
    expect(area({ kind: 'disc', radius: 3 })).to.be.closeTo(9 * Math.PI, 0.02);
    expect(area({ kind: 'far', halfX: 180, halfY: 90 })).to.be.closeTo(4 * Math.PI, 1e-12);
  });

  it('count a lamp in the middle of a ball evenly, with honest errors', () => {
    // Mean χ² of the cells over runs of many seeds: neighbouring cells hang together, so one run may lie far off.
    let chi = 0;
    const seeds = 12;
    for (let seed = 1; seed <= seeds; seed++) {
      const { model, tally, numbers } = count({ kind: 'sphere', radius: 5 }, 16_384, lamp, seed);
      expect(numbers.flux.value).to.be.closeTo(1, 1e-12);
      const { size } = model.detectors[0];
      const { flux: sum, squares } = tally.detectors[0];
      for (let cell = 0; cell < sum.length; cell++) {
        const mean = sum[cell] / tally.chunks;
        const variance = (squares[cell] / tally.chunks - mean * mean) / (tally.chunks - 1);
        chi += (mean - size[cell] / (100 * Math.PI)) ** 2 / variance / (sum.length * seeds);
      }
    }
    expect(chi).to.be.within(0.7, 1.5);
  });

  it('know where on a wall light falls: a beam at azimuth 60°, 2 mm up', () => {
    const { numbers } = count({ kind: 'cylinder', radius: 4, length: 10 }, 64, {
      law: { kind: 'parallel', half: 0 },
      frame: { dz: 2 },
      towards: { x: Math.cos(Math.PI / 3), y: Math.sin(Math.PI / 3), z: 0 },
    });
    expect(numbers.centroidX.value).to.be.closeTo((4 * Math.PI) / 3, 1e-9);
    expect(numbers.centroidY.value).to.be.closeTo(2, 1e-9);
  });

  it('unroll walls of bodies too, in both tracers alike', () => {
    const model = sceneOf({
      materials: [glassOf(1.5)],
      parts: [
        part('rod', { kind: 'cylinder', radius: 4, length: 10 }, { material: 'glass' }),
        part('ball', { kind: 'sphere', radius: 3 }, { material: 'glass', frame: { dz: 20 } }),
      ],
      sources: [source({ ...lamp, frame: { dz: 15 } })],
      detectors: [
        detector({ kind: 'face', part: 'rod', face: 'side' }, { id: 'side', columns: 7, rows: 5 }),
        detector(
          { kind: 'face', part: 'ball', face: 'surface' },
          { id: 'ball_map', counts: 'leaving', columns: 7, rows: 5 },
        ),
        detector({ kind: 'sphere', radius: 30 }, { id: 'around', columns: 9, rows: 5 }),
        detector({ kind: 'cylinder', radius: 8, length: 40 }, { id: 'wall', columns: 9, rows: 5 }),
        detector({ kind: 'disc', radius: 8 }, { id: 'disc', frame: { dz: -9 } }),
      ],
      sampling: { events: 8 },
    });
    expect(model.detectors.map(({ chart }) => chart.kind)).to.deep.equal([
      'cylinder',
      'sphere',
      'sphere',
      'cylinder',
      'flat',
    ]);
    const [plain, compiled] = [new SceneTracer(model), tracerOf(model)].map((tracer) => {
      const sum = noTally(model);
      tracer.chunk(0, 1024, 5, sum);
      return sum.tally();
    });
    plain.detectors.forEach(({ id, flux, hits }, d) => {
      expect([...compiled.detectors[d].hits], id).to.deep.equal([...hits]);
      flux.forEach((value, cell) => expect(compiled.detectors[d].flux[cell], id).to.be.closeTo(value, 1e-9));
    });
  });
});

describe('A block of cells', () => {
  const meter: VolumeMeter = { toOwn: AT_REST, size: [8, 6, 4], cells: [4, 3, 5] };

  it('holds all that is lost inside of it, whatever way a ray goes', () => {
    const number = fc.double({ min: -6, max: 6, noNaN: true });
    fc.assert(
      fc.property(number, number, number, number, number, number, (x, y, z, l, m, n) => {
        const length = Math.hypot(l, m, n);
        fc.pre(length > 0.1);
        const [dl, dm, dn] = [l / length, m / length, n / length];
        const map = new Float64Array(60);
        const moments = new Float64Array(5);
        depositAlong(meter, [x, y, z, dl, dm, dn], 7, 2, 0.1, map, moments);
        // By small steps.
        let lost = 0;
        const steps = 4000;
        for (let k = 0; k < steps; k++) {
          const t = ((k + 0.5) * 7) / steps;
          if (Math.abs(x + t * dl) < 4 && Math.abs(y + t * dm) < 3 && Math.abs(z + t * dn) < 2)
            lost += (2 * 0.1 * Math.exp(-0.1 * t) * 7) / steps;
        }
        const sum = map.reduce((total, value) => total + value, 0);
        expect(sum).to.be.closeTo(lost, 2e-3);
        expect(moments[0]).to.be.closeTo(sum, 1e-12);
      }),
    );
  });

  it('finds where a beam is absorbed: exp(−αz) layer by layer, the same in both tracers', () => {
    const model = sceneOf({
      materials: [glassOf(1.5, 0.2)],
      parts: [part('rod', { kind: 'box', width: 4, height: 4, thickness: 10 }, { material: 'glass' })],
      sources: [source({ frame: { dz: -5, dx: 0.3, dy: 0.4 } })],
      detectors: [
        detector(
          { kind: 'block', width: 4, height: 4, depth: 10, layers: 5 },
          { columns: 2, rows: 2, frame: { dz: 5 } },
        ),
      ],
      sampling: { threshold: 0.5 },
    });
    const [plain, compiled] = [new SceneTracer(model), tracerOf(model)].map((tracer) => {
      const sum = noTally(model);
      tracer.chunk(0, 2, 5, sum);
      return sum.tally();
    });
    const entered = 0.96;
    for (let layer = 0; layer < 5; layer++) {
      const wanted = entered * (Math.exp(-0.4 * layer) - Math.exp(-0.4 * (layer + 1)));
      expect(plain.detectors[0].flux[4 * layer + 3], `layer ${layer}`).to.be.closeTo(wanted, 1e-9);
      expect(plain.detectors[0].flux[4 * layer]).to.equal(0);
    }
    expect(compiled.detectors[0].hits).to.deep.equal(plain.detectors[0].hits);
    plain.detectors[0].flux.forEach((value, cell) =>
      expect(compiled.detectors[0].flux[cell]).to.be.closeTo(value, 1e-12),
    );
  });
});

describe('Encircled flux', () => {
  it('of an even disc grows with r², of a waist as 1 − exp(−2r²/w²)', () => {
    const radius = (region: Source['region'], share: number) => {
      const model = sceneOf({
        parts: [],
        sources: [source({ region })],
        detectors: [
          detector({ kind: 'rectangle', width: 10, height: 10 }, { columns: 201, rows: 201, frame: { dz: 5 } }),
        ],
      });
      const tally = traceAll(model, 32_768);
      const [meter] = model.detectors;
      const numbers = detectorNumbers(meter, tally.detectors[0], tally.chunks);
      return encircledRadius(meter, tally.detectors[0], tally.chunks, numbers, share);
    };
    const disc = radius({ kind: 'disc', radius: 4 }, 0.25);
    expect(disc.value).to.be.closeTo(2, 0.03);
    expect(disc.standardError).to.be.within(1e-5, 0.03);
    const waist = radius({ kind: 'waist', radius: 2 }, 0.8);
    expect(waist.value).to.be.closeTo(2 * Math.sqrt(Math.log(5) / 2), 0.03);
  });
});
