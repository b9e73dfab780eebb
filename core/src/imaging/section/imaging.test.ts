import { expect } from 'chai';
import { RAY_STATUS } from '../../compute/ray-block.ts';
import { applyEdit } from '../../project/edit.ts';
import { projectOf, quickProject, type Quick } from '../../project/fixtures.ts';
import type { Lens, Project } from '../../project/model.ts';
import { Evaluation } from '../evaluation/evaluation.ts';
import type { LensEvaluation, RayChoice } from '../evaluation/lens-evaluation.ts';
import { beamLimit } from '../evaluation/beam-limit.ts';
import { lensFindings } from '../evaluation/findings.ts';
import { chiefAngleAtImage, paraxialImagePoint } from '../field/image-point.ts';
import { distortion } from '../field/image-scale.ts';
import { refocus } from '../point/refocus.ts';
import { lensSection } from './section.ts';
import { fieldSpot, rmsOverFields, rmsRadius, weightedSpots } from '../point/spot.ts';
import { airyRing } from '../wavefront/image-cone.ts';
import { spotDiagram } from '../point/spot-diagram.ts';
import type { Outcome } from '../../math/outcome.ts';

const FULL: RayChoice = { sampling: { kind: 'polar', rings: 12, arms: 24 }, pupil: 'full' };

function valueOf<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
}

function reasonOf(outcome: Outcome<unknown>): string {
  return outcome.ok ? 'it succeeded' : outcome.reason;
}

function evaluate(project: Project): LensEvaluation {
  return valueOf(new Evaluation(project).lens(project.lenses[0].id));
}

/** A paraboloid of f = 100 mm and the given defocus of its flat image. */
function paraboloid(defocus: number, change: Partial<Lens> = {}): Project {
  return quickProject([{ r: -200, k: -1, t: -100 + defocus, n: 'mirror' }], {
    aperture: { kind: 'entrance_pupil_diameter', value: 80 },
    ...change,
  });
}

const field = (id: string, x: number, y: number, weight = 1) => ({ id, x, y, weight });

