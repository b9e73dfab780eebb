import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import type { CurvePanel } from '../analyses/panels.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { refocusBySpot } from '../imaging/point/refocus.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Lens, Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { operate, type Operated } from './operation.ts';
import { CRITERIA } from './refocus-criteria.ts';
import { findOperation, OPERATIONS } from './registry.ts';
import { scaledWishes } from './scale.ts';

const tide = (() => {
  const read = readProjectText(
    readFileSync(new URL('../../../samples/tide-camera.ulvex.json', import.meta.url), 'utf8'),
  );
  if (!read.ok) throw new Error('the sample cannot be read');
  return read.project;
})();

function done(
  project: Project,
  id: string,
  settings: unknown = {},
  span?: readonly [string, string],
): { project: Project; made: Operated } {
  const lens = project.lenses[0];
  const all = [lens.surfaces[0].id, lens.surfaces.at(-2)!.id] as const;
  const made = operate(findOperation(id)!, project, lens.id, span ?? all, settings);
  if (!made.ok) throw new Error(made.reason);
  return { project: applyEdits(project, made.value.edits).project, made: made.value };
}

function refusal(project: Project, id: string, settings: unknown = {}, span?: readonly [string, string]): string {
  const lens = project.lenses[0];
  const made = operate(
    findOperation(id)!,
    project,
    lens.id,
    span ?? [lens.surfaces[0].id, lens.surfaces.at(-2)!.id],
    settings,
  );
  return made.ok ? '' : made.reason;
}

