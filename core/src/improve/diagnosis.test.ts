import { expect } from 'chai';
import { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Goal, MeasureGoal } from '../project/improve.ts';
import type { ParameterState, ParameterStates, Project } from '../project/model.ts';
import { imageGoal } from './fixtures.ts';
import { diagnose, type Diagnosis } from './diagnosis.ts';
import { polish } from './polish.ts';

let evaluate: FormulaEvaluator;
before(async () => (evaluate = await formulaEvaluator()));

const FREE: ParameterState = { kind: 'free' };
const at = (rest: string) => `lenses.lens.surfaces.${rest}`;
const states = (...names: string[]): ParameterStates => Object.fromEntries(names.map((name) => [at(name), FREE]));
const image = imageGoal('lens');
const goal = (id: string, measure: string, more: Partial<MeasureGoal>): MeasureGoal => ({
  id,
  kind: 'measure',
  measure,
  of: 'lens',
  settings: {},
  weight: 1,
  label: id,
  ...more,
});

/** A singlet, a plane that does nothing, and the image. */
function singlet(goals: readonly Goal[], parameters: ParameterStates): Project {
  const made = quickProject([{ r: 60, t: 4, n: 1.6 }, { r: -200, t: 20 }, { t: 58 }], {
    aperture: { kind: 'entrance_pupil_diameter', value: 12 },
  });
  return { ...made, goals, parameters };
}

function ended(project: Project): Project {
  const run = polish(project, evaluate);
  for (;;) {
    const step = run.next();
    if (!step.done) continue;
    if (!step.value.ok) throw new Error(step.value.reason);
    return step.value.value.project;
  }
}

function look(project: Project): Diagnosis {
  const work = diagnose(project, evaluate);
  for (;;) {
    const step = work.next();
    if (!step.done) continue;
    if (!step.value.ok) throw new Error(step.value.reason);
    return step.value.value;
  }
}

describe('why a run stopped', () => {
  it('names goals that no free number moves, largest first', () => {
    const told = look(singlet([image, goal('pupil', 'entrance_pupil_diameter', { target: 20 })], states('s1.radius')));
    expect(told.contributions[0]).to.deep.include({ title: 'pupil', movable: 0 });
    expect(told.contributions.find(({ title }) => title === 'Image quality')!.movable).to.be.above(0.1);
    expect(told.merit ** 2).to.be.closeTo(
      told.contributions.reduce((sum, { square }) => sum + square, 0),
      1e-6 * told.merit ** 2,
    );
  });

  it('names goals that pull against each other', () => {
    const goals = [
      goal('long', 'effective_focal_length', { target: 90 }),
      goal('short', 'back_focal_distance', { target: 60 }),
    ];
    const told = look(ended(singlet(goals, states('s1.radius'))));
    expect(told.conflicts).to.have.length(1);
    expect(told.conflicts[0].goals).to.deep.equal(['long', 'short']);
    expect(told.conflicts[0].cosine).to.be.closeTo(-1, 1e-6);
  });

  it('names numbers that do the same, and bounds that are pushed against', () => {
    const parameters = {
      ...states('s1.radius', 's2.thickness', 's3.thickness'),
      [at('s1.radius')]: { kind: 'free', max: 55, min: 40 } as const,
    };
    const told = look(ended(singlet([image, goal('f', 'effective_focal_length', { target: 100 })], parameters)));
    expect(told.dependent[0].numbers.map(({ address }) => address)).to.have.members([
      at('s2.thickness'),
      at('s3.thickness'),
    ]);
    const [one, other] = told.dependent[0].numbers;
    expect(one.share / other.share).to.be.closeTo(-1, 1e-3);
    expect(told.atBounds).to.deep.include({ address: at('s1.radius'), value: 55, side: 'upper' });
  });

  it('suggests only what a trial run has shown to help', () => {
    const told = look(
      ended(singlet([image, goal('f', 'effective_focal_length', { target: 80 })], states('s1.radius', 's3.thickness'))),
    );
    const bend = told.suggestions.find(({ address }) => address === at('s2.radius'));
    expect(bend?.gain).to.be.within(-1, -0.02);
    // Whoever does what is suggested gets at least what was promised.
    for (const { address, gain } of told.suggestions) {
      const goals = [image, goal('f', 'effective_focal_length', { target: 80 })];
      const freed = singlet(goals, { ...states('s1.radius', 's3.thickness'), [address]: FREE });
      expect(look(ended(freed)).merit / told.merit - 1, address).to.be.at.most(gain + 1e-3);
    }
  });

  it('names making-limits that are reached', () => {
    const thin = singlet([image], states('s1.thickness', 's3.thickness'));
    // Thickness alone makes a lens longer in glass as long as it may: as thick as it is wide.
    const told = look(ended({ ...thin, making: { stout: 1.5 } }));
    expect(told.limits.join(' ')).to.match(/diameter over thickness of .* 1\.5/);
  });
});
