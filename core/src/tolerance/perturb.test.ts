import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens, Project, Surface } from '../project/model.ts';
import { FIGURE_ERRORS, MOTIONS, type Motion, type ToleranceTarget } from '../project/tolerances.ts';
import { compileShape } from '../shapes/registry.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { toleranceTitle, toleranceUnit } from '../tolerances/titles.ts';

const FIELD: Partial<Lens> = { fields: { kind: 'angle', points: [{ id: 'edge', x: 1, y: 3, weight: 1 }] } };
/** A stop, a cemented pair and a singlet; the image is near the focus. */
const GLASSES: readonly Quick[] = [
  { t: 3 },
  { r: 60, t: 5, n: 1.5 },
  { r: -40, t: 2, n: 1.6 },
  { r: -200, t: 4 },
  { r: 80, t: 3, n: 1.7 },
  { r: 300, t: 48 },
];
const ASPHERE = { kind: 'even_asphere', radius: 40, conic: 0, a4: 1e-6 } as const;
const lensOf = (surfaces: readonly Quick[] = GLASSES): Project => quickProject(surfaces, FIELD);

const element = (surface: string, motion: Motion): ToleranceTarget => ({
  kind: 'element',
  lens: 'lens',
  surface,
  motion,
});
const number = (path: string): ToleranceTarget => ({ kind: 'number', address: `lenses.lens.surfaces.${path}` });