function measured(project: Project, measure: string, settings: Record<string, unknown> = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: project.lenses[0].id, settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

const first = (project: Project) => {
  const lens = new Evaluation(project).lens(project.lenses[0].id);
  const data = lens.ok ? lens.value.primary() : lens;
  if (!data.ok) throw new Error(data.reason);
  return data.value;
};
const triple = () =>
  quickProject([
    { r: 60, t: 6, n: 1.52 },
    { r: -45, t: 2.5, n: 1.65 },
    { r: -160, t: 1 },
    { r: 90, t: 3, n: 1.6 },
    { r: 140, t: 80 },
  ]);

describe('turning a lens around', () => {
  const { project, made } = done(tide, 'turn_around', { throw: 1300 });
  const lens = project.lenses[0];

  it('throws what was the image: heights, stop and throw are kept', () => {
    const before = tide.lenses[0];
    const far = measured(tide, 'image_height', { field: before.fields.points.at(-1)!.id });
    expect(lens.fields.kind).to.equal('object_height');
    expect(Math.abs(lens.fields.points.at(-1)!.y)).to.be.closeTo(Math.abs(far), 1e-9);
    const heights = lens.fields.points.map(({ y }) => Math.abs(y / far));
    expect(heights).to.deep.equal([0, Math.SQRT1_2, 1]); // equal areas between three fields
    expect(first(project).stopSemiAperture).to.be.closeTo(first(tide).stopSemiAperture, 1e-12);
    expect(lens.surfaces.at(-2)!.after!.thickness).to.equal(1300);
    expect(lens.stop).to.equal(before.stop);
    expect(made.notes.join('\n')).to.match(/throw 1300 mm: enlarged 3[56]\.\d+ times/);
  });

  it('refocuses the short gap: no other object distance nearby has smaller spots', () => {
    const at = (by: number) => {
      const distance = (lens.object.distance as number) + by;
      return measured(
        applyEdits(project, [{ kind: 'set', path: `lenses.${lens.id}.object.distance`, value: distance }]).project,
        'rms_spot_radius',
      );
    };
    const best = at(0);
    for (const by of [-0.02, -0.002, 0.002, 0.02]) expect(at(by)).to.be.above(best);
    // The object lies a little nearer than the image did: it is not at infinity that it is seen from.
    expect(lens.object.distance).to.be.within(30, 34);
  });

  it('twice, with the throw the object had, gives the lens back', () => {
    const finite = { ...triple() };
    const near: Project = {
      ...finite,
      lenses: [
        {
          ...finite.lenses[0],
          object: { distance: 300 },
          aperture: { kind: 'stop_semi_aperture', value: 4 },
          fields: {
            kind: 'object_height',
            points: [
              { id: 'axis', x: 0, y: 0, weight: 1 },
              { id: 'edge', x: 0, y: 10, weight: 1 },
            ],
          },
        },
      ],
    };
    const image = first(near).imageDistance;
    const focused = applyEdits(near, [
      { kind: 'set', path: 'lenses.lens.surfaces.s5.after.thickness', value: image },
    ]).project;
    const there = done(focused, 'turn_around', {
      throw: 300,
      spacing: 'as they were',
      refocus: 'paraxial image',
    }).project;
    const back = done(there, 'turn_around', {
      throw: image,
      spacing: 'as they were',
      refocus: 'paraxial image',
    }).project;
    expect(back.lenses[0].object.distance).to.be.closeTo(300, 1e-6);
    expect(back.lenses[0].surfaces.map(({ shape }) => shape)).to.deep.equal(
      focused.lenses[0].surfaces.map(({ shape }) => shape),
    );
    expect(back.lenses[0].surfaces.map(({ after }) => after?.material)).to.deep.equal(
      focused.lenses[0].surfaces.map(({ after }) => after?.material),
    );
    expect(1 / first(there).magnification!).to.be.closeTo(first(focused).magnification!, 1e-9);
  });

  it('says what cannot be turned', () => {
    const mirror = quickProject([{ r: -100, t: -50, n: 'mirror' }]);
    expect(refusal(mirror, 'turn_around')).to.match(/not lie after the lens|is a mirror/);
    const tilted = quickProject([
      { r: 50, t: 5, n: 1.5 },
      { r: -50, t: 45, frame: { tx: 2 } },
    ]);
    expect(refusal(tilted, 'turn_around')).to.match(/shifted or tilted/);
    expect(refusal(tide, 'turn_around', { throw: -1 })).to.match(/at least/);
  });
});

describe('operations on a lens', () => {
  it('each have a title, a meaning, and settings that are read', () => {
    expect(new Set(OPERATIONS.map(({ id }) => id)).size).to.equal(OPERATIONS.length);
    for (const { title, meaning } of OPERATIONS) expect(`${title} ${meaning}`).to.have.length.above(40);
    expect(refusal(tide, 'scale', { factor: 'two' })).to.match(/factor must be a number/);
  });

  it('flip: an element turned keeps its power, and turned twice is as it was', () => {
    const project = triple();
    const flipped = done(project, 'flip', {}, ['s4', 's5']).project;
    const radii = ({ lenses }: Project) =>
      lenses[0].surfaces.map(({ shape }) => (shape as { radius?: unknown }).radius);
    expect(radii(flipped).slice(3, 5)).to.deep.equal([-140, -90]);
    expect(flipped.lenses[0].surfaces.map(({ id }) => id)).to.deep.equal(['s1', 's2', 's3', 's5', 's4', 'image']);
    expect(done(flipped, 'flip', {}, ['s5', 's4']).project).to.deep.equal(project);
    expect(refusal(project, 'flip', {}, ['s2', 's3'])).to.match(/different media/);
    expect(refusal(project, 'flip', {}, ['s2', 's2'])).to.match(/at least two/);
    const group = done(project, 'flip', {}, ['s1', 's3']).project;
    expect(group.lenses[0].surfaces.slice(0, 3).map(({ after }) => after!.thickness)).to.deep.equal([2.5, 6, 1]);
  });

  it('scale: lengths grow, angles and F-number stay, spots grow along', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 5, noNaN: true }), (factor) => {
        const { project } = done(tide, 'scale', { factor });
        expect(measured(project, 'effective_focal_length') / measured(tide, 'effective_focal_length')).to.be.closeTo(
          factor,
          1e-9,
        );
        expect(measured(project, 'image_f_number')).to.be.closeTo(measured(tide, 'image_f_number'), 1e-9);
        expect(measured(project, 'rms_spot_radius') / measured(tide, 'rms_spot_radius')).to.be.closeTo(factor, 1e-6);
      }),
      { numRuns: 12 },
    );
    const aspheric = quickProject([
      { shape: { kind: 'even_asphere', radius: 50, conic: -0.3, a4: 1e-6 }, t: 5, n: 1.5, semi: 8 },
      { r: -80, t: 60 },
    ]);
    const double = done(aspheric, 'scale', { factor: 2 }).project.lenses[0].surfaces[0];
    expect(double.shape).to.deep.include({ radius: 100, conic: -0.3, a4: 1.25e-7 });
    expect(double.aperture).to.deep.equal({ kind: 'circle', semi: 16 });
  });

  it('scale to a focal length: the one that is asked for', () => {
    expect(
      measured(done(tide, 'scale_to_focal_length', { focal_length: 50 }).project, 'effective_focal_length'),
    ).to.be.closeTo(50, 1e-9);
  });

  it('scale: wishes that are lengths grow along where that is asked for, others stay', () => {
    const goal = {
      id: 'g',
      kind: 'measure',
      measure: 'effective_focal_length',
      of: 'tide',
      settings: {},
      weight: 1,
      target: 36,
    } as const;
    const contrast = {
      id: 'm',
      kind: 'image_quality',
      of: 'tide',
      what: 'mtf',
      frequency: 50,
      about: 'centroid',
      lateralColour: true,
      weight: 1,
    } as const;
    const wishing = { ...tide, goals: [goal, contrast, { ...contrast, id: 'n', of: 'other' }] };
    const { project } = applyEdits(wishing, scaledWishes(wishing, 'tide', 2));
    expect(project.goals).to.deep.equal([{ ...goal, target: 72 }, { ...contrast, frequency: 25 }, wishing.goals[2]]);
    const of = (id: string) => project.requirements.find((one) => one.id === id)!;
    expect(of('focal_length')).to.deep.include({ min: 71, max: 73 });
    expect(of('worst_spot')).to.deep.include({ max: 17 });
    expect(of('f_number')).to.deep.equal(tide.requirements.find(({ id }) => id === 'f_number'));
  });

  it('split: two elements of the same power, less spherical aberration', () => {
    const singlet = quickProject([
      { r: 60, t: 4, n: 1.6 },
      { r: -200, t: 75 },
    ]);
    const { project } = done(singlet, 'split_element', { gap: 0.2 }, ['s1', 's1']);
    expect(project.lenses[0].surfaces).to.have.length(5);
    expect(first(project).power / first(singlet).power).to.be.closeTo(1, 0.05);
    const spherical = (of: Project) => measured(of, 'zernike_coefficient', { field: 'axis', term: 11 });
    expect(Math.abs(spherical(project))).to.be.below(0.75 * Math.abs(spherical(singlet)));
    expect(refusal(triple(), 'split_element', {}, ['s1', 's1'])).to.match(/cemented/);
  });

  it('achromats: F and C come to one focus where they did not', () => {
    const host = quickProject([{ t: 120 }]);
    const glassy = (lens: Lens, project: Project): Project => ({
      ...project,
      lenses: [
        {
          ...lens,
          wavelengths: [
            { id: 'd', nm: 587.5618, weight: 1 },
            { id: 'f', nm: 486.1327, weight: 1 },
            { id: 'c', nm: 656.2725, weight: 1 },
          ],
        },
      ],
    });
    const { project } = done(host, 'insert_doublet', { focal_length: 100 }, ['s1', 's1']);
    const colours = glassy(project.lenses[0], project);
    expect(measured(colours, 'effective_focal_length')).to.be.closeTo(100, 3);
    const shift = (of: Project) => Math.abs(measured(of, 'axial_colour'));
    expect(shift(colours)).to.be.below(0.05);
    const [, , middle] = colours.lenses[0].surfaces;
    const bent = applyEdits(colours, [
      { kind: 'set', path: `lenses.lens.surfaces.${middle.id}.shape.radius`, value: -80 },
    ]).project;
    const mended = done(bent, 'achromatise', {}, [middle.id, middle.id]).project;
    expect(shift(mended)).to.be.below(0.2 * shift(bent));
  });

  it('field lens and stop: chief rays turn, the neighbours stay', () => {
    const field = done(triple(), 'insert_field_lens', { focal_length: 60 }, ['s5', 's5']).project;
    expect(field.lenses[0].surfaces).to.have.length(8);
    const open = quickProject([{ t: 10 }, { r: 50, t: 4, n: 1.5 }, { r: -50, t: 45 }]);
    const moved = done(open, 'move_stop', { by: 3 }).project;
    expect(moved.lenses[0].surfaces[0].after!.thickness).to.equal(7);
    expect(refusal(open, 'move_stop', { by: 20 })).to.match(/pass its neighbour/);
    expect(refusal(triple(), 'move_stop', { by: 1 })).to.match(/surface of glass/);
  });
});

