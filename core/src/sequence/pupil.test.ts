import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { RAY_STATUS, rayBlock } from '../compute/ray-block.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Lens, Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { Aimer } from './aiming.ts';
import { traceBundle } from './bundle.ts';
import { launchPupil, launchRays } from './launch.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';
import { pupilPoints, samplingLabel } from './pupil-sampling.ts';
import { traceBlock } from './trace.ts';

function tideCamera(): Project {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.project;
}

function aimerOf(project: Project, change: Partial<Lens> = {}): Aimer {
  const model: LensModel = compileLens(project, { ...project.lenses[0], ...change });
  const primary = firstOrder(model, model.primary);
  if (!primary.ok) throw new Error(primary.reason);
  const pupil = launchPupil(model, primary.value);
  if (!pupil.ok) throw new Error(pupil.reason);
  return new Aimer(model, pupil.value);
}

const field = (x: number, y: number) => ({ id: `f${x}_${y}`, x, y, weight: 1 });

describe('pupil sampling', () => {
  /** Mean of a function over the points. */
  function mean(points: ReturnType<typeof pupilPoints>, f: (x: number, y: number) => number): number {
    return points.weight.reduce((sum, weight, i) => sum + weight * f(points.px[i], points.py[i]), 0);
  }

  it('averages even powers of the radius exactly over disk and annulus', () => {
    for (const obscuration of [0, 0.33]) {
      const points = pupilPoints({ kind: 'polar', rings: 4, arms: 12 }, obscuration);
      const inner = obscuration ** 2;
      for (let p = 0; p < 8; p++) {
        const exact = (1 - inner ** (p + 1)) / ((p + 1) * (1 - inner)); // mean of (ρ²)ᵖ
        expect(mean(points, (x, y) => (x * x + y * y) ** p)).to.be.closeTo(exact, 1e-14);
      }
      expect(mean(points, (x) => x * x)).to.be.closeTo((1 + inner) / 4, 1e-15);
      expect(mean(points, (x, y) => x * y ** 3)).to.be.closeTo(0, 1e-16);
    }
  });

  it('counts grid points as the reference does', () => {
    expect(pupilPoints({ kind: 'grid', size: 64 }, 0).px.length).to.equal(3228);
    expect(pupilPoints({ kind: 'grid', size: 2 }, 0).px.length).to.equal(4);
    expect(samplingLabel({ kind: 'grid', size: 64 })).to.equal('64 × 64 grid');
  });
});

describe('launching rays', () => {
  it('starts parallel light on one wavefront through the entrance pupil', () => {
    const aimer = aimerOf(tideCamera());
    const rays = rayBlock(3);
    const { semi, z } = aimer.pupil;
    launchRays(
      aimer.model,
      aimer.pupil,
      field(3, 16),
      Float64Array.of(0, semi, 0),
      Float64Array.of(0, 0, -semi),
      rays,
      3,
    );
    const slopes = [Math.tan((3 * Math.PI) / 180), Math.tan((16 * Math.PI) / 180)];
    for (let i = 0; i < 3; i++) {
      expect(rays.l[i] / rays.n[i]).to.be.closeTo(slopes[0], 1e-15);
      expect(rays.m[i] / rays.n[i]).to.be.closeTo(slopes[1], 1e-15);
      const along = rays.x[i] * rays.l[i] + rays.y[i] * rays.m[i] + (rays.z[i] - z) * rays.n[i];
      expect(along).to.be.closeTo(0, 1e-13);
    }
  });

  it('starts at the object point of a finite object, for heights and for angles alike', () => {
    const lens = {
      object: { distance: 200 },
      fields: { kind: 'object_height' as const, points: [field(5, -7)] },
    };
    const aimer = aimerOf(
      quickProject([
        { r: 60, t: 5, n: 1.5 },
        { r: -60, t: 90 },
      ]),
      lens,
    );
    const rays = rayBlock(1);
    launchRays(aimer.model, aimer.pupil, field(5, -7), Float64Array.of(1), Float64Array.of(2), rays, 1);
    expect([rays.x[0], rays.y[0], rays.z[0]]).to.deep.equal([5, -7, -200]);
    expect(rays.l[0] / rays.n[0]).to.be.closeTo(-4 / 200, 1e-15);
    const byAngle = aimerOf(
      quickProject([
        { r: 60, t: 5, n: 1.5 },
        { r: -60, t: 90 },
      ]),
      { object: { distance: 200 } },
    );
    launchRays(byAngle.model, byAngle.pupil, field(0, 2), Float64Array.of(0), Float64Array.of(0), rays, 1);
    // An angle field of +θ answers to an object at −y.
    expect(rays.y[0]).to.be.closeTo(-200 * Math.tan((2 * Math.PI) / 180), 1e-12);
    expect(rays.m[0]).to.be.greaterThan(0);
  });

  it('launches fields by image height toward their paraxial image', () => {
    const surfaces = [
      { r: 100, t: 0, n: 1.5 },
      { r: -100, t: 100 },
    ];
    const far = aimerOf(quickProject(surfaces), { fields: { kind: 'image_height', points: [field(3, -4)] } });
    const rays = rayBlock(1);
    launchRays(far.model, far.pupil, field(3, -4), Float64Array.of(0), Float64Array.of(0), rays, 1);
    expect(rays.l[0] / rays.n[0]).to.be.closeTo(0.03, 1e-15);
    expect(rays.m[0] / rays.n[0]).to.be.closeTo(-0.04, 1e-15);
    const lens = {
      object: { distance: 200 },
      fields: { kind: 'image_height' as const, points: [field(3, -4)] },
    };
    const near = aimerOf(quickProject(surfaces), lens);
    launchRays(near.model, near.pupil, field(3, -4), Float64Array.of(0), Float64Array.of(0), rays, 1);
    expect([rays.x[0], rays.y[0]].map((value) => Number(value.toFixed(10)))).to.deep.equal([-3, 4]);
  });

  it('says why nothing can be launched', () => {
    const project = quickProject([
      { r: 100, t: 0, n: 1.5 },
      { r: -100, t: 50 },
    ]);
    const model = compileLens(project, project.lenses[0]);
    const primary = firstOrder(model, 0);
    if (!primary.ok) throw new Error(primary.reason);
    const far = launchPupil(model, { ...primary.value, entrancePupil: Infinity });
    expect(far.ok ? '' : far.reason).to.match(/entrance pupil both lie at infinity/);
    const heights = {
      ...project.lenses[0],
      fields: { kind: 'object_height' as const, points: [field(0, 1)] },
    };
    const impossible = launchPupil(compileLens(project, heights), primary.value);
    expect(impossible.ok ? '' : impossible.reason).to.match(/object at a finite distance/);
  });
});