function made(project: Project, ...departures: readonly (readonly [ToleranceTarget, number])[]): Project {
  const found = perturbed(
    project,
    departures.map(([of, by]) => ({ of, by })),
  );
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

function ray(project: Project, quantity: string, px: number, py: number, field = 'edge'): number {
  const settings = { field, px, py, surface: 'image', quantity };
  const found = evaluateMeasure(new Evaluation(project), { measure: 'real_ray', lens: 'lens', settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

/** Places and paths of rays at the image. */
const traced = (project: Project) =>
  [
    [0, 0],
    [0.4, 0.7],
    [-0.8, 0.2],
  ].flatMap(([px, py]) => ['x', 'y', 'path'].map((what) => ray(project, what, px, py)));

function expectSameRays(one: Project, other: Project) {
  const [a, b] = [traced(one), traced(other)];
  a.forEach((value, i) => expect(value, `number ${i}`).to.be.closeTo(b[i], 1e-11));
}

/** With frames and motions behind surfaces replaced. */
function reframed(project: Project, change: Readonly<Record<string, Partial<Surface>>>): Project {
  const [lens] = project.lenses;
  return {
    ...project,
    lenses: [{ ...lens, surfaces: lens.surfaces.map((surface) => ({ ...surface, ...change[surface.id] })) }],
  };
}

describe('what is not made exactly', () => {
  for (const motion of MOTIONS)
    it(`an element in its cell, ${motion.replace('_', ' ')}: the rays are those of an axis that goes along and returns`, () => {
      const by = motion.startsWith('tilt') ? 0.7 : 0.13;
      const key = { shift_x: 'dx', shift_y: 'dy', shift_z: 'dz', tilt_x: 'tx', tilt_y: 'ty' }[motion];
      const carried = reframed(lensOf(), {
        s2: { frame: { [key]: by, axis: 'carry' } },
        s4: { behind: { returnTo: 's2' } },
      });
      // Chosen by any of its surfaces: the whole of it moves about the first.
      for (const surface of ['s2', 's3']) expectSameRays(made(lensOf(), [element(surface, motion), by]), carried);
    });

  it('an element whose surfaces are tilted already, and another one turned before', () => {
    const before = reframed(lensOf(), { s3: { frame: { tx: 0.4, dy: 0.05 } }, s6: { frame: { ty: -0.3, tz: 20 } } });
    const tilt = made(before, [element('s2', 'tilt_x'), 0.5], [element('s5', 'shift_y'), -0.2]);
    const carried = reframed(before, {
      s2: { frame: { tx: 0.5, axis: 'carry' } },
      s4: { behind: { returnTo: 's2' } },
      s5: { frame: { dy: -0.2, axis: 'carry' } },
      s6: { frame: { ty: -0.3, tz: 20 }, behind: { returnTo: 's5' } },
    });
    expectSameRays(tilt, carried);
  });

  it('a far object follows a shifted lens; a near one by 1 − m', () => {
    const thin: Quick[] = [
      { r: 100, t: 1e-6, n: 1.5 },
      { r: -100, t: 100 },
    ];
    const axis: Partial<Lens> = { fields: { kind: 'angle', points: [{ id: 'edge', x: 0, y: 0, weight: 1 }] } };
    const far = quickProject([{ t: 1e-6 }, ...thin], axis);
    expect(ray(made(far, [element('s2', 'shift_y'), 0.01]), 'y', 0, 0)).to.be.closeTo(0.01, 1e-7);
    // 2f–2f: m = −1, the image moves twice as far. Rays are launched from the object at its place.
    const near = quickProject([{ t: 1e-6 }, thin[0], { r: -100, t: 200 }], {
      object: { distance: 200 },
      fields: { kind: 'object_height', points: [{ id: 'edge', x: 0, y: 0, weight: 1 }] },
    });
    expect(ray(made(near, [element('s2', 'shift_x'), 0.01]), 'x', 0, 0)).to.be.closeTo(0.02, 1e-6);
  });

  it('a tilted plate displaces a ray, a wedge turns it, each by its closed form', () => {
    const plate = quickProject([{ t: 1 }, { t: 10, n: 1.5 }, { t: 30 }], {
      fields: { kind: 'angle', points: [{ id: 'edge', x: 0, y: 0, weight: 1 }] },
    });
    const degree = Math.PI / 180;
    const sine = Math.sin(20 * degree);
    const displaced = 10 * sine * (1 - Math.cos(20 * degree) / Math.sqrt(1.5 ** 2 - sine ** 2));
    expect(Math.abs(ray(made(plate, [element('s2', 'tilt_x'), 20]), 'y', 0, 0))).to.be.closeTo(displaced, 1e-12);
    const wedge = made(plate, [number('s3.tx'), 2]);
    const turned = Math.asin(1.5 * Math.sin(2 * degree)) / degree - 2;
    expect(Math.abs(ray(wedge, 'angle y', 0, 0))).to.be.closeTo(turned, 1e-12);
  });

  it('numbers add up, in their unit and in percent', () => {
    const share: ToleranceTarget = { kind: 'share', address: 'lenses.lens.surfaces.s2.radius' };
    const both = made(lensOf(), [number('s2.radius'), 0.5], [share, 1], [number('s2.thickness'), -0.2]);
    const [, s2] = both.lenses[0].surfaces;
    expect(s2.shape).to.deep.include({ radius: 60 + 0.5 + 0.6 });
    expect(s2.after!.thickness).to.be.closeTo(4.8, 1e-15);
  });

  it('a radius in fringes changes the sag at the rim by half a wavelength each, also of a flat', () => {
    const green = 546.074e-6;
    const lens = quickProject([
      { t: 1, semi: 5 },
      { r: 40, t: 4, n: 1.5, semi: 6 },
      { t: 50, semi: 5 },
    ]);
    const sag = (radius: number, y: number) => y ** 2 / radius / (1 + Math.sqrt(1 - (y / radius) ** 2));
    const radiusOf = (surface: string, by: number) => {
      const of: ToleranceTarget = { kind: 'fringes', address: `lenses.lens.surfaces.${surface}.radius` };
      const index = Number(surface.slice(1)) - 1;
      return (made(lens, [of, by]).lenses[0].surfaces[index].shape as { radius: number }).radius;
    };
    for (const by of [-3, -0.5, 2, 10])
      expect(sag(radiusOf('s2', by), 6) - sag(40, 6), `${by} fringes`).to.be.closeTo((by * green) / 2, 1e-14);
    expect(radiusOf('s2', 0)).to.be.closeTo(40, 1e-11);
    // r ≈ y²/(2 s) for a flat.
    expect(radiusOf('s3', 4)).to.be.closeTo(25 / (4 * green), 1e-2);
    expect(radiusOf('s3', -4)).to.be.closeTo(-25 / (4 * green), 1e-2);
  });

  it('a wedge in mm is the tilt that lifts one end of the aperture over the other', () => {
    const lens = quickProject(GLASSES.map((surface) => ({ ...surface, semi: 12 })));
    const lensAs = { ...lens, lenses: [{ ...lens.lenses[0], ...FIELD }] };
    const angle = (Math.atan(0.05 / 24) * 180) / Math.PI;
    const wedge = (across: 'x' | 'y'): ToleranceTarget => ({ kind: 'wedge', lens: 'lens', surface: 's3', across });
    expectSameRays(made(lensAs, [wedge('y'), 0.05]), made(lensAs, [number('s3.tx'), angle]));
    expectSameRays(made(lensAs, [wedge('x'), 0.05]), made(lensAs, [number('s3.ty'), -angle]));
    // Both at once, on a surface that has no frame yet.
    const { tx, ty } = made(lensAs, [wedge('y'), 0.05], [wedge('x'), 0.05]).lenses[0].surfaces[2].frame!;
    expect([tx, ty]).to.deep.equal([angle, -angle]);
  });

  it('a figure departs by fringes from its highest to its lowest point, in every error', () => {
    const green = 546.074e-6;
    const lens = quickProject([
      { t: 1, semi: 5 },
      { r: 40, t: 4, n: 1.5, semi: 6 },
      { t: 50, semi: 5 },
    ]);
    for (const [k, surface] of ['s2', 's3'].entries())
      for (const error of FIGURE_ERRORS) {
        const figure: ToleranceTarget = { kind: 'figure', lens: 'lens', surface, error };
        const { shape } = made(lens, [figure, 1.5]).lenses[0].surfaces[k + 1];
        const [before, after] = [lens.lenses[0].surfaces[k + 1].shape, shape].map(compileShape);
        const semi = k === 0 ? 6 : 5;
        let [least, most] = [Infinity, -Infinity];
        for (let i = 0; i <= 200; i++)
          for (let a = 0; a < 48; a++) {
            const [r, angle] = [(semi * i) / 200, (Math.PI * a) / 24];
            const [x, y] = [r * Math.cos(angle), r * Math.sin(angle)];
            const difference = after.sag(x, y) - before.sag(x, y);
            [least, most] = [Math.min(least, difference), Math.max(most, difference)];
          }
        expect((most - least) / (green / 2), `${surface} ${error}`).to.be.closeTo(1.5, 2e-3);
      }
    const asphere = {
      ...lens,
      lenses: [{ ...lens.lenses[0], surfaces: lens.lenses[0].surfaces.map((one) => ({ ...one, shape: ASPHERE })) }],
    };
    const refused = perturbed(asphere, [
      { of: { kind: 'figure', lens: 'lens', surface: 's2', error: 'spherical' }, by: 1 },
    ]);
    expect(refused).to.deep.include({ ok: false, where: 's2' });
  });

  it('an index that varies across a plate bends rays as a gradient of the same index does, at its front or at its back', () => {
    const [semi, thickness, index, ppm] = [6, 5, 1.5, 40];
    const axis: Partial<Lens> = {
      fields: { kind: 'angle', points: [{ id: 'axis', x: 0, y: 0, weight: 1 }] },
      aperture: { kind: 'entrance_pupil_diameter', value: 2 * semi },
    };
    const zone = (surface: string): ToleranceTarget => ({
      kind: 'homogeneity',
      lens: 'lens',
      surface,
      error: 'spherical',
    });
    // Δn = N·(6ρ⁴ − 6ρ² + 1)/1.5, as n² = n₀² + 2 n₀ Δn.
    const unit = (2 * index * ppm * 1e-6 * 6) / 1.5;
    const gradient = { r2: -unit / semi ** 2, r4: unit / semi ** 4 };
    const at = (project: Project, py: number) => {
      const settings = { field: 'axis', px: 0, py, surface: 'image', quantity: 'y' };
      const found = evaluateMeasure(new Evaluation(project), { measure: 'real_ray', lens: 'lens', settings });
      if (!found.ok) throw new Error(found.reason);
      return found.value.value;
    };
    for (const before of [1, 1.48]) {
      // Behind a glass of nearly the same index the back of the plate acts for it.
      const plate = quickProject(
        [
          { t: 3, n: before, semi },
          { t: thickness, n: index, semi },
          { t: 2000, semi },
        ],
        axis,
      );
      const [lens] = plate.lenses;
      const graded: Project = {
        ...plate,
        lenses: [
          {
            ...lens,
            surfaces: lens.surfaces.map((one): Surface =>
              one.id === 's2' ? { ...one, after: { ...one.after!, gradient } } : one,
            ),
          },
        ],
      };
      const varied = made(plate, [zone('s2'), ppm]);
      const changed = varied.lenses[0].surfaces.filter((one, k) => one.shape !== lens.surfaces[k].shape);
      expect(changed.map(({ id }) => id)).to.deep.equal([before === 1 ? 's2' : 's3']);
      const most = 2000 * thickness * ((ppm * 1e-6) / 1.5 / semi) * 12;
      for (const py of [0.3, 0.6, 0.9]) {
        const bent = at(graded, py) - at(plate, py);
        expect((at(varied, py) - at(plate, py) - bent) / most, `${before} ${py}`).to.be.closeTo(0, 2e-3);
        const slope = ((ppm * 1e-6) / 1.5) * ((24 * py ** 3 - 12 * py) / semi);
        expect((bent - 2000 * thickness * slope) / most).to.be.closeTo(0, 5e-3);
      }
    }
    expect(perturbed(lensOf(), [{ of: { ...zone('image') } as ToleranceTarget, by: 1 }]).ok).to.equal(false);
    expect(toleranceUnit(lensOf(), zone('s2'))).to.deep.equal({ ok: true, value: 'ppm' });
  });

  it('a group moves as its elements would together, about its pivot; a sphere that rolls in its cell stays what it is', () => {
    const lens = lensOf();
    const group = (motion: Motion, pivot = 0): ToleranceTarget => ({
      kind: 'element',
      lens: 'lens',
      surface: 's2',
      to: 's4',
      motion,
      pivot,
    });
    // The three surfaces of the pair are a group: the element itself.
    expectSameRays(made(lens, [group('shift_y'), 0.1]), made(lens, [element('s2', 'shift_y'), 0.1]));
    expectSameRays(made(lens, [group('tilt_x'), 0.4]), made(lens, [element('s2', 'tilt_x'), 0.4]));
    // About a point 10 mm on it shifts by −10 tan θ as well: R·(p − c) + c.
    const degrees = 0.4;
    const angle = (degrees * Math.PI) / 180;
    expectSameRays(
      made(lens, [group('tilt_x', 10), degrees]),
      made(
        lens,
        [element('s2', 'tilt_x'), degrees],
        [element('s2', 'shift_y'), 10 * Math.sin(angle)],
        [element('s2', 'shift_z'), 10 * (1 - Math.cos(angle))],
      ),
    );
    const roll: ToleranceTarget = { ...group('tilt_x', 60), surface: 's2', to: 's2' } as ToleranceTarget;
    expect(lens.lenses[0].surfaces[1].shape).to.deep.include({ kind: 'sphere', radius: 60 });
    expectSameRays(made(lens, [roll, 2]), lens);
    const backward = perturbed(lens, [{ of: { ...group('shift_y'), to: 's1' } as ToleranceTarget, by: 1 }]);
    expect(backward).to.deep.include({ ok: false });
  });

  it('the glass of a melt: the focal length by the index, the colour by the Abbe number', () => {
    const [lens] = lensOf([{ t: 1e-6 }, { r: 100, t: 1e-6, n: 1.5 }, { r: -100, t: 100 }]).lenses;
    const glass = { kind: 'model', nd: 1.5168, vd: 64.17 } as const;
    const [air] = lensOf().materials;
    const crown = { id: 'crown', label: 'crown', family: 'crown', dispersion: glass, range: [400, 700] as const };
    const surfaces = lens.surfaces.map((one) =>
      one.after && one.after.material !== 'air' ? { ...one, after: { ...one.after, material: 'crown' } } : one,
    );
    const thin: Project = { ...lensOf(), materials: [air, crown], lenses: [{ ...lens, surfaces }] };
    const focal = (project: Project, nm = 587.5618) => {
      const wavelengths = [{ id: 'only', nm, weight: 1 }];
      const inOne = { ...project, lenses: project.lenses.map((one) => ({ ...one, wavelengths, primary: 'only' })) };
      const found = evaluateMeasure(new Evaluation(inOne), {
        measure: 'effective_focal_length',
        lens: 'lens',
        settings: {},
      });
      if (!found.ok) throw new Error(found.reason);
      return found.value.value;
    };
    const melt = (quantity: 'index' | 'abbe'): ToleranceTarget => ({ kind: 'melt', material: 'crown', quantity });
    const f = focal(thin);
    expect(focal(made(thin, [melt('index'), 0.001]))).to.be.closeTo((f * 0.5168) / 0.5178, 1e-5);
    // The powers of a thin lens at F and C differ by φ/V: departures of both kinds act side by side.
    const abbe = (project: Project) =>
      1 / focal(project) / (1 / focal(project, 486.1327) - 1 / focal(project, 656.2725));
    expect(abbe(made(thin, [melt('abbe'), 2])) / abbe(thin)).to.be.closeTo(1.02, 1e-6);
    expect(focal(made(thin, [melt('abbe'), 2]))).to.be.closeTo(f, 1e-9);
    const both = made(thin, [melt('abbe'), 2], [melt('index'), 0.001]);
    expect(abbe(both) / abbe(thin)).to.be.closeTo((1.02 * 0.5178) / 0.5168, 1e-6);
  });

  it('is refused where it cannot be, with what and where', () => {
    const reason = (project: Project, of: ToleranceTarget, by = 1) => {
      const found = perturbed(project, [{ of, by }]);
      return found.ok ? '' : found.reason;
    };
    expect(reason(lensOf(), number('s9.radius'))).to.match(/s9/);
    expect(reason(lensOf(), number('s1.radius'))).to.match(/infinite/);
    expect(reason(lensOf(), element('s9', 'shift_x'))).to.match(/no surface “s9”/);
    expect(reason(lensOf(), element('s1', 'shift_x'))).to.match(/bounds no element/);
    expect(reason(lensOf(), { kind: 'melt', material: 'lead', quantity: 'index' })).to.match(/no glass “lead”/);
    expect(reason(lensOf(), { kind: 'wedge', lens: 'lens', surface: 's9', across: 'x' })).to.match(/s9/);
    const fringes = (path: string): ToleranceTarget => ({ kind: 'fringes', address: `lenses.lens.surfaces.${path}` });
    expect(reason(lensOf(), fringes('s2.thickness'))).to.match(/only a radius/);
    expect(reason(lensOf(), fringes('s9.radius'))).to.match(/s9/);
    const carried = reframed(lensOf(), { s5: { frame: { tx: 1, axis: 'carry' } } });
    expect(reason(carried, element('s5', 'tilt_x'))).to.match(/axis follows/);
  });

  it('calls groups by their elements, or by the surfaces that they begin and end with', () => {
    const [lens] = lensOf().lenses;
    const name: Readonly<Record<string, string>> = { s2: 'L1', s3: 'L2', s5: 'L3' };
    const surfaces = lens.surfaces.map((one) =>
      name[one.id] && one.after ? { ...one, after: { ...one.after, name: name[one.id] } } : one,
    );
    const named = { ...lensOf(), lenses: [{ ...lens, surfaces }] };
    const title = (surface: string, to: string) =>
      toleranceTitle(named, {
        id: 'g',
        kind: 'element',
        lens: 'lens',
        surface,
        to,
        motion: 'tilt_x',
        lower: 0,
        upper: 1,
      });
    expect(title('s2', 's6')).to.equal('L1–L3 tilt x');
    expect(title('s2', 's4')).to.equal('L1–L2 tilt x');
    expect(title('s2', 's2')).to.equal('L1 front tilt x');
    expect(title('s2', 's3')).to.match(/L1 front to .* tilt x/);
  });

  it('has a unit and a title', () => {
    const of = (target: ToleranceTarget) => toleranceUnit(lensOf(), target);
    expect(of(element('s2', 'tilt_x'))).to.deep.equal({ ok: true, value: '°' });
    expect(of(number('s2.thickness'))).to.deep.equal({ ok: true, value: 'mm' });
    expect(of({ kind: 'share', address: 'lenses.lens.surfaces.s2.radius' })).to.deep.equal({ ok: true, value: '%' });
    expect(of(number('s9.radius')).ok).to.equal(false);
    const title = (target: ToleranceTarget, name?: string) =>
      toleranceTitle(lensOf(), { ...target, id: 't', lower: -1, upper: 1, ...(name && { name }) });
    expect(title(element('s2', 'tilt_x'))).to.equal('s2 tilt x');
    expect(title(number('s2.thickness'))).to.equal('Surface 2 thickness');
    expect(title(number('s2.tx'))).to.equal('Surface 2 tilt x');
    expect(title(number('s2.thickness'), 'Crown')).to.equal('Crown');
  });
});