describe('bending and folding', () => {
  it('bend: another shape, the same power, thickness included', () => {
    for (const shape of [-2, -1, 0, 0.7, 1, 3]) {
      const { project } = done(triple(), 'bend_element', { shape }, ['s4', 's4']);
      const [c1, c2] = [3, 4].map(
        (k) => 1 / Number((project.lenses[0].surfaces[k].shape as { radius: unknown }).radius) || 0,
      );
      expect((c1 + c2) / (c1 - c2)).to.be.closeTo(shape, 1e-12);
      const power = ([a, b]: readonly number[]) => a - b + (a * b * 3 * 0.6) / 1.6;
      expect(power([c1, c2])).to.be.closeTo(power([1 / 90, 1 / 140]), 1e-15);
    }
    expect(refusal(triple(), 'bend_element', {}, ['s1', 's1'])).to.match(/cemented/);
  });

  it('fold: everything behind is seen in the mirror, and stays what it was', () => {
    const names = ['effective_focal_length', 'rms_spot_radius', 'chief_ray_angle'] as const;
    const told = (project: Project) =>
      names.map((name) => measured(project, name, name === 'effective_focal_length' ? {} : { field: 'edge' }));
    const before = told(tide);
    for (const way of ['up', 'down', 'left', 'right']) {
      const { project } = done(tide, 'fold_mirror', { distance: 10, turn: 60, way }, ['l4_back', 'l4_back']);
      told(project).forEach((value, k) =>
        expect(value, `${names[k]} ${way}`).to.be.closeTo(before[k], 1e-9 * Math.abs(before[k])),
      );
      expect(project.lenses[0].surfaces.at(-2)).to.deep.include({ reflects: true, name: 'Fold' });
    }
    const early = done(tide, 'fold_mirror', { distance: 1, turn: 90, way: 'up' }, ['l1_back', 'l1_back']).project;
    told(early).forEach((value, k) => expect(value, names[k]).to.be.closeTo(before[k], 1e-9 * Math.abs(before[k])));
    const where = new Evaluation(
      done(tide, 'fold_mirror', { distance: 10, turn: 90, way: 'up' }, ['l4_back', 'l4_back']).project,
    ).lens('tide');
    if (!where.ok) throw new Error(where.reason);
    const [x, y, z] = where.value.model.surfaces.at(-1)!.pose.shift;
    expect(x).to.be.closeTo(0, 1e-12);
    expect(y).to.be.closeTo(30.3498 - 10, 1e-9);
    expect(z).to.be.closeTo(11.854 + 10, 1e-9);
  });

  it('fold: says where the mirror cannot stand, and what cannot stand behind it', () => {
    const behind = ['l4_back', 'l4_back'] as const;
    expect(refusal(tide, 'fold_mirror', { distance: 40 }, behind)).to.match(/is 30.3498 mm long/);
    expect(refusal(tide, 'fold_mirror', {}, ['l1_front', 'l1_front'])).to.match(/Glass lies after/);
    const tilted = applyEdits(tide, [
      { kind: 'set', path: 'lenses.tide.surfaces.sensor.frame', value: { tx: 1 } },
    ]).project;
    expect(refusal(tilted, 'fold_mirror', {}, behind)).to.match(/Sensor is shifted or tilted/);
  });
});

