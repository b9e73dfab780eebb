import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import type { Finish } from '../finishes/finish.ts';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { atOnce } from '../math/steps.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { runAnalysis } from './registry.ts';
import type { CurvePanel, TablePanel } from './panels.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { SAMPLING, type Scene } from '../project/scene.ts';
import { traceAll } from '../scene/run.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { lensFindings } from '../imaging/evaluation/findings.ts';
import { inspectRay } from '../imaging/section/ray-inspection.ts';
import { transmission } from '../imaging/transmission/transmission.ts';

const NM = 587.5618;
const SAMPLING_OF = { kind: 'polar', rings: 4, arms: 8 } as const;
/** A quarter wave of √1.5: at its wavelength nothing comes back from glass of 1.5. */
const IDEAL: Finish = {
  id: 'ideal',
  name: 'Ideal',
  optics: { kind: 'coating', layers: [{ id: 'f1', index: Math.sqrt(1.5), thickness: NM / 4 / Math.sqrt(1.5) }] },
};
const FINISHES = [IDEAL, ...SHELF_FINISHES];
const PLATE: readonly Quick[] = [{ t: 10, n: 1.5 }, { t: 30 }];

/** Gives surfaces finishes, by their ids. */
function coated(project: Project, finishes: Readonly<Record<string, string>>): Project {
  return {
    ...project,
    finishes: FINISHES,
    lenses: project.lenses.map((lens) => ({
      ...lens,
      surfaces: lens.surfaces.map((one) => (finishes[one.id] ? { ...one, finish: finishes[one.id] } : one)),
    })),
  };
}

