import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Goal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { polish } from './polish.ts';

const read = readProjectText(readFileSync('samples/forms/triplet.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { project: triplet } = read;
const [lens] = triplet.lenses;

function measured(project: Project, measure: string, settings = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: lens.id, settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

const goal = (id: string, measure: string, target: number, settings: Record<string, unknown> = {}): Goal => ({ id, kind: 'measure', measure, of: lens.id, settings, weight: 1, target }); // prettier-ignore

describe('the as-built spot as a goal', () => {
  it('makes a lens better behind a coarse workshop', () => {
    const curved = lens.surfaces.filter(({ shape }) => 'radius' in shape && shape.radius !== 'infinity');
    const project: Project = {
      ...triplet,
      parameters: Object.fromEntries(
        curved.map(({ id }) => [`lenses.${lens.id}.surfaces.${id}.radius`, { kind: 'free' as const }]),
      ),
      goals: [
        goal('made', 'as_built_spot', 0, { workshop: 'coarse' }),
        goal('f', 'effective_focal_length', measured(triplet, 'effective_focal_length')),
      ],
    };
    // One number that cannot become 0 has no squares to be made small: slopes alone do.
    const run = polish(project, null, { method: 'slopes', evaluations: 12 });
    let step = run.next();
    while (!step.done) step = run.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const { project: made, merit, before } = step.value.value;
    expect(merit).to.be.below(0.9995 * before);
    expect(measured(made, 'as_built_spot', { workshop: 'coarse' })).to.be.below(
      measured(triplet, 'as_built_spot', { workshop: 'coarse' }),
    );
    expect(measured(made, 'effective_focal_length')).to.be.closeTo(
      measured(triplet, 'effective_focal_length'),
      0.05,
    );
  }).timeout(120_000);
});