describe('refocusing by a criterion', () => {
  const last = tide.lenses[0].surfaces.at(-2)!;
  const path = `lenses.tide.surfaces.${last.id}.after.thickness`;
  const away = applyEdits(tide, [{ kind: 'set', path, value: last.after!.thickness + 0.03 }]).project;
  const distanceOf = (project: Project) => project.lenses[0].surfaces.at(-2)!.after!.thickness;
  const by = (settings: object, span: readonly [string, string] = [last.id, last.id]) =>
    done(away, 'refocus_by', settings, span);

  it('finds the distance that the exact search for RMS spots finds', () => {
    for (const about of ['centroid', 'chief'] as const) {
      const exact = refocusBySpot(away, 'tide', about);
      if (!exact.ok) throw new Error(exact.reason);
      const wanted = away.lenses[0].surfaces.at(-2)!.after!.thickness + exact.value.shift;
      expect(distanceOf(by({ about }).project)).to.be.closeTo(wanted, 2e-5);
    }
  });

  it('in x and y apart takes astigmatism apart: the whole lies between', () => {
    const [all, x, y] = ['RMS spot', 'RMS spot in x', 'RMS spot in y'].map((criterion) =>
      distanceOf(by({ criterion }).project),
    );
    expect(all).to.be.within(Math.min(x, y), Math.max(x, y));
    expect(Math.abs(x - y)).to.be.above(1e-4);
  });

  it('by wavefront and by MTF comes to places of its own, better there than where it was', () => {
    for (const [criterion, better] of [
      ['RMS wavefront', -1],
      ['MTF', 1],
    ] as const) {
      const { made } = by({ criterion, frequency: 40 });
      const [, before, after] = /fields ([\d.]+).* → ([\d.]+)/.exec(made.notes[1])!.map(Number);
      expect(better * (after - before), made.notes[1]).to.be.above(0);
      expect(made.choices!.of.map(({ name, words }) => `${name} ${words}`).join(', ')).to.match(
        /axis wants .*, zone wants .*, edge wants/,
      );
    }
  });

  it('draws the criterion that was chosen: at the best place it has the best value, and falls off to both sides', () => {
    for (const criterion of CRITERIA) {
      const { made } = by({ criterion, about: 'chief', frequency: 40 });
      const [, best] = /→ ([\d.]+)/.exec(made.notes[1])!.map(Number);
      const [panel] = made.panels as readonly CurvePanel[];
      const [all, ...single] = panel.curves;
      const middle = (all.y.length - 1) / 2;
      expect(all.y[middle], criterion).to.be.closeTo(best, 1e-5 * best);
      const sense = criterion === 'MTF' ? -1 : 1;
      for (const y of [all.y[0], all.y.at(-1)!]) expect(sense * (y - best), criterion).to.be.above(0);
      // All fields together lie within the fields by themselves.
      const own = single.map(({ y }) => y[middle]);
      expect(best, criterion).to.be.within(Math.min(...own), Math.max(...own));
    }
  });

  it('by MTF finds the main lobe from half a millimetre away, where only side lobes are near, and says so if the best is poor', () => {
    const start = last.after!.thickness;
    const at = (shift: number, frequency: number) => {
      const moved = applyEdits(tide, [{ kind: 'set', path, value: start + shift }]).project;
      const found = done(moved, 'refocus_by', { criterion: 'MTF', frequency }, [last.id, last.id]);
      const [, best] = /→ ([\d.]+)/.exec(found.made.notes[1])!.map(Number);
      return { place: distanceOf(found.project), best, notes: found.made.notes };
    };
    const near = at(0, 50);
    expect(near.best).to.be.above(0.35);
    for (const shift of [-1, -0.5, 0.5, 1]) {
      const far = at(shift, 50);
      expect(far.place, `from ${shift} mm`).to.be.closeTo(near.place, 1e-3);
      expect(far.best).to.be.closeTo(near.best, 1e-4);
    }
    expect(near.notes.join()).not.to.match(/poor/);
    expect(at(0.2, 400).notes.join()).to.match(/even the best is poor: choose a lower frequency than 400/);
  }).timeout(60_000);

  it('bends the image surface, even from flat, to where all fields are sharper', () => {
    const image = tide.lenses[0].surfaces.at(-1)!;
    const bent = done(tide, 'refocus_by', { number: 'radius' }, [image.id, image.id]);
    const [before, after] = /fields ([\d.]+) .* → ([\d.]+)/.exec(bent.made.notes[1])!.slice(1).map(Number);
    expect(after).to.be.below(0.999 * before);
    expect(bent.made.notes[0]).to.match(/^radius ∞ → -?[\d.]+ mm/);
    expect(refusal(tide, 'refocus_by', {}, [image.id, image.id])).to.match(/has no distance after it/);
  });

  it('of chosen fields leaves weights alone, and what a field wants by itself is an edit of its own', () => {
    const { made } = by({});
    const [axis] = made.choices!.of;
    const only = by({ fields: 'axis' });
    const own = applyEdits(away, axis.edits).project;
    expect(distanceOf(only.project)).to.be.closeTo(distanceOf(own), 2e-4);
    expect(Math.abs(distanceOf(only.project) - distanceOf(by({}).project))).to.be.above(1e-3);
    expect(distanceOf(by({ fields: 'axis zone edge' }).project)).to.be.closeTo(distanceOf(by({}).project), 1e-6);
    expect(refusal(away, 'refocus_by', { fields: 'axis nowhere' })).to.match(
      /no field “nowhere”; there are axis, zone, edge/,
    );
    expect(only.project.lenses[0].fields).to.deep.equal(away.lenses[0].fields);
  });

  it('is refused where many rays are missing, and where the light has no focus after the lens', () => {
    const wide = applyEdits(away, [{ kind: 'set', path: 'lenses.tide.aperture.value', value: 19 }]).project;
    expect(refusal(wide, 'refocus_by', {})).to.match(
      /% of the rays do not reach the image \(at .+ the ray .+\): mend that first/,
    );
    const plain = refocusBySpot(wide, 'tide', 'centroid');
    expect(!plain.ok && plain.reason).to.match(/% of the rays do not reach the image/);
    const [lens] = away.lenses;
    const surfaces = lens.surfaces.map((one) =>
      one.id === 'l1_front' ? { ...one, shape: { kind: 'sphere', radius: -14 } as const } : one,
    );
    const spreading = {
      ...away,
      lenses: [{ ...lens, surfaces, aperture: { kind: 'entrance_pupil_diameter', value: 2 } as const }],
    };
    const found = refocusBySpot(spreading, 'tide', 'centroid');
    expect(!found.ok && found.reason).to.match(/before the last surface: the light has no focus after the lens/);
  });

  it('over every state lies between what each of them wants, and takes each field of each into its curve', () => {
    const near = 'near';
    const own = (state: string | null) => {
      const made = operate(findOperation('refocus_by')!, away, 'tide', [last.id, last.id], {}, state);
      if (!made.ok) throw new Error(made.reason);
      return Number(/→ ([\d.]+) mm/.exec(made.value.notes[0])![1]);
    };
    const all = operate(findOperation('refocus_by')!, away, 'tide', [last.id, last.id], {
      states: 'every state',
    });
    if (!all.ok) throw new Error(all.reason);
    const between = Number(/→ ([\d.]+) mm/.exec(all.value.notes[0])![1]);
    // Newton: 36² / 4000 mm after the focus of a far staff; frost moves it by far less.
    expect(own(near) - own(null)).to.be.closeTo(36 ** 2 / 4000, 0.01);
    expect(between).to.be.within(own(null), own(near));
    const [panel] = all.value.panels!;
    if (panel.kind !== 'curves') throw new Error('no curve');
    expect(panel.curves.map(({ name }) => name)).to.include.members(['axis, as designed', 'edge, Staff at 4 m']);
  });

  it('makes a plane inside sharp where that is asked for, and says where the stop hinders', () => {
    expect(by({ at: 'image' }).made.notes).to.deep.equal(by({ at: 'sensor' }).made.notes);
    expect(refusal(away, 'refocus_by', { at: 'l2_front' })).to.match(/The stop lies after/);
    // What comes behind the surface does not count: the spots on L4 back are those of the lens that ends there.
    const there = by({ at: 'l4_back', number: 'radius' }, ['l3_front', 'l3_front']);
    const [before, after] = /fields ([\d.]+) .* → ([\d.]+)/.exec(there.made.notes[1])!.slice(1).map(Number);
    expect(after).to.be.below(before);
    const [lens] = away.lenses;
    const cut = lens.surfaces.findIndex(({ id }) => id === 'l4_back');
    const surfaces = [...lens.surfaces.slice(0, cut), { ...lens.surfaces[cut], after: null }];
    const ended = { ...away, lenses: [{ ...lens, surfaces }] };
    expect(before).to.be.closeTo(measured(ended, 'rms_spot_radius', { field: 'all' }), 2e-3 * before);
  });

  it('turns any number, draws its curve with each field’s own, and says what cannot be', () => {
    const { made } = by({ number: 'radius' }, ['l1_front', 'l1_front']);
    const [panel] = made.panels!;
    if (panel.kind !== 'curves') throw new Error('no curve');
    expect(panel.curves.map(({ name }) => name)).to.deep.equal(['all fields', 'axis', 'zone', 'edge']);
    const values = panel.curves[0].y;
    expect(values.indexOf(Math.min(...values))).to.equal(12); // the middle
    expect(refusal(away, 'refocus_by', { number: 'object distance' })).to.match(/infinite/);
  });
});