describe('spots', () => {
  it('have the closed-form RMS of a defocused paraboloid', () => {
    const [f, H, defocus] = [100, 40, 0.5];
    const lens = evaluate(paraboloid(defocus));
    const spot = valueOf(fieldSpot(lens, lens.model.lens.fields.points[0], FULL));
    // tan U′ = h/(f − h²/4f); its mean square over the disk, with a = 4f², u = h².
    const a = 4 * f * f;
    const integral = (u: number) => a / (a - u) + Math.log(a - u);
    const meanSquare = ((16 * f * f) / (H * H)) * (integral(H * H) - integral(0));
    expect(valueOf(rmsRadius(spot, 'centroid'))).to.be.closeTo(defocus * Math.sqrt(meanSquare), 1e-12);
    expect(valueOf(rmsRadius(spot, 'chief'))).to.be.closeTo(defocus * Math.sqrt(meanSquare), 1e-12);
    expect(spot.arrived).to.equal(288);
  });

  it('leave out the obscured middle and still have a chief ray', () => {
    const lens = evaluate(paraboloid(0.5, { pupil: { aim: 'paraxial', obscuration: 0.5 } }));
    const spot = valueOf(fieldSpot(lens, lens.model.lens.fields.points[0], FULL));
    const { px, py } = spot.colours[0].bundle.points;
    px.forEach((x, i) => expect(Math.hypot(x, py[i])).to.be.within(0.5, 1));
    expect(spot.chief).to.deep.equal([0, 0]);
  });

  it('clip at set apertures where asked, and count what is lost by reason', () => {
    const project = quickProject([{ t: 5, semi: 2.5 }, { r: 100, t: 3, n: 1.5 }, { t: 190 }]);
    const lens = evaluate(project);
    const axis = lens.model.lens.fields.points[0];
    const choice: RayChoice = { sampling: { kind: 'grid', size: 200 }, pupil: 'clipped' };
    const spot = valueOf(fieldSpot(lens, axis, choice));
    expect(spot.arrived / spot.launched).to.be.closeTo(0.25, 0.002); // half the radius, a quarter of the area
    expect(spot.losses).to.deep.equal([
      { reason: 'falls outside the aperture', surface: 's1', count: spot.launched - spot.arrived },
    ]);
    expect(valueOf(fieldSpot(lens, axis, { ...choice, pupil: 'full' })).losses).to.deep.equal([]);
  });

  it('weight colours and fields', () => {
    const glass: Quick[] = [
      { r: 50, t: 4, n: 1.5 },
      { r: -50, t: 45 },
    ];
    const points = [field('axis', 0, 0, 1), field('edge', 0, 8, 3), field('off', 0, 20, 0)];
    const lens = evaluate(quickProject(glass, { fields: { kind: 'angle', points } }));
    const spots = valueOf(weightedSpots(lens, FULL));
    expect(spots.map((spot) => spot.field.id)).to.deep.equal(['axis', 'edge']);
    const [axis, edge] = spots.map((spot) => valueOf(rmsRadius(spot, 'centroid')));
    expect(valueOf(rmsOverFields(spots, 'centroid'))).to.be.closeTo(Math.sqrt((axis ** 2 + 3 * edge ** 2) / 4), 1e-15);
  });

  it('say which ray fails where nothing arrives', () => {
    const lens = evaluate(
      quickProject([{ r: 4, t: 3, n: 1.5 }, { t: 5 }], {
        aperture: { kind: 'entrance_pupil_diameter', value: 30 },
        pupil: { aim: 'paraxial', obscuration: 0.5 },
      }),
    );
    const spot = fieldSpot(lens, lens.model.lens.fields.points[0], FULL);
    expect(reasonOf(spot)).to.equal('No ray of field axis reaches the image: at Stop the ray misses the surface.');
    const diagram = valueOf(spotDiagram(lens, { reference: 'centroid', pupil: 'full', rings: 3, arms: 6 }));
    expect(diagram.pictures[0].spot.ok).to.equal(false);
  });

  it('come with the Airy ring of their real cone: 1.22 λ/(2 sin U)', () => {
    const lens = evaluate(paraboloid(0));
    // tan(U/2) = h/2f = 1/5 at f/1.25: sin U = 0.4/1.04, where the paraxial slope is 0.4.
    const expected = (1.21966989127 * 0.5875618) / (2 * (0.4 / 1.04));
    const ring = airyRing(lens, lens.model.lens.fields.points[0]);
    ring?.forEach((semi) => expect(semi).to.be.closeTo(expected, 1e-9));
    expect(ring).to.have.length(2);
  });
});

describe('refocus', () => {
  it('brings a defocused paraboloid back to its focus', () => {
    const found = valueOf(refocus(paraboloid(0.7), 'lens', 'centroid'));
    expect(found.shift).to.be.closeTo(-0.7, 1e-12);
    expect(found.before).to.be.greaterThan(0.1);
    expect(found.after).to.be.lessThan(1e-12);
    expect(found.edit).to.deep.include({ kind: 'set', path: 'lenses.lens.surfaces.s1.after.thickness' });
  });

  it('finds a true minimum over fields, about centroid and chief, flat and curved image', () => {
    const base = quickProject(
      [
        { r: 40, t: 5, n: 1.6 },
        { r: -90, t: 40 },
      ],
      { fields: { kind: 'angle', points: [field('axis', 0, 0), field('edge', 3, 10, 2)] } },
    );
    const curved = applyEdit(base, {
      kind: 'set',
      path: 'lenses.lens.surfaces.image.shape',
      value: { kind: 'sphere', radius: -60 },
    }).project;
    for (const project of [base, curved]) {
      for (const reference of ['centroid', 'chief'] as const) {
        const found = valueOf(refocus(project, 'lens', reference));
        const focused = applyEdit(project, found.edit).project;
        const at = (shift: number) => {
          const last = focused.lenses[0].surfaces[1].after!.thickness;
          const moved = applyEdit(focused, {
            kind: 'set',
            path: 'lenses.lens.surfaces.s2.after.thickness',
            value: last + shift,
          }).project;
          return valueOf(rmsOverFields(valueOf(weightedSpots(evaluate(moved), FULL)), reference));
        };
        expect(at(0)).to.be.closeTo(found.after, 1e-9);
        expect(at(0.01)).to.be.greaterThan(at(0));
        expect(at(-0.01)).to.be.greaterThan(at(0));
      }
    }
  });

  it('goes to the paraxial image on request', () => {
    const ball = quickProject([
      { r: 5, t: 10, n: 1.5 },
      { r: -5, t: 2 },
    ]);
    const found = valueOf(refocus(ball, 'lens', 'paraxial'));
    expect(found.shift).to.be.closeTo(0.5, 1e-12);
  });

  it('says when there is no focus', () => {
    const plate = quickProject([{ t: 5, n: 1.5 }, { t: 50 }]);
    expect(reasonOf(refocus(plate, 'lens', 'centroid'))).to.match(/run parallel/);
    expect(reasonOf(refocus(plate, 'nothing', 'centroid'))).to.match(/no lens “nothing”/);
  });
});

