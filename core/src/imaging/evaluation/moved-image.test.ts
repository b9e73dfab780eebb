import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import type { RayBlock } from '../../compute/ray-block.ts';
import { applyEdits, type Edit } from '../../project/edit.ts';
import { readProjectText } from '../../project/read.ts';
import type { Project } from '../../project/model.ts';
import { Evaluation } from './evaluation.ts';
import type { LensEvaluation, RayChoice } from './lens-evaluation.ts';
import { imageStep } from './moved-image.ts';

function tide(): Project {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  return read.project;
}

const at = (path: string) => `lenses.tide.surfaces.${path}`;
const set = (project: Project, ...pairs: readonly (readonly [string, unknown])[]) =>
  applyEdits(
    project,
    pairs.map(([path, value]): Edit => ({ kind: 'set', path: at(path), value })),
  ).project;
const DISTANCE = 'l4_back.after.thickness';
/** L4 tilted, so that the lens is no longer its own mirror image. */
const TILTED = [['l4_back.frame', { tx: 0.2, ty: 0.1 }]] as const;
const CHOICE: RayChoice = { sampling: { kind: 'polar', rings: 4, arms: 8 }, pupil: 'clipped' };

function lensOf(project: Project, near: Evaluation | null = null): LensEvaluation {
  const lens = new Evaluation(project, near).lens('tide');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

function rays(lens: LensEvaluation, wave = 1): RayBlock {
  const found = lens.bundle(lens.model.lens.fields.points[2], wave, CHOICE);
  if (!found.ok) throw new Error(found.reason);
  return found.value.rays;
}

function expectSame(a: RayBlock, b: RayBlock, within: number): void {
  expect([...a.status]).to.deep.equal([...b.status]);
  for (const column of ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const)
    a[column].forEach((value, i) => expect(value, `${column} ${i}`).to.be.closeTo(b[column][i], within));
}

describe('an image plane that has moved', () => {
  it('is met by the rays that are known already, where a new trace meets it', () => {
    const before = set(tide(), ...TILTED);
    const after = set(before, [DISTANCE, 31.4]);
    const design = new Evaluation(before);
    const known = design.lens('tide');
    if (!known.ok) throw new Error(known.reason);
    rays(known.value);
    const near = lensOf(after, design);
    expect(imageStep(near.model, known.value.model)).to.be.closeTo(31.4 - 30.3498, 1e-12);
    expectSame(rays(near), rays(lensOf(after)), 1e-11);
    const [axis] = near.model.lens.fields.points;
    const [moved, traced] = [near.chief(axis, 0), lensOf(after).chief(axis, 0)];
    if (!moved.ok || !traced.ok) throw new Error('no chief ray');
    expectSame(moved.value, traced.value, 1e-11);
  });

  it('is no short cut where anything else differs, or where the image is no free plane', () => {
    const base = tide();
    const model = (project: Project) => lensOf(project).model;
    const step = (a: Project, b = set(a, [DISTANCE, 31])) => imageStep(model(b), model(a));
    expect(step(base)).to.be.closeTo(31 - 30.3498, 1e-12);
    expect(step(base, set(base, [DISTANCE, 31], ['l1_front.shape.radius', 30]))).to.equal(null);
    expect(step(base, set(base, ['l4_back.after', { thickness: 31, material: 'g517642' }]))).to.equal(null);
    expect(step(base, set(base, [DISTANCE, 31], ['sensor.frame', { tx: 1 }]))).to.equal(null);
    expect(step(set(base, ['sensor.shape', { kind: 'sphere', radius: -200 }]))).to.equal(null);
    expect(step(set(base, ['sensor.aperture', { kind: 'circle', semi: 2 }]))).to.equal(null);
    expect(step(base, { ...base, surroundings: { temperature: 60, pressure: 101325 } })).to.equal(null);
    const far = applyEdits(base, [{ kind: 'set', path: 'lenses.tide.object.distance', value: 5000 }]).project;
    expect(step(base, far)).to.equal(null);
  });
});

describe('a lens near one that is its own mirror image', () => {
  it('begins with both halves of its rays and comes to the same', () => {
    const design = new Evaluation(tide());
    const symmetric = design.lens('tide');
    if (!symmetric.ok) throw new Error(symmetric.reason);
    expect(symmetric.value.model.mirrorX).to.equal(true);
    for (const wave of [0, 1, 2]) rays(symmetric.value, wave);
    const made = set(tide(), ...TILTED, ['l1_front.shape.radius', 25]);
    const near = lensOf(made, design);
    const alone = lensOf(made);
    expect(near.model.mirrorX).to.equal(false);
    for (const wave of [0, 1, 2]) expectSame(rays(near, wave), rays(alone, wave), 1e-9);
  });
});
