import { expect } from 'chai';
import type { Outcome } from '../math/outcome.ts';
import { applyEdits } from './edit.ts';
import { projectOf } from './fixtures.ts';
import {
  insertElement,
  insertSurface,
  removeElement,
  removeSurface,
  setConic,
  setRadius,
  setSemiAperture,
  setStop,
  surfaceTitle,
  titleWithin,
  type Gesture,
} from './lens-edits.ts';
import { setMedium } from './medium-edits.ts';
import type { Lens, Project } from './model.ts';
import { readProject } from './read.ts';

/** A bench that applies gestures to the single lens, checking after each that undo works and the document stays legal. */
class Workbench {
  project: Project = projectOf();

  get lens(): Lens {
    return this.project.lenses[0];
  }

  do(gesture: Gesture | Outcome<Gesture>): this {
    if ('ok' in gesture && !gesture.ok) throw new Error(gesture.reason);
    const { edits } = 'ok' in gesture ? gesture.value : gesture;
    const { project, inverse } = applyEdits(this.project, edits);
    expect(applyEdits(project, inverse).project).to.deep.equal(this.project);
    const read = readProject(project);
    expect(read.ok, JSON.stringify(read)).to.equal(true);
    this.project = project;
    return this;
  }

  /** Vertices by title: where every surface stands. */
  places(): Record<string, number> {
    let z = 0;
    return Object.fromEntries(
      this.lens.surfaces.map((surface, index) => {
        const place = [surfaceTitle(this.lens, index), z] as const;
        z += surface.after?.thickness ?? 0;
        return place;
      }),
    );
  }

  surface(id: string) {
    return this.lens.surfaces.find((surface) => surface.id === id)!;
  }
}

function reasonOf(outcome: Outcome<Gesture>): string {
  return outcome.ok ? 'accepted' : outcome.reason;
}

