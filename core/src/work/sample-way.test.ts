import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { makingRows, rimRays } from '../improve/making-limits.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { returnTo, type Tracked } from '../project/history.ts';
import type { Project } from '../project/model.ts';
import { readBackup } from './backup.ts';

/** RMS spots of the reference's four-element lens on the axis, in the zone and at the edge, µm; its other data. */
const REFERENCE = { spots: [6.74, 5.81, 8.21], distortion: 0.6871, back: 30.6439, length: 42.2038 };

function measured(project: Project, measure: string, settings: object = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'lens', settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

const spots = (project: Project) =>
  project.lenses[0].fields.points.map(({ id }) => measured(project, 'rms_spot_radius', { field: id, pupil: 'full' }));
const root = (values: readonly number[]) => Math.sqrt(values.reduce((sum, one) => sum + one * one, 0) / values.length);

describe('the way to a four-element lens, kept as a sample', () => {
  const read = readBackup(readFileSync('samples/four-element-way.json', 'utf8'));
  if (!read.ok) throw new Error(read.reason);
  const { tracked } = read.value.projects[0];
  const { names = {} } = tracked.history;
  const stateNamed = (name: string): Tracked => {
    const entry = Object.keys(names).find((key) => names[key] === name);
    if (entry === undefined) throw new Error(`no state is called ${name}`);
    return returnTo(tracked, Number(entry));
  };

  it('begins with a rough form and gets better with every named state of the whole aperture and field', () => {
    const states = ['The rough form', 'Polished, its own glasses', 'Searched, other glasses'];
    const squares = states.map((name) => root(spots(stateNamed(name).project)));
    expect(squares[0]).to.be.above(100);
    expect(squares[1]).to.be.below(root(REFERENCE.spots));
    expect(squares[2]).to.be.below(0.7 * root(REFERENCE.spots));
  });

  for (const name of ['Polished, its own glasses', 'Searched, other glasses'])
    it(`keeps what the reference has: “${name}”`, () => {
      const { project } = stateNamed(name);
      spots(project).forEach((spot, k) => expect(spot, `field ${k}`).to.be.at.most(REFERENCE.spots[k]));
      expect(measured(project, 'effective_focal_length')).to.be.closeTo(36, 0.01);
      expect(Math.abs(measured(project, 'distortion', { field: 'edge' }))).to.be.below(REFERENCE.distortion + 1e-3);
      expect(measured(project, 'paraxial_image_distance')).to.be.above(REFERENCE.back - 1e-3);
      expect(measured(project, 'total_length')).to.be.below(REFERENCE.length + 1e-3);
      const lens = new Evaluation(project).lens('lens');
      const rim = lens.ok ? rimRays(lens.value) : null;
      if (!lens.ok || !rim) throw new Error('the lens does not open');
      for (const { title, over } of makingRows(lens.value.model, rim, project.making))
        expect(over, title).to.be.below(1e-3);
    });
});
