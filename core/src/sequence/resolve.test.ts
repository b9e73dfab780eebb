import { expect } from 'chai';
import { RAY_STATUS } from '../compute/ray-block.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens } from '../project/model.ts';
import { Aimer } from './aiming.ts';
import { traceBundle } from './bundle.ts';
import { launchPupil } from './launch.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';
import { imageSine, resolveLens } from './resolve.ts';

const SINGLET: readonly Quick[] = [{ t: 8 }, { r: 60, t: 5, n: 1.6 }, { r: -45, t: 42 }];

function modelOf(surfaces: readonly Quick[], change: Partial<Lens>): LensModel {
  const project = quickProject(surfaces, change);
  return resolveLens(compileLens(project, project.lenses[0]));
}

function aimerOf(model: LensModel): Aimer {
  const data = firstOrder(model, model.primary);
  if (!data.ok) throw new Error(data.reason);
  const pupil = launchPupil(model, data.value);
  if (!pupil.ok) throw new Error(pupil.reason);
  return new Aimer(model, pupil.value);
}

describe('apertures and fields by real rays', () => {
  it('leave other lenses as they are', () => {
    const project = quickProject(SINGLET);
    const model = compileLens(project, project.lenses[0]);
    expect(resolveLens(model)).to.equal(model);
  });

  it('open a paraboloid to its exact working F-number: sin U′ = 4fy/(4f² + y²)', () => {
    for (const fNumber of [4, 1.2, 0.7]) {
      const mirror = modelOf([{ r: -200, k: -1, t: -100, n: 'mirror' }], {
        aperture: { kind: 'real_working_f_number', value: fNumber },
      });
      // sin U′ = 1/(2F) at the rim height y of a paraboloid of focal length f = 100: y = 2f tan(U′/2).
      const rim = 200 * Math.tan(Math.asin(1 / (2 * fNumber)) / 2);
      expect(mirror.findings).to.deep.equal([]);
      expect(mirror.lens.aperture.value).to.be.closeTo(2 * rim, 1e-9);
    }
  });

  it('open a lens with spherical aberration so that its real rays meet the number, both ways of aiming', () => {
    for (const aim of ['paraxial', 'stop'] as const)
      for (const distance of ['infinity', 300] as const) {
        const model = modelOf(SINGLET, {
          object: { distance },
          pupil: { aim, obscuration: 0 },
          aperture: { kind: 'real_working_f_number', value: 3 },
        });
        const sine = imageSine(model);
        expect(sine.ok && sine.value).to.be.closeTo(1 / 6, 1e-12);
      }
  });

  it('say so where no opening does', () => {
    const model = modelOf(SINGLET, { aperture: { kind: 'real_working_f_number', value: 0.3 } });
    expect(model.findings[0].text).to.contain('working F-number of 0.3');
  });

  it('send real chief rays to the image heights that are asked for, in x and y', () => {
    for (const distance of ['infinity', 300] as const)
      for (const aim of ['paraxial', 'stop'] as const) {
        const points = [
          { id: 'axis', x: 0, y: 0, weight: 1 },
          { id: 'a', x: 3, y: 8, weight: 1 },
          { id: 'b', x: 0, y: -11, weight: 1 },
        ];
        const model = modelOf(SINGLET, {
          object: { distance },
          pupil: { aim, obscuration: 0 },
          fields: { kind: 'real_image_height', points },
        });
        expect(model.findings).to.deep.equal([]);
        const aimer = aimerOf(model);
        model.lens.fields.points.forEach((field, i) => {
          const chief = traceBundle(aimer, { field, wave: 0, px: [0], py: [0] }, { clip: false });
          expect(chief.x[0]).to.be.closeTo(points[i].x, 1e-9);
          expect(chief.y[0]).to.be.closeTo(points[i].y, 1e-9);
        });
        expect(model.lens.fields.kind).to.equal(distance === 'infinity' ? 'angle' : 'object_height');
      }
  });

  it('name the fields that no chief ray reaches', () => {
    const model = modelOf(SINGLET, {
      fields: { kind: 'real_image_height', points: [{ id: 'far', x: 0, y: 4000, weight: 1 }] },
    });
    expect(model.findings.map(({ where }) => where)).to.deep.equal(['far']);
  });

  it('refuse them on a lens without a primary wavelength', () => {
    const model = modelOf(SINGLET, {
      primary: null,
      aperture: { kind: 'real_working_f_number', value: 3 },
      fields: { kind: 'real_image_height', points: [] },
    });
    expect(model.findings.map(({ text }) => text).join(' ')).to.contain('No primary wavelength');
  });
});

