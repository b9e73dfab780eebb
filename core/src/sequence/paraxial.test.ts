import { expect } from 'chai';
import fc from 'fast-check';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens } from '../project/model.ts';
import { compileLens } from './lens-model.ts';
import { firstOrder, paraxialRay, type FirstOrder } from './paraxial.ts';

function dataOf(surfaces: readonly Quick[], change: Partial<Lens> = {}): FirstOrder {
  const project = quickProject(surfaces, change);
  const data = firstOrder(compileLens(project, project.lenses[0]), 0);
  if (!data.ok) throw new Error(data.reason);
  return data.value;
}

const radius = fc.oneof(fc.double({ min: 8, max: 300, noNaN: true }), fc.double({ min: -300, max: -8, noNaN: true }));
const thickness = fc.double({ min: 0.5, max: 20, noNaN: true });
const index = fc.double({ min: 1.3, max: 2, noNaN: true }).map((n) => Number(n.toFixed(4)));

describe('firstOrder', () => {
  it('agrees with the lensmaker’s equation for thick lenses', () => {
    fc.assert(
      fc.property(radius, radius, thickness, index, (r1, r2, t, n) => {
        const power = (n - 1) * (1 / r1 - 1 / r2 + ((n - 1) * t) / (n * r1 * r2));
        fc.pre(Math.abs(power) > 1e-5);
        const data = dataOf([
          { r: r1, t, n },
          { r: r2, t: 50 },
        ]);
        expect(data.power).to.be.closeTo(power, 1e-14);
        const f = 1 / power;
        expect(data.backFocalDistance / (f * (1 - ((n - 1) * t) / (n * r1)))).to.be.closeTo(1, 1e-9);
        expect(data.frontFocalDistance / (-f * (1 + ((n - 1) * t) / (n * r2)))).to.be.closeTo(1, 1e-9);
      }),
    );
  });

  it('knows the ball lens: f = nR/(2(n − 1))', () => {
    const data = dataOf([
      { r: 5, t: 10, n: 1.5 },
      { r: -5, t: 10 },
    ]);
    expect(data.focalLength).to.be.closeTo(7.5, 1e-13);
    expect(data.backFocalDistance).to.be.closeTo(2.5, 1e-13);
  });

  it('gives a concave mirror a positive focal length and a focus in front of it', () => {
    const data = dataOf([{ r: -200, t: -100, n: 'mirror' }]);
    expect(data.focalLength).to.be.closeTo(100, 1e-12);
    expect(data.backFocalDistance).to.be.closeTo(-100, 1e-12);
    expect(data.fNumber).to.be.closeTo(10, 1e-13);
  });

  it('obeys Newton’s imaging equation and m = −f/x at finite distance', () => {
    fc.assert(
      fc.property(thickness, index, fc.double({ min: 150, max: 900, noNaN: true }), (t, n, distance) => {
        const lens: Quick[] = [
          { r: 60, t, n },
          { r: -70, t: 100 },
        ];
        const data = dataOf(lens, { object: { distance } });
        const x = -distance - data.frontFocalDistance;
        const xImage = data.imageDistance - data.backFocalDistance;
        expect((x * xImage) / -(data.focalLength ** 2)).to.be.closeTo(1, 1e-10);
        expect(data.magnification! / (data.focalLength / x)).to.be.closeTo(1, 1e-10);
        expect(data.fNumber).to.equal(null);
      }),
    );
  });

  it('images the stop into the pupils', () => {
    // A thin lens (two coincident surfaces) of f = 100, the stop 20 behind it: 1/s′ = 1/(−20)… from the object side.
    const thin: Quick[] = [{ r: 100, t: 0, n: 1.5 }, { r: -100, t: 20 }, { t: 60 }];
    const data = dataOf(thin, { stop: 's3', aperture: { kind: 'stop_semi_aperture', value: 4 } });
    expect(data.focalLength).to.be.closeTo(100, 1e-12);
    expect(data.entrancePupil).to.be.closeTo(25, 1e-12); // 1/(1/20 − 1/100)
    expect(data.entrancePupilDiameter).to.be.closeTo(10, 1e-12);
    expect(data.exitPupil).to.be.closeTo(0, 1e-12); // the stop itself, counted from the last vertex
    expect(data.exitPupilDiameter).to.be.closeTo(8, 1e-12);
    const byPupil = dataOf(thin, { stop: 's3', aperture: { kind: 'entrance_pupil_diameter', value: 10 } });
    expect(byPupil.stopSemiAperture).to.be.closeTo(4, 1e-12);
  });

  it('keeps the Lagrange invariant at every surface, mirrors included', () => {
    const project = quickProject(
      [
        { r: 80, t: 5, n: 1.6 },
        { r: -90, t: 40 },
        { r: -300, t: -30, n: 'mirror' },
        { r: 70, t: -10, n: 1.5 },
        { r: 120, t: -20 },
      ],
      { fields: { kind: 'angle', points: [{ id: 'edge', x: 0, y: 4, weight: 1 }] } },
    );
    const model = compileLens(project, project.lenses[0]);
    const data = firstOrder(model, 0);
    if (!data.ok) throw new Error(data.reason);
    const { marginal, chief, lagrange } = data.value;
    const signs = [1, 1, 1, -1, -1, -1];
    model.surfaces.forEach((_, j) => {
      const n = signs[j] * model.indices[0][j];
      expect(n * (marginal.u[j] * chief.y[j] - chief.u[j] * marginal.y[j])).to.be.closeTo(lagrange, 1e-14);
    });
  });

  it('turns a lens around without changing its focal length', () => {
    fc.assert(
      fc.property(radius, radius, radius, thickness, thickness, index, index, (r1, r2, r3, t1, t2, n1, n2) => {
        const forth = dataOf([
          { r: r1, t: t1, n: n1 },
          { r: r2, t: t2, n: n2 },
          { r: r3, t: 10 },
        ]);
        const back = dataOf([
          { r: -r3, t: t2, n: n2 },
          { r: -r2, t: t1, n: n1 },
          { r: -r1, t: 10 },
        ]);
        expect(back.power).to.be.closeTo(forth.power, 1e-14);
        expect(back.backFocalDistance * forth.power).to.be.closeTo(-forth.frontFocalDistance * forth.power, 1e-9);
      }),
    );
  });

  it('traces a paraxial ray as the sum of marginal and chief', () => {
    const project = quickProject([
      { r: 30, t: 4, n: 1.7 },
      { r: -50, t: 30 },
    ]);
    const model = compileLens(project, project.lenses[0]);
    const [a, b, sum] = [paraxialRay(model, 0, 1, 0), paraxialRay(model, 0, 0, 0.1), paraxialRay(model, 0, 1, 0.1)];
    sum.y.forEach((y, j) => expect(y).to.be.closeTo(a.y[j] + b.y[j], 1e-14));
  });

  it('opens the pupil by F-number and by object NA', () => {
    const thin: Quick[] = [
      { r: 100, t: 0, n: 1.5 },
      { r: -100, t: 100 },
    ];
    const byNumber = dataOf(thin, { aperture: { kind: 'image_f_number', value: 4 } });
    expect(byNumber.entrancePupilDiameter).to.be.closeTo(25, 1e-12);
    expect(byNumber.fNumber).to.be.closeTo(4, 1e-13);
    const byNa = dataOf(thin, { object: { distance: 200 }, aperture: { kind: 'object_na', value: 0.1 } });
    expect(byNa.entrancePupilDiameter).to.be.closeTo(400 * Math.tan(Math.asin(0.1)), 1e-12);
    const far = quickProject(thin, { aperture: { kind: 'object_na', value: 0.1 } });
    const refused = firstOrder(compileLens(far, far.lenses[0]), 0);
    expect(refused.ok ? '' : refused.reason).to.match(/finite distance/);
  });

  it('takes fields by image height to where they belong', () => {
    const thin: Quick[] = [
      { r: 100, t: 0, n: 1.5 },
      { r: -100, t: 100 },
    ];
    const points = [{ id: 'h', x: 3, y: 4, weight: 1 }];
    const far = dataOf(thin, { fields: { kind: 'image_height', points } });
    expect(far.chief.y.at(-1)).to.be.closeTo(5, 1e-12);
    const near = dataOf(thin, { object: { distance: 200 }, fields: { kind: 'image_height', points } });
    expect(near.magnification).to.be.closeTo(-1, 1e-12);
    expect(near.largestField).to.be.closeTo(5, 1e-12);
  });

  it('says infinity where there is no focus or no pupil, and why it cannot say anything', () => {
    const plate = dataOf([{ t: 5, n: 1.5 }, { t: 20 }]);
    expect(plate.focalLength).to.equal(Infinity);
    expect(plate.imageDistance).to.equal(Infinity);
    const telecentric = dataOf([{ r: 100, t: 0, n: 1.5 }, { r: -100, t: 100 }, { t: 50 }], { stop: 's3' });
    expect(Math.abs(telecentric.entrancePupil)).to.be.greaterThan(1e14);
    const stopless = quickProject([{ r: 50, t: 10 }], { stop: null });
    const reason = firstOrder(compileLens(stopless, stopless.lenses[0]), 0);
    expect(reason).to.deep.equal({ ok: false, reason: 'No surface before the image is the stop.' });
    const bare = quickProject([]);
    expect(firstOrder(compileLens(bare, bare.lenses[0]), 0).ok).to.equal(false);
  });
});
