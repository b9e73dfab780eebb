import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Goal } from '../project/improve.ts';
import { applyEdits } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { applyGrade } from '../tolerances/edits.ts';
import { GRADES } from '../tolerances/grades.ts';
import { polish } from './polish.ts';
import { meritStand } from './stand.ts';

const read = readProjectText(readFileSync('samples/forms/triplet.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { project: triplet } = read;
const [lens] = triplet.lenses;

function measured(project: Project, measure: string, settings = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: lens.id, settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

const focal: Goal = {
  id: 'f',
  kind: 'measure',
  measure: 'effective_focal_length',
  of: lens.id,
  settings: {},
  weight: 1,
  target: measured(triplet, 'effective_focal_length'),
};
const drawn: Goal = {
  id: 'image',
  kind: 'image_quality',
  of: lens.id,
  weight: 1,
  what: 'spot',
  about: 'centroid',
  lateralColour: true,
};
const made: Goal = { ...drawn, workshop: 'coarse' };

function polished(goal: Goal): Project {
  const curved = lens.surfaces.filter(({ shape }) => 'radius' in shape && shape.radius !== 'infinity');
  const project: Project = {
    ...triplet,
    parameters: Object.fromEntries(
      curved.map(({ id }) => [`lenses.${lens.id}.surfaces.${id}.radius`, { kind: 'free' as const }]),
    ),
    goals: [goal, focal],
  };
  const run = polish(project, null, { evaluations: 30 });
  let step = run.next();
  while (!step.done) step = run.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return step.value.value.project;
}

describe('the spot as manufactured as a goal', () => {
  it('is the as-built spot, told by field as drawn and by errors', () => {
    const [stand] = meritStand(new Evaluation({ ...triplet, goals: [made] })).goals;
    expect(stand.value).to.be.closeTo(measured(triplet, 'as_built_spot', { workshop: 'coarse' }), 1e-9);
    expect(stand.parts!.map(({ of }) => of)).to.deep.equal([
      'as drawn',
      'by errors',
      'as drawn',
      'by errors',
      'as drawn',
      'by errors',
    ]);
    const edge = stand.parts!.filter(({ field }) => field === 'edge').map(({ value }) => value);
    const whole = measured(triplet, 'as_built_spot', { workshop: 'coarse', field: 'edge' });
    expect(Math.hypot(...edge)).to.be.closeTo(whole, 1e-9);
  });

  it('makes least squares give up some of the drawn spot for one that can be made', () => {
    const [byDrawn, byMade] = [polished(drawn), polished(made)];
    const workshop = { workshop: 'coarse' };
    const [before, after] = [byDrawn, byMade].map((one) => measured(one, 'as_built_spot', workshop));
    expect(after).to.be.below(0.99 * before);
    const [sharp, sharpMade] = [byDrawn, byMade].map((one) => measured(one, 'rms_spot_radius', { field: 'all' }));
    expect(sharpMade).to.be.above(sharp);
    expect(measured(byMade, 'effective_focal_length')).to.be.closeTo(focal.target!, 0.05);
  }).timeout(120_000);

  it('within the tolerances of the project is what 90 % of lenses keep, told by field as drawn and by errors', () => {
    const { edits } = applyGrade(triplet, lens, GRADES[1]);
    const project = applyEdits(triplet, edits).project;
    const share = { share: 90 };
    const [stand] = meritStand(new Evaluation({ ...project, goals: [{ ...drawn, workshop: 'tolerances' }] })).goals;
    // √Σ w q over the fields, each with its own 90 %.
    const { points } = lens.fields;
    const weights = points.reduce((sum, { weight }) => sum + weight, 0);
    const squares = points.map(
      ({ id, weight }) => (weight / weights) * measured(project, 'as_made_spot', { ...share, field: id }) ** 2,
    );
    expect(stand.value).to.be.closeTo(Math.sqrt(squares.reduce((sum, one) => sum + one, 0)), 1e-9);
    expect(stand.parts!.filter(({ of }) => of === 'by errors')).to.have.length(points.length);
    const [without] = meritStand(new Evaluation({ ...triplet, goals: [{ ...drawn, workshop: 'tolerances' }] })).goals;
    expect(JSON.stringify(without)).to.include('apply a grade');
  });
});
