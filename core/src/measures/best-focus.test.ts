import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { fieldMtf, modulation } from '../imaging/point/mtf.ts';
import { refocusBySpot } from '../imaging/point/refocus.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { evaluateMeasure } from './registry.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('the sample does not read');
const tide = read.project;
const PATH = 'lenses.tide.surfaces.l4_back.after.thickness';
const moved = (shift: number): Project =>
  applyEdits(tide, [{ kind: 'set', path: PATH, value: tide.lenses[0].surfaces.at(-2)!.after!.thickness + shift }])
    .project;

function told(project: Project, measure: string, settings: object): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: project.lenses[0].id, settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

describe('the way to the best focus', () => {
  it('by spots is what a refocus moves the image by', () => {
    for (const shift of [-0.7, 0, 0.4]) {
      const found = refocusBySpot(moved(shift), 'tide', 'centroid');
      if (!found.ok) throw new Error(found.reason);
      expect(told(moved(shift), 'best_focus', { by: 'RMS spot' })).to.be.closeTo(found.value.shift, 1e-9);
    }
  });

  it('by MTF is the same place from wherever the image stands, and better than its neighbours', () => {
    const settings = { by: 'MTF', frequency: 50 };
    const best = told(tide, 'best_focus', settings);
    for (const shift of [-3, -0.5, 0.5, 3])
      expect(told(moved(shift), 'best_focus', settings) + shift, `${shift}`).to.be.closeTo(best, 2e-4);
    const mean = (shift: number) => {
      const lens = new Evaluation(moved(shift)).lens('tide');
      if (!lens.ok) throw new Error(lens.reason);
      const { model } = lens.value;
      return model.lens.fields.points.reduce((sum, field) => {
        const mtf = fieldMtf(lens.value, field, {
          method: 'physical',
          frequencies: [50],
          wave: model.primary,
        });
        if (!mtf.ok) throw new Error(mtf.reason);
        return sum + (modulation(mtf.value.tangential[0]) + modulation(mtf.value.sagittal[0])) / 2;
      }, 0);
    };
    // The grid of cells is good to some thousandths: neighbours a hundredth of a millimetre away are worse by more.
    for (const side of [-0.02, 0.02]) expect(mean(best)).to.be.above(mean(best + side));
  });
});

describe('the edge thickness', () => {
  it('is that of glass at its larger semi-aperture, and of air at the smaller', () => {
    const sag = (r: number, h: number) => r - Math.sign(r) * Math.sqrt(r * r - h * h);
    const project = quickProject([
      { r: 40, t: 6, n: 1.5, semi: 8 },
      { r: -50, t: 3, semi: 10 },
      { r: -45, t: 2, n: 1.6, semi: 9 },
      { t: 40, semi: 9 },
    ]);
    expect(told(project, 'edge_thickness', { surface: 's1' })).to.be.closeTo(6 + sag(-50, 10) - sag(40, 10), 1e-12);
    expect(told(project, 'edge_thickness', { surface: 's2' })).to.be.closeTo(3 + sag(-45, 9) - sag(-50, 9), 1e-12);
  });
});