describe('the image point', () => {
  it('has no ideal to be compared with in an afocal system, and says so', () => {
    // A plane mirror has no power, so no height belongs to an angle.
    const flat = evaluate(
      quickProject([{ n: 'mirror', t: -10 }], { fields: { kind: 'angle', points: [field('f', 0, 5)] } }),
    );
    expect(reasonOf(distortion(flat, flat.model.lens.fields.points[0], { scale: 'paraxial image' }))).to.match(
      /afocal/,
    );
  });

  it('is that of the pinhole for a lens used through its centre', () => {
    // Stop at the centre of a ball lens: every chief ray goes through undeviated, so y = (distance from centre)·tan θ.
    const points = [field('f', 0, 20), field('skew', 12, -9)];
    const ball = quickProject(
      [
        { r: 5, t: 5, n: 1.5 },
        { t: 5, n: 1.5 },
        { r: -5, t: 2.5 },
      ],
      {
        stop: 's2',
        fields: { kind: 'angle', points },
        pupil: { aim: 'stop', obscuration: 0 },
        aperture: { kind: 'stop_semi_aperture', value: 0.5 },
      },
    );
    const lens = evaluate(ball);
    for (const point of points) {
      expect(valueOf(distortion(lens, point, { scale: 'paraxial image' }))).to.be.closeTo(0, 1e-12);
      const [x, y] = valueOf(paraxialImagePoint(lens, point));
      expect(x).to.be.closeTo(7.5 * Math.tan((point.x * Math.PI) / 180), 1e-12);
      expect(y).to.be.closeTo(7.5 * Math.tan((point.y * Math.PI) / 180), 1e-12);
    }
    expect(valueOf(chiefAngleAtImage(lens, points[0]))).to.be.closeTo(20, 1e-10);
  });

  it('follows the magnification for object heights', () => {
    const relay = evaluate(
      quickProject(
        [
          { r: 50, t: 0.001, n: 1.5 },
          { r: -50, t: 100 },
        ],
        {
          object: { distance: 100 },
          fields: { kind: 'object_height', points: [field('h', 0, 4)] },
        },
      ),
    );
    const [, y] = valueOf(paraxialImagePoint(relay, relay.model.lens.fields.points[0]));
    expect(y).to.be.closeTo(-4, 0.01);
  });

  it('is not defined on the axis, and says so', () => {
    const lens = evaluate(projectOf());
    expect(reasonOf(distortion(lens, lens.model.lens.fields.points[0]))).to.match(/not defined on the axis/);
  });
});