describe('edits on a lens', () => {
  it('inserts a surface that changes no ray', () => {
    const bench = new Workbench();
    bench.do(insertSurface(bench.lens, 'front'));
    expect(bench.surface('s1').after).to.deep.equal({ thickness: 0, material: 'g517642' });
    expect(bench.places()).to.include({ 'L1 front': 0, Image: 98 });
    bench.do(insertSurface(bench.lens, 'image'));
    expect(bench.lens.surfaces.map((surface) => surface.id)).to.deep.equal(['front', 's1', 'back', 's2', 'image']);
  });

  it('inserts an element into a gap and leaves what follows in place', () => {
    const bench = new Workbench();
    bench.do(insertElement(bench.project, bench.lens, 'front'));
    expect(bench.places()).to.deep.equal({
      'L1 front': 0,
      'L1 back': 4,
      'L2 front': 5,
      'L2 back': 7,
      Image: 98,
    });
    bench.do(removeElement(bench.project, bench.lens, 's1'));
    expect(bench.places()).to.deep.equal({ 'L1 front': 0, 'L1 back': 4, Image: 98 });
  });

  it('keeps a gap that was typed for an element to come, and puts the image a beam behind it', () => {
    const bench = new Workbench();
    const gap = { kind: 'set', path: 'lenses.single.surfaces.back.after.thickness', value: 6 } as const;
    bench.project = applyEdits(bench.project, [gap]).project;
    bench.do(insertElement(bench.project, bench.lens, 'back'));
    expect(bench.places()).to.deep.equal({
      'L1 front': 0,
      'L1 back': 4,
      'L2 front': 10,
      'L2 back': 12,
      Image: 32,
    });
    // Between two elements: what follows moves back.
    bench.do(insertElement(bench.project, bench.lens, 'back'));
    expect(bench.places()).to.include({ 'L1 back': 4, 'L3 front': 10, 'L3 back': 12, 'L2 front': 13 });
  });

  it('inserts into a lens that has an image surface only', () => {
    const bench = new Workbench();
    for (const id of ['front', 'back']) bench.do(removeSurface(bench.lens, id));
    bench.do(insertElement(bench.project, bench.lens, 'image'));
    expect(bench.places()).to.deep.equal({ 'L1 front': 0, 'L1 back': 2, Image: 3 });
    const bare = new Workbench();
    for (const id of ['front', 'back']) bare.do(removeSurface(bare.lens, id));
    bare.do(insertSurface(bare.lens, 'image'));
    expect(bare.lens.surfaces.map((surface) => surface.id)).to.deep.equal(['s1', 'image']);
  });

  it('removes one element of a cemented pair and keeps the other', () => {
    for (const [removed, left] of [
      ['front', { 'L2 front': 0, 'L2 back': 3, Image: 98 }],
      ['s1', { 'L1 front': 0, 'L1 back': 4, Image: 101 }],
    ] as const) {
      const bench = new Workbench();
      bench.do(insertSurface(bench.lens, 'front'));
      bench.do(setMedium(bench.project, bench.lens, 's1', '648338'));
      bench.do({
        edits: [{ kind: 'set', path: 'lenses.single.surfaces.s1.after.thickness', value: 3 }],
        label: '',
        focus: '',
      });
      expect(bench.places()).to.deep.equal({ 'L1 front': 0, 'L1 | L2': 4, 'L2 back': 7, Image: 101 });
      bench.do(removeElement(bench.project, bench.lens, removed));
      const places = bench.places();
      expect(Object.keys(places)).to.deep.equal(Object.keys(left));
    }
  });

  it('never removes the image surface, or glass that is not there', () => {
    const bench = new Workbench();
    expect(reasonOf(removeSurface(bench.lens, 'image'))).to.match(/image surface stays/);
    expect(reasonOf(removeElement(bench.project, bench.lens, 'back'))).to.match(/no element/);
  });

  it('gives shapes their numbers', () => {
    const bench = new Workbench();
    bench.do(setRadius(bench.lens, 'back', -80));
    expect(bench.surface('back').shape).to.deep.equal({ kind: 'sphere', radius: -80 });
    bench.do(setConic(bench.lens, 'back', -1.5));
    expect(bench.surface('back').shape).to.deep.equal({ kind: 'conic', radius: -80, conic: -1.5 });
    bench.do(setRadius(bench.lens, 'back', Infinity));
    bench.do(setConic(bench.lens, 'back', 0));
    expect(bench.surface('back').shape).to.deep.equal({ kind: 'sphere', radius: 'infinity' });
    bench.do(setSemiAperture(bench.lens, 'front', 6));
    expect(bench.surface('front').aperture).to.deep.equal({ kind: 'circle', semi: 6 });
    bench.do(setSemiAperture(bench.lens, 'front', null));
    expect(bench.surface('front').aperture).to.deep.equal({ kind: 'automatic' });
    bench.do(setStop(bench.lens, 'back'));
    expect(bench.lens.stop).to.equal('back');
  });

  it('fills media by code, name, index, air and mirror', () => {
    const bench = new Workbench();
    bench.do(setMedium(bench.project, bench.lens, 'front', 'fused silica'));
    expect(bench.surface('front').after).to.deep.equal({
      thickness: 4,
      material: 'fused_silica',
      name: 'L1',
    });
    expect(bench.project.materials.map((material) => material.id)).to.include('fused_silica');
    bench.do(setMedium(bench.project, bench.lens, 'front', '1.6'));
    expect(bench.surface('front').after?.material).to.equal('n1_6');
    bench.do(setMedium(bench.project, bench.lens, 'front', '1.62/36.4'));
    expect(bench.project.materials.at(-1)).to.deep.include({
      id: 'model_1_62_36_4',
      dispersion: { kind: 'model', nd: 1.62, vd: 36.4 },
      trust: 'constructed',
    });
    bench.do(setMedium(bench.project, bench.lens, 'front', 'air'));
    expect(bench.surface('front').after).to.deep.equal({ thickness: 4, material: 'air' });
    bench.do(setMedium(bench.project, bench.lens, 'back', 'mirror'));
    expect(bench.surface('back').reflects).to.equal(true);
    bench.do(setMedium(bench.project, bench.lens, 'back', '648338'));
    expect(bench.surface('back').reflects).to.equal(undefined);
    expect(surfaceTitle(bench.lens, 1)).to.equal('L1 front');
  });

  it('says what it cannot make of a text', () => {
    const bench = new Workbench();
    const reason = (text: string) => reasonOf(setMedium(bench.project, bench.lens, 'front', text));
    expect(reason('')).to.match(/Type a glass code/);
    expect(reason('glass of mirrors')).to.match(/No material is called/);
    expect(reason('dense')).to.match(/may be 529770 dense phosphate crown, 552635 dense phosphate crown/);
    expect(reason('1.62/5')).to.match(/Abbe number Vd between 10 and 120/);
    expect(reason('9.1/50')).to.match(/index nd between 1.3 and 2.2/);
    expect(reason('0.5')).to.match(/between 1 and 10/);
    expect(reasonOf(setMedium(bench.project, bench.lens, 'image', 'air'))).to.match(/after the image/);
  });
});

describe('a title within a sentence', () => {
  it('writes plain words small and leaves names with figures and initials alone', () => {
    const said = [
      'Image',
      'Stop',
      'Surface 3',
      'Mirror 12',
      'Cover glass',
      'L1 front',
      'L1 | L2',
      'LED window',
      '',
    ].map(titleWithin);
    expect(said).to.deep.equal([
      'image',
      'stop',
      'surface 3',
      'mirror 12',
      'cover glass',
      'L1 front',
      'L1 | L2',
      'LED window',
      '',
    ]);
  });
});