describe('a telecentric object space', () => {
  // The stop in the rear focal plane of a thin lens of f = 100.
  const telecentric: readonly Quick[] = [{ r: 100, t: 0, n: 1.5 }, { r: -100, t: 100 }, { t: 60 }];
  const change: Partial<Lens> = {
    stop: 's3',
    object: { distance: 120 },
    aperture: { kind: 'object_na', value: 0.05 },
    fields: { kind: 'object_height', points: [{ id: 'edge', x: 2, y: 6, weight: 1 }] },
  };

  it('has chief rays parallel to the axis and cones of the aperture asked for', () => {
    const model = modelOf(telecentric, change);
    const data = firstOrder(model, 0);
    if (!data.ok) throw new Error(data.reason);
    expect(data.value.entrancePupil).to.equal(Infinity);
    expect(data.value.chief.u[0]).to.equal(0);
    expect(data.value.chief.y[0]).to.be.closeTo(Math.hypot(2, 6), 1e-12);
    expect(data.value.stopSemiAperture).to.be.closeTo(100 * Math.tan(Math.asin(0.05)), 1e-9);
    const aimer = aimerOf(model);
    const [field] = model.lens.fields.points;
    const sines: number[] = [];
    traceBundle(
      aimer,
      { field, wave: 0, px: [0, 1, 0], py: [0, 0, -1], aim: 'paraxial' },
      {
        clip: false,
        onLaunch({ x, y, l, m }) {
          for (let i = 0; i < 3; i++) {
            expect([x[i], y[i]]).to.deep.equal([2, 6]);
            sines.push(Math.hypot(l[i], m[i]));
          }
        },
      },
    );
    expect(sines[0]).to.equal(0);
    expect(sines[1]).to.be.closeTo(0.05, 1e-12);
    expect(sines[2]).to.be.closeTo(0.05, 1e-12);
  });

  it('is aimed at the real stop too', () => {
    const model = modelOf(telecentric, { ...change, pupil: { aim: 'stop', obscuration: 0 } });
    const aimer = aimerOf(model);
    const [field] = model.lens.fields.points;
    const seen: number[][] = [];
    const rays = traceBundle(
      aimer,
      { field, wave: 0, px: [0, 0.6], py: [0, -0.7] },
      {
        clip: false,
        visit(j, { x, y }) {
          if (j === model.stop) seen.push([x[0], y[0]], [x[1], y[1]]);
        },
      },
    );
    expect([...rays.status]).to.deep.equal([RAY_STATUS.alive, RAY_STATUS.alive]);
    const semi = aimer.pupil.stopSemi;
    expect(seen[0][1]).to.be.closeTo(0, 1e-9);
    expect(seen[1][0]).to.be.closeTo(0.6 * semi, 1e-9);
    expect(seen[1][1]).to.be.closeTo(-0.7 * semi, 1e-9);
  });

  it('takes its aperture from the stop or a working F-number as well, and says which kinds it cannot take', () => {
    const data = (aperture: Lens['aperture']) => firstOrder(modelOf(telecentric, { ...change, aperture }), 0);
    const byStop = data({ kind: 'stop_semi_aperture', value: 4 });
    expect(byStop.ok && byStop.value.marginal.y[2]).to.be.closeTo(4, 1e-9);
    const byNumber = data({ kind: 'working_f_number', value: 8 });
    expect(byNumber.ok && byNumber.value.workingFNumber).to.be.closeTo(8, 1e-9);
    const byPupil = data({ kind: 'entrance_pupil_diameter', value: 8 });
    expect(!byPupil.ok && byPupil.reason).to.contain('entrance pupil lies at infinity');
    const byAngle = modelOf(telecentric, {
      ...change,
      fields: { kind: 'angle', points: [{ id: 'a', x: 0, y: 3, weight: 1 }] },
    });
    expect(() => aimerOf(byAngle)).to.throw('no angle');
  });
});

describe('a system aperture that cannot be counted yet', () => {
  const EMPTY: readonly Quick[] = [{ t: 50 }];
  const waiting = (kind: Lens['aperture']['kind'], surfaces = EMPTY) =>
    modelOf(surfaces, { aperture: { kind, value: kind === 'object_na' ? 0.1 : 4 } });

  it('waits for power, says so, and traces a beam of 10 mm meanwhile', () => {
    for (const kind of ['image_f_number', 'working_f_number', 'real_working_f_number'] as const) {
      const model = waiting(kind);
      expect(model.findings.map(({ text }) => text).join(), kind).to.match(/waits for power.* A beam of 10 mm/);
      const data = firstOrder(model, 0);
      expect(data.ok && data.value.entrancePupilDiameter).to.equal(10);
      expect(aimerOf(model).pupil.semi).to.equal(5);
      // With power it is what was asked for.
      const lens = waiting(kind, SINGLET);
      expect(lens.findings).to.deep.equal([]);
      const found = firstOrder(lens, 0);
      expect(found.ok && found.value.workingFNumber).to.be.closeTo(4, kind === 'real_working_f_number' ? 0.3 : 1e-9);
    }
  });

  it('waits for a near object if it is an object NA', () => {
    const model = waiting('object_na', SINGLET);
    expect(model.findings.map(({ text }) => text).join()).to.match(/waits for an object at a finite distance/);
    const near = modelOf(SINGLET, {
      object: { distance: 100 },
      aperture: { kind: 'object_na', value: 0.05 },
    });
    expect(near.findings).to.deep.equal([]);
  });
});

describe('a system aperture by paraxial working F-number', () => {
  it('is met for far and near objects', () => {
    for (const distance of ['infinity', 200] as const) {
      const model = modelOf(SINGLET, {
        object: { distance },
        aperture: { kind: 'working_f_number', value: 5 },
      });
      const data = firstOrder(model, 0);
      expect(data.ok && data.value.workingFNumber).to.be.closeTo(5, 1e-12);
    }
  });
});