describe('the section', () => {
  const project = quickProject(
    [
      { r: 50, t: 6, n: 1.6 },
      { r: -40, t: 3, n: 1.7 },
      { r: -200, t: 80 },
    ],
    { fields: { kind: 'angle', points: [field('axis', 0, 0), field('edge', 0, 5)] } },
  );

  it('holds every surface, body and ray in its bounds', () => {
    const section = lensSection(evaluate(project), { raysPerField: 5 });
    const { z, y } = section.bounds;
    expect(section.rays).to.have.length(10);
    expect(section.elements.map((element) => element.front)).to.deep.equal(['s1', 's2']);
    for (const points of [
      ...section.surfaces.map((surface) => surface.line),
      ...section.elements.map((element) => element.outline),
      ...section.rays.map((ray) => ray.points),
    ]) {
      points.forEach((value, i) => expect(value).to.be.within((i % 2 ? y : z)[0] - 1e-9, (i % 2 ? y : z)[1] + 1e-9));
    }
    for (const ray of section.rays) expect(ray.points[ray.points.length - 2]).to.be.closeTo(89, 1e-12);
  });

  it('draws automatic apertures round the rays and set ones as they are', () => {
    const section = lensSection(evaluate(project), { raysPerField: 3 });
    expect(section.surfaces[0].semi).to.be.closeTo(5, 0.05); // the entrance pupil is at the first surface
    expect(section.surfaces[0].automatic).to.equal(true);
    const set = applyEdit(project, {
      kind: 'set',
      path: 'lenses.lens.surfaces.s1.aperture',
      value: { kind: 'circle', semi: 9 },
    }).project;
    expect(lensSection(evaluate(set), { raysPerField: 3 }).surfaces[0]).to.include({
      semi: 9,
      automatic: false,
    });
  });

  it('draws what it can of a lens that cannot be traced', () => {
    const section = lensSection(
      evaluate(
        quickProject(
          [
            { r: 50, t: 6, n: 1.6 },
            { r: -40, t: 30 },
          ],
          { stop: null },
        ),
      ),
      { raysPerField: 3 },
    );
    expect(section.surfaces).to.have.length(3);
    expect(section.elements).to.have.length(1);
    expect(section.rays).to.deep.equal([]);
  });

  it('shows a ray that misses up to where it strays', () => {
    const steep = quickProject([{ t: 10 }, { r: 6, t: 5, n: 1.5 }, { t: 20 }], {
      aperture: { kind: 'entrance_pupil_diameter', value: 16 },
    });
    const [edge] = lensSection(evaluate(steep), { raysPerField: 3 }).rays;
    expect(edge.status).to.equal(RAY_STATUS.missed);
    expect(edge.strays).to.equal(true);
    expect(edge.endsAt).to.equal('s2');
    expect([...edge.points.slice(-2)]).to.deep.equal([10, -8]);
  });

  it('leaves a far object out of the frame and draws a near one', () => {
    const far = { ...project, lenses: [{ ...project.lenses[0], object: { distance: 5000 } }] };
    expect(lensSection(evaluate(far), { raysPerField: 3 }).objectBeyond).to.equal(5000);
    const near = { ...project, lenses: [{ ...project.lenses[0], object: { distance: 100 } }] };
    const section = lensSection(evaluate(near), { raysPerField: 3 });
    expect(section.objectBeyond).to.equal(null);
    expect(section.rays[0].points[0]).to.equal(-100);
  });
});

