import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import { readProjectText } from '../project/read.ts';
import { inState } from '../project/states.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { stateOfMade } from './made-state.ts';
import { trialProject } from './monte-carlo.ts';
import { watchedRequirements } from './watched.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('The sample cannot be read.');
const { project } = read;
const { tolerances, compensators = [] } = project.tolerancing!;

describe('a trial as a state', () => {
  it('measures what the trial does, and is read back as it was', () => {
    const watched = watchedRequirements(project);
    const trial = trialProject({ project, tolerances, compensators, watched, seed: 1 }, 17);
    if (!trial.ok) throw new Error(trial.reason);
    const found = stateOfMade(project, trial.value, 'Trial 17');
    if (!found.ok) throw new Error(found.reason);
    expect(found.value.missing).to.deep.equal([]);
    const kept = applyEdits(project, found.value.edits).project;
    const again = readProjectText(JSON.stringify(kept));
    expect(again.ok && again.project).to.deep.equal(kept);
    const seen = inState(kept, found.value.state);
    if (!seen.ok) throw new Error(seen.reason);
    const [asMade, inIt, designed] = [trial.value, seen.value, kept].map((one) => {
      const evaluation = new Evaluation(one);
      return watched.map((request) => {
        const measured = evaluateMeasure(evaluation, { ...request, state: 'designed' });
        return measured.ok ? measured.value.value : NaN;
      });
    });
    inIt.forEach((value, k) => expect(value / asMade[k], watched[k].id).to.be.closeTo(1, 1e-10));
    expect(designed[2]).not.to.be.closeTo(asMade[2], 1e-3);
  });

  it('names what a state cannot have, and is refused for the design itself', () => {
    const figure = { kind: 'figure', lens: 'tide', surface: 'l1_front', error: 'coma_x' } as const;
    const radius = { kind: 'number', address: 'lenses.tide.surfaces.l2_front.radius' } as const;
    const made = perturbed(project, [
      { of: figure, by: 1 },
      { of: radius, by: 0.1 },
    ]);
    if (!made.ok) throw new Error(made.reason);
    const found = stateOfMade(project, made.value, 'Figured');
    expect(
      found.ok && found.value.missing.some((address) => address.startsWith('lenses.tide.surfaces.l1_front.z')),
    ).to.equal(true);
    expect(stateOfMade(project, project, 'Same').ok).to.equal(false);
  });
});