describe('aiming at the stop', () => {
  const points = pupilPoints({ kind: 'polar', rings: 5, arms: 10 }, 0);

  /** Largest distance from where rays should meet the stop, in units of its semi-aperture. */
  function worstMiss(aimer: Aimer, at: ReturnType<typeof field>, wave: number): number {
    const { ex, ey } = aimer.aim('stop', at, wave, points.px, points.py);
    const rays = rayBlock(ex.length);
    launchRays(aimer.model, aimer.pupil, at, ex, ey, rays, ex.length);
    traceBlock(aimer.model, rays, ex.length, wave, { clip: false, until: aimer.model.stop + 1 });
    const { stopSemi } = aimer.pupil;
    return ex.reduce(
      (worst, _, i) =>
        Math.max(worst, Math.hypot(rays.x[i] / stopSemi - points.px[i], rays.y[i] / stopSemi - points.py[i])),
      0,
    );
  }

  it('meets every stop point to rounding, in every colour, skew fields included', () => {
    const aimer = aimerOf(tideCamera());
    for (const at of [field(0, 0), field(0, 16), field(-9, 12)]) {
      for (const wave of [0, 1, 2]) expect(worstMiss(aimer, at, wave)).to.be.lessThan(1e-11);
    }
  });

  it('finds rays where those through the paraxial pupil fail', () => {
    // A retrofocus form: strong negative menisci in front move the real pupil far from the paraxial one at 40°.
    const project = quickProject(
      [
        { r: -30.7211, t: 1.2, n: 1.517 },
        { r: 7.43056, t: 4.232 },
        { r: -16.4297, t: 1, n: 1.62 },
        { r: -27.9417, t: 4.4861 },
        { r: 23.1883, t: 6, n: 1.785 },
        { r: -475.093, t: 4.9802 },
        { t: 2.0977 },
        { r: 44.34, t: 5.5377, n: 1.691 },
        { r: -20.9669, t: 12 },
      ],
      { stop: 's7', aperture: { kind: 'entrance_pupil_diameter', value: 2.142857 } },
    );
    const aimer = aimerOf(project);
    expect(worstMiss(aimer, field(0, 40), 0)).to.be.lessThan(1e-11);
    const paraxial = traceBundle(
      aimer,
      { field: field(0, 40), wave: 0, px: points.px, py: points.py, aim: 'paraxial' },
      { clip: false },
    );
    const lost = paraxial.status.filter((status) => status !== RAY_STATUS.alive).length;
    expect(lost, 'the case must need real aiming').to.be.greaterThan(0);
  });

  it('gives each ray that has no way its reason instead of a number', () => {
    // Behind a sphere of radius 6 the light has narrowed: no ray of it can reach the rim of so wide a stop.
    const project = quickProject([{ r: 6, t: 5, n: 1.9 }, { t: 10 }], {
      stop: 's2',
      aperture: { kind: 'stop_semi_aperture', value: 8 },
    });
    const aimer = aimerOf(project);
    const rays = traceBundle(aimer, { field: field(0, 10), wave: 0, ...points, aim: 'stop' }, { clip: false });
    const lost = [...rays.status].filter((status) => status === RAY_STATUS.notAimed).length;
    expect(lost).to.be.greaterThan(0);
    rays.status.forEach((status, i) => {
      if (status === RAY_STATUS.notAimed) expect(rays.at[i]).to.equal(aimer.model.stop);
    });
  });

  it('agrees with paraxial aiming for a stop in front of the lens', () => {
    const aimer = aimerOf(quickProject([{ t: 10 }, { r: 50, t: 4, n: 1.5 }, { r: -50, t: 50 }]));
    fc.assert(
      fc.property(
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.double({ min: -20, max: 20, noNaN: true }),
        (x, y) => {
          const real = aimer.aim('stop', field(x, y), 0, points.px, points.py);
          const paraxial = aimer.aim('paraxial', field(x, y), 0, points.px, points.py);
          real.ex.forEach((value, i) => expect(value).to.be.closeTo(paraxial.ex[i], 1e-11));
          real.ey.forEach((value, i) => expect(value).to.be.closeTo(paraxial.ey[i], 1e-11));
        },
      ),
      { numRuns: 20 },
    );
  });
});