describe('findings', () => {
  const texts = (project: Project) =>
    lensFindings(evaluate(project)).map((finding) => `${finding.where ?? '-'}: ${finding.text}`);

  it('are none for a sound lens', () => {
    expect(texts(projectOf())).to.deep.equal([]);
  });

  it('say of a mirror at 45° that its axis goes straight on, not that a thickness is negative; nothing grows beyond measure', () => {
    const folded = (tilt: number, axis: 'return' | 'reflect', gap: number) => {
      const project = quickProject(
        [
          { r: 100, t: 5, n: 1.5 },
          { r: -100, t: 40 },
          { n: 'mirror', t: gap },
        ],
        {
          fields: { kind: 'angle', points: [field('axis', 0, 0), field('edge', 0, 3)] },
        },
      );
      const [lens] = project.lenses;
      const surfaces = lens.surfaces.map((one) => (one.reflects ? { ...one, frame: { tx: tilt, axis } } : one));
      return { ...project, lenses: [{ ...lens, surfaces }] };
    };
    for (const tilt of [44, 45, 45.5, 60]) {
      const [only, ...others] = texts(folded(tilt, 'return', 30));
      expect(only, `${tilt}°`).to.match(/^s3: This mirror sends the light across the axis, which goes straight on/);
      expect(others).to.deep.equal([]);
      const semis = evaluate(folded(tilt, 'return', 30))
        .extents()
        .map(({ semi }) => semi);
      // The lens is 75 mm long: no surface is drawn larger than twice that.
      expect(Math.max(...semis)).to.be.at.most(150);
    }
    expect(texts(folded(45, 'reflect', -30))).to.deep.equal([]);
    expect(texts(folded(0, 'return', 30))).to.deep.equal(['s3: The gap after this surface is negative.']);
  });

  it('say which aperture limits the beam of the axis in place of the stop, and what F-number the light has that passes', () => {
    const [radius, semi] = [5, 4];
    const lens = (clear: number) =>
      quickProject([{ t: 10 }, { r: 100, t: 2, n: 1.5, semi: clear }, { r: -100, t: 99 }], {
        aperture: { kind: 'entrance_pupil_diameter', value: 2 * radius },
      });
    const share = (semi / radius) ** 2;
    const [only, ...others] = texts(lens(semi));
    expect(only).to.match(
      /^s2: The aperture set here cuts 36 % of the beam .* The light that passes is that of F\/12\.\d\./,
    );
    expect(others).to.deep.equal([]);
    const limit = beamLimit(evaluate(lens(semi)));
    expect(limit?.surface).to.equal(1);
    expect(limit?.passing).to.be.closeTo(share, 1e-8);
    // One that clears the beam, by however little, is no limit.
    expect(texts(lens(5.05))).to.deep.equal([]);
  });

  it('name what is missing', () => {
    const base = projectOf().lenses[0];
    const of = (change: Partial<Lens>) => texts(projectOf({ ...base, ...change })).join('\n');
    expect(of({ stop: null })).to.match(/No surface is the stop/);
    expect(of({ stop: 'image' })).to.match(/image: The image surface cannot be the stop/);
    expect(of({ wavelengths: [], primary: null })).to.match(/No wavelength is given/);
    expect(of({ primary: 'gone' })).to.match(/No primary wavelength/);
    expect(of({ fields: { kind: 'angle', points: [] } })).to.match(/No field point/);
    expect(of({ fields: { kind: 'object_height', points: [field('h', 0, 1)] } })).to.match(/finite distance/);
    expect(of({ fields: { kind: 'angle', points: [field('h', 0, 1, 0)] } })).to.match(/weight 0/);
    expect(of({ wavelengths: [{ id: 'd', nm: 200, weight: 1 }] })).to.match(
      /front: 517642 is defined from 310 to 2500 nm/,
    );
  });

  it('name unknown materials, impossible apertures, negative glass and rays that end', () => {
    const at = (surfaces: readonly Quick[], change: Partial<Lens> = {}) =>
      texts(quickProject(surfaces, change)).join('\n');
    expect(at([{ r: 4, t: 2, n: 1.5, semi: 4.5 }, { t: 5 }])).to.match(/s1: The aperture is larger than the surface/);
    expect(at([{ r: 40, t: -2, n: 1.5 }, { t: 50 }])).to.match(
      /s1: The glass after this surface has a negative thickness/,
    );
    expect(at([{ t: -2 }, { r: 40, t: 2, n: 1.5 }, { t: 50 }])).to.match(/s1: The gap after this surface is negative/);
    expect(
      at([
        { t: 10, n: 1.9 },
        { r: -5.2, t: 50 },
      ]),
    ).to.match(/s2: Here a ray is totally reflected: \d+ of the traced rays, in field axis/);
    // A biconvex lens of two radii of 20 mm and 1 mm of glass ends where 2·(20 − √(400 − h²)) = 1: at 4.44 mm.
    expect(
      at([
        { r: 20, t: 1, n: 1.5, semi: 6 },
        { r: -20, t: 18, semi: 6 },
      ]),
    ).to.match(/s1: The glass after this surface has no edge: they meet 4\.50 mm/);
    expect(
      at([
        { r: 20, t: 1, n: 1.5, semi: 4.4 },
        { r: -20, t: 18, semi: 4.4 },
      ]),
    ).to.equal('');
    expect(at([{ r: -20, t: 0.5 }, { r: 20, t: 3, n: 1.5, semi: 6 }, { t: 30 }])).to.not.match(/crosses/);
    expect(at([{ r: 20, t: 0.5, semi: 6 }, { r: -20, t: 3, n: 1.5, semi: 6 }, { t: 30 }])).to.match(
      /s1: This surface crosses the next one/,
    );
    const project = projectOf();
    expect(texts({ ...project, materials: [project.materials[1]] }).join('\n')).to.match(/no (material|record)/);
  });
});