function lensOf(project: Project) {
  const lens = new Evaluation(project).lens(project.lenses[0].id);
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

function through(project: Project, wave = 0) {
  const lens = lensOf(project);
  const found = transmission(lens, lens.model.lens.fields.points[0], wave, SAMPLING_OF);
  if (!found.ok) throw new Error(found.reason);
  const { share, atSurfaces, inMedia } = found.value;
  const lost = [...atSurfaces, ...inMedia].reduce((sum, one) => sum + one, 0);
  expect(share + lost, 'energy').to.be.closeTo(1, 1e-12);
  return found.value;
}

describe('transmission of a lens', () => {
  it('of a bare plate is (1 − R)², of one with ideal quarter waves all', () => {
    const plate = quickProject(PLATE);
    expect(through(plate).share).to.be.closeTo(0.96 ** 2, 1e-12);
    expect(through(coated(plate, { s1: 'ideal', s2: 'ideal' })).share).to.be.closeTo(1, 1e-12);
    expect(through(coated(plate, { s1: 'ideal' })).share).to.be.closeTo(0.96, 1e-12);
  });

  it('counts films from the air, on whichever side of the glass it lies', () => {
    const { atSurfaces } = through(coated(quickProject(PLATE), { s1: 'broadband', s2: 'broadband' }));
    const first = atSurfaces[0];
    expect(first).to.be.within(1e-4, 0.02);
    expect(atSurfaces[1] / (1 - first)).to.be.closeTo(first, 1e-12);
    // Not so if they were counted the other way about.
    const { optics } = SHELF_FINISHES.find(({ id }) => id === 'broadband')!;
    if (optics.kind !== 'coating') throw new Error('no films');
    const turned: Finish = { id: 'ideal', name: 'turned', optics: { ...optics, layers: [...optics.layers].reverse() } };
    const other = { ...coated(quickProject(PLATE), { s1: 'ideal' }), finishes: [turned] };
    expect(Math.abs(through(other).atSurfaces[0] - first)).to.be.above(1e-3);
  });

  it('is the same there and back', () => {
    const lens = quickProject([
      { r: 40, t: 6, n: 1.6 },
      { r: -60, t: 30 },
    ]);
    for (const finishes of [{}, { s1: 'broadband', s2: 'single_layer' }]) {
      const project = coated(lens, finishes);
      const there = inspectRay(lensOf(project), { kind: 'launched', x: 0, y: 5, z: -10, tx: 0, ty: 3 }, null);
      if (!there.ok) throw new Error(there.reason);
      const [, out] = there.value.steps;
      // Back through the lens turned end for end: the same ray, its places and slopes mirrored in z.
      const turned = coated(
        quickProject([
          { r: 60, t: 6, n: 1.6 },
          { r: -40, t: 30 },
        ]),
        {
          s1: (finishes as Record<string, string>).s2,
          s2: (finishes as Record<string, string>).s1,
        },
      );
      const [, m, n] = out.direction;
      const back = inspectRay(
        lensOf(turned),
        { kind: 'launched', x: 0, y: out.local[1], z: -out.local[2], tx: 0, ty: (Math.atan2(-m, n) * 180) / Math.PI },
        null,
      );
      if (!back.ok) throw new Error(back.reason);
      expect(back.value.steps[1].flux).to.be.closeTo(out.flux, 1e-9);
      expect(back.value.steps[0].incidence).to.be.closeTo(out.refraction!, 1e-6);
    }
  });

  it('loses in media what their records say, and names those without one', () => {
    const absorbing = { thickness: 10, nm: [300, 900], share: [0.8, 0.8] };
    const plate = quickProject(PLATE);
    const materials = plate.materials.map((one) => (one.id === 'n1_5' ? { ...one, transmittance: absorbing } : one));
    const found = through({ ...plate, materials });
    expect(found.share).to.be.closeTo(0.96 ** 2 * 0.8, 1e-12);
    expect(found.inMedia[1]).to.be.closeTo(0.96 * 0.2, 1e-12);
    expect(found.takenClear).to.deep.equal([]);
    expect(through(plate).takenClear).to.deep.equal(['1.5']);
    const clear = evaluateMeasure(new Evaluation(plate), {
      measure: 'transmission',
      lens: 'lens',
      settings: { field: 'axis' },
    });
    expect(clear.ok && clear.value.caution).to.match(/taken as clear: 1\.5/);
  });

  it('of a mirror is what its metal reflects, all without a finish', () => {
    const mirror = quickProject([{ t: -50, n: 'mirror' }]);
    expect(through(mirror).share).to.equal(1);
    // ((n − 1)² + k²)/((n + 1)² + k²) at normal incidence.
    const [n, k] = [0.96, 6.69];
    const expected = ((n - 1) ** 2 + k * k) / ((n + 1) ** 2 + k * k);
    expect(through(coated(mirror, { s1: 'aluminium' })).share).to.be.closeTo(expected, 1e-12);
  });

  it('says which finish is not there, and where light cannot go on', () => {
    const findings = (finish: string) => lensFindings(lensOf(coated(quickProject(PLATE), { s1: finish })));
    expect(findings('gone').map(({ text }) => text)).to.deep.equal([
      'The project has no finish “gone”: the surface is taken as bare.',
    ]);
    expect(findings('white_paint')[0]).to.deep.include({ severity: 'warning', where: 's1' });
    expect(findings('single_layer')).to.deep.equal([]);
    const image = lensFindings(lensOf(coated(quickProject(PLATE), { image: 'single_layer' })));
    expect(image.map(({ text }) => text)).to.deep.equal([
      '“Single-layer antireflection” does nothing here: there is no glass on either side.',
    ]);
  });
});

describe('transmission of the tide camera', () => {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const tide = read.project;
  const faces = Object.fromEntries(tide.lenses[0].surfaces.map(({ id }) => [id, 'broadband']));

  it('is what the scene brings to its image along the axis, bare and coated', () => {
    for (const finishes of [{}, faces]) {
      const lens = lensOf(coated(tide, finishes));
      const [wave, nm] = [lens.model.primary, lens.model.wavelengths[lens.model.primary].nm];
      const ray = inspectRay(
        lens,
        { kind: 'launched', x: 0, y: 0, z: -10, tx: 0, ty: 0 },
        lens.model.wavelengths[wave].id,
      );
      if (!ray.ok) throw new Error(ray.reason);
      const glass = ray.value.steps.length - 1;
      const scene: Scene = {
        id: 'bench',
        name: 'Bench',
        medium: 'air',
        parts: [{ id: 'camera', body: { kind: 'lens', lens: 'tide' } }],
        sources: [
          {
            id: 'beam',
            flux: 1,
            unit: 'W',
            light: [{ nm, weight: 1 }],
            region: { kind: 'point' },
            law: { kind: 'parallel', half: 0 },
            frame: { dz: -10 },
          },
        ],
        detectors: [
          {
            id: 'image',
            on: { kind: 'face', part: 'camera', face: tide.lenses[0].surfaces.at(-1)!.id },
            columns: 1,
            rows: 1,
            counts: 'incident',
            light: 'radiometric',
          },
        ],
        // No more faces than light meets that goes straight on: ghosts meet more.
        sampling: { ...SAMPLING, rays: 64, splitting: 'split', threshold: 0, events: glass },
      };
      const found = new Evaluation({ ...coated(tide, finishes), scenes: [scene] }).scene('bench');
      if (!found.ok) throw new Error(found.reason);
      const { model } = found.value;
      const tally = traceAll(model, 64);
      const flux = tally.detectors[0].flux.reduce((sum, one) => sum + one, 0) / tally.chunks;
      expect(flux).to.be.closeTo(ray.value.steps.at(-1)!.flux, 1e-5);
    }
  });

  it('is told over wavelength and field, and surface by surface', () => {
    const evaluation = new Evaluation(coated(tide, faces));
    const run = (analysis: string, detail: 'draft' | 'full' = 'full') => {
      const found = atOnce(runAnalysis(evaluation, { analysis, lens: 'tide', settings: {}, detail }));
      if (!found.ok) throw new Error(found.reason);
      return found.value;
    };
    const [panel] = run('transmission_colour').panels as CurvePanel[];
    expect(panel.curves.map(({ name }) => name)).to.deep.equal(tide.lenses[0].fields.points.map(({ id }) => id));
    for (const { y } of panel.curves) for (const value of y) expect(value).to.be.within(60, 99.9);
    const measured = (wavelength: string) => {
      const found = evaluateMeasure(evaluation, {
        measure: 'transmission',
        lens: 'tide',
        settings: { field: 'axis', wavelength },
      });
      if (!found.ok) throw new Error(found.reason);
      return found.value.value;
    };
    const [losses] = run('light_losses').panels as TablePanel[];
    const sum = losses.rows.reduce((all, row) => all + (row[2] as number), 0);
    expect(sum + (losses.total![2] as number)).to.be.closeTo(100, 1e-9);
    const [overField] = run('transmission_field').panels as CurvePanel[];
    const primary = overField.curves.find(({ name }) => name.startsWith('d') || name.includes('587'));
    expect(primary?.y[0]).to.be.closeTo(measured('primary'), 1e-9);
    expect(measured('all')).to.be.within(60, 99.9);
  });
});
