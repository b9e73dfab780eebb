import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { dampedLeastSquares } from '../math/damped-least-squares.ts';
import { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Goal, ImageGoal } from '../project/improve.ts';
import { applyEdits } from '../project/edit.ts';
import type { ParameterStates, Project } from '../project/model.ts';
import { quickProject } from '../project/fixtures.ts';
import { readProjectText } from '../project/read.ts';
import { settle } from '../relations/settle.ts';
import { makingRows, rimRays } from './making-limits.ts';
import { solverVariable } from '../sequence/solver-variable.ts';
import { exactDerivatives } from './exact-measures.ts';
import { contributionsOf, warnings } from './polish.ts';
import { MeritProblem } from './problem.ts';
import { meritStand } from './stand.ts';
import { imageGoal, worstDerivative } from './fixtures.ts';

let evaluate: FormulaEvaluator;
before(async () => (evaluate = await formulaEvaluator()));

const tide = (() => {
  const read = readProjectText(
    readFileSync(new URL('../../../samples/tide-camera.ulvex.json', import.meta.url), 'utf8'),
  );
  if (!read.ok) throw new Error('the sample cannot be read');
  return read.project;
})();
const at = (rest: string) => `lenses.tide.surfaces.${rest}`;
const free = (...names: string[]): ParameterStates =>
  Object.fromEntries(names.map((name) => [at(name), { kind: 'free' }]));
const image = (more: Partial<ImageGoal> = {}) => imageGoal('tide', more);
const NUMBERS = ['l1_front.radius', 'l2_back.radius', 'l3_l4.radius', 'l1_back.thickness', 'l4_back.thickness'];

function problem(project: Project, goals: readonly Goal[], parameters: ParameterStates): MeritProblem {
  const made = MeritProblem.of({ ...project, goals, parameters }, evaluate);
  if (!made.ok) throw new Error(made.reason);
  return made.value;
}

function polished(merit: MeritProblem, evaluations = 300) {
  const run = dampedLeastSquares(merit, merit.start, { gain: 1e-9, evaluations });
  for (;;) {
    const step = run.next();
    if (step.done) return { ...step.value, project: merit.projectAt(step.value.x)! };
  }
}

function measured(project: Project, measure: string, settings: object = {}, state?: string): number {
  const found = evaluateMeasure(new Evaluation(project), {
    measure,
    lens: project.lenses[0].id,
    settings,
    ...(state && { state }),
  });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

describe('goals as rows of squares', () => {
  it('sum to the square of the RMS spot over fields and colours', () => {
    const merit = problem({ ...tide, making: { off: true } }, [image({ rings: 12 })], free('l1_front.radius'));
    const sum = merit.values(merit.start)!.reduce((all, value) => all + value * value, 0);
    const spots = ['axis', 'zone', 'edge'].map((field) => measured(tide, 'rms_spot_radius', { field }));
    expect(Math.sqrt(sum)).to.be.closeTo(
      Math.sqrt(spots.reduce((all, one) => all + one * one, 0) / 3),
      2e-4 * Math.sqrt(sum),
    );
  });

  it('follow the RMS wavefront, too', () => {
    const one = { ...tide.lenses[0], wavelengths: tide.lenses[0].wavelengths.slice(1, 2) };
    const project: Project = { ...tide, lenses: [one], making: { off: true } };
    const merit = problem(project, [image({ what: 'wavefront', rings: 12 })], free('l1_front.radius'));
    const sum = merit.values(merit.start)!.reduce((all, value) => all + value * value, 0);
    const waves = ['axis', 'zone', 'edge'].map((field) => measured(project, 'rms_wavefront', { field }) / 0.02);
    expect(Math.sqrt(sum / waves.reduce((all, one) => all + (one * one) / 3, 0))).to.be.closeTo(1, 1e-3);
  });

  it('have exact derivatives, of spots about either point, with and without lateral colour', () => {
    for (const about of ['centroid', 'chief'] as const)
      for (const lateralColour of [true, false])
        expect(worstDerivative(problem(tide, [image({ about, lateralColour })], free(...NUMBERS)), 288)).to.be.below(
          2e-8,
        );
  });

  it('have derivatives of wavefronts but for the radius of the reference sphere, which is a convention', () => {
    const merit = problem(tide, [image({ what: 'wavefront' })], free(...NUMBERS.slice(0, 4)));
    expect(worstDerivative(merit, 144)).to.be.below(1e-5);
  });

  it('differentiate through links, conditions and states', () => {
    const focused: ParameterStates = {
      ...free('l1_front.radius', 'l2_back.radius'),
      [at('l3_l4.radius')]: { kind: 'linked', formula: '1.1 * lenses.tide.surfaces.l1_front.radius' },
      [at('l4_back.thickness')]: {
        kind: 'derived',
        measure: 'paraxial_ray',
        of: 'tide',
        settings: { ray: 'marginal', surface: 'sensor', quantity: 'height' },
        equals: '0 mm',
      },
    };
    const project = settle({ ...tide, parameters: focused }, evaluate).project;
    expect(worstDerivative(problem(project, [image()], focused), 288)).to.be.below(1e-5);
    expect(worstDerivative(problem(project, [image({ state: 'near' })], focused), 288)).to.be.below(1e-5);
    expect(worstDerivative(problem(tide, [image({ state: 'near' })], free('l1_front.radius')), 288)).to.be.below(2e-8);
  });

  it('of measures that are often wanted are exact, too, for each kind of aperture', () => {
    const wanted: readonly (readonly [string, Record<string, unknown>])[] = [
      ['effective_focal_length', {}],
      ['image_f_number', {}],
      ['total_length', {}],
      ['distortion', { field: 'edge' }],
      ['distortion', { field: 'zone', law: 'f·θ' }],
      ['image_height', { field: 'edge' }],
      ['chief_ray_angle', { field: 'edge' }],
      ['rms_spot_radius', { field: 'worst' }],
      ['rms_spot_radius', { field: 'all', reference: 'chief' }],
      ['rms_spot_radius', { field: 'zone' }],
    ];
    for (const aperture of [tide.lenses[0].aperture, { kind: 'stop_semi_aperture', value: 4 } as const]) {
      const project: Project = { ...tide, lenses: [{ ...tide.lenses[0], aperture }], making: { off: true } };
      const parameters = free(...NUMBERS);
      for (const [measure, settings] of wanted) {
        const goal: Goal = { id: 'm', kind: 'measure', measure, of: 'tide', settings, weight: 2, target: 1 };
        const merit = problem(project, [goal], parameters);
        const lens = new Evaluation(project).lens('tide');
        const variables = Object.keys(parameters).map(
          (address) => lens.ok && solverVariable(lens.value.model, address),
        );
        const list = variables.flatMap((one) => (one && one.ok ? [one.value] : []));
        expect(lens.ok && exactDerivatives(lens.value, goal, list), measure).to.be.instanceOf(Float64Array);
        // A spot's slope is sampled more coarsely than the spot.
        expect(worstDerivative(merit), `${measure} ${JSON.stringify(settings)}`).to.be.below(
          measure === 'rms_spot_radius' ? 5e-3 : 1e-6,
        );
      }
    }
  });

  it('of numbers that rays are not differentiated by are differences', () => {
    const parameters: ParameterStates = { 'lenses.tide.aperture.value': { kind: 'free' }, ...free('l1_front.radius') };
    expect(worstDerivative(problem(tide, [image()], parameters), 288)).to.be.below(1e-4);
  });
});

describe('a polish', () => {
  it('bends a singlet to least spherical aberration, where the closed form says', () => {
    // Third order, thin lens, far object: X = 2 (n² − 1)/(n + 2); W. J. Smith, Modern Optical Engineering.
    const n = 1.5;
    const made = quickProject(
      [
        { r: 200, t: 0.5, n },
        { r: -66, t: 99 },
      ],
      { aperture: { kind: 'entrance_pupil_diameter', value: 2 } },
    );
    const merit = problem(
      { ...made, making: { off: true } },
      [
        image({ of: 'lens' }),
        {
          id: 'f',
          kind: 'measure',
          measure: 'effective_focal_length',
          of: 'lens',
          settings: {},
          weight: 1,
          target: 100,
        },
      ],
      Object.fromEntries(
        ['s1.radius', 's2.radius', 's2.thickness'].map((name) => [`lenses.lens.surfaces.${name}`, { kind: 'free' }]),
      ),
    );
    const { project } = polished(merit);
    const [c1, c2] = [0, 1].map((j) => 1 / (project.lenses[0].surfaces[j].shape as { radius: number }).radius);
    expect((c1 + c2) / (c1 - c2)).to.be.closeTo((2 * (n * n - 1)) / (n + 2), 0.02);
    expect(measured(project, 'effective_focal_length')).to.be.closeTo(100, 1e-3);
  });

  it('keeps making-limits, bounds and limits of measures while the image becomes better', () => {
    const parameters: ParameterStates = Object.fromEntries(
      tide.lenses[0].surfaces
        .slice(0, -1)
        .flatMap(({ id }) => [
          ...(id === 'stop' ? [] : [[at(`${id}.radius`), { kind: 'free' } as const]]),
          [at(`${id}.thickness`), { kind: 'free', ...(id === 'l3_l4' && { max: 3.9 }) } as const],
        ]),
    );
    const goals: Goal[] = [
      image(),
      { id: 'f', kind: 'measure', measure: 'effective_focal_length', of: 'tide', settings: {}, weight: 1, target: 36 },
      {
        id: 'd',
        kind: 'measure',
        measure: 'distortion',
        of: 'tide',
        settings: { field: 'edge' },
        weight: 1,
        min: -1,
        max: 1,
      },
      { id: 'l', kind: 'measure', measure: 'total_length', of: 'tide', settings: {}, weight: 1, max: 42.2 },
      { id: 'b', kind: 'measure', measure: 'paraxial_image_distance', of: 'tide', settings: {}, weight: 1, min: 30 },
    ];
    const merit = problem(tide, goals, parameters);
    const { project } = polished(merit);
    const spots = (of: Project) => ['axis', 'zone', 'edge'].map((field) => measured(of, 'rms_spot_radius', { field }));
    const [before, after] = [tide, project].map((of) => spots(of).reduce((sum, one) => sum + one * one, 0));
    expect(after).to.be.below(0.8 * before);
    expect(measured(project, 'effective_focal_length')).to.be.closeTo(36, 2e-3);
    expect(measured(project, 'total_length')).to.be.below(42.2 + 2e-3);
    expect(measured(project, 'paraxial_image_distance')).to.be.above(30 - 2e-3);
    const thick = project.lenses[0].surfaces.find(({ id }) => id === 'l3_l4')!.after!.thickness;
    expect(thick).to.be.at.most(3.9);
    const lens = new Evaluation(project).lens('tide');
    if (!lens.ok) throw new Error(lens.reason);
    for (const { over, title } of makingRows(lens.value.model, rimRays(lens.value)!, undefined))
      expect(over, title).to.be.below(1e-3);
  });

  it('is refused, with what to do, where nothing is free or wanted, or a goal contradicts itself', () => {
    const reason = (project: Project) => {
      const made = MeritProblem.of(project, evaluate);
      return made.ok ? '' : made.reason;
    };
    expect(reason(tide)).to.match(/No number is free/);
    const loose = { ...tide, parameters: free('l1_front.radius') };
    expect(reason(loose)).to.match(/There are no goals/);
    expect(reason({ ...loose, goals: [{ ...image(), weight: 0 }] })).to.match(/There are no goals/);
    const length = { id: 'l', kind: 'measure', measure: 'total_length', of: 'tide', settings: {}, weight: 1 } as const;
    expect(reason({ ...loose, goals: [length] })).to.match(/neither a target nor a limit/);
    expect(reason({ ...loose, goals: [{ ...length, min: 5, max: 4 }] })).to.match(/lies above its upper one/);
    const wide = applyEdits(tide, [{ kind: 'set', path: 'lenses.tide.aperture.value', value: 40 }]).project;
    expect(reason({ ...wide, parameters: free('l1_front.radius'), goals: [image()] })).to.match(/a ray of the field/);
  });
});

describe('how goals stand', () => {
  it('is what a run starts from, to the last goal', () => {
    const goals: Goal[] = [
      image({ weight: 2, state: 'every' }),
      image({ id: 'waves', what: 'wavefront' }),
      {
        id: 'f',
        kind: 'measure',
        measure: 'effective_focal_length',
        of: 'tide',
        settings: {},
        weight: 1,
        target: 36.2,
      },
      { id: 'l', kind: 'measure', measure: 'total_length', of: 'tide', settings: {}, weight: 3, max: 40 },
    ];
    const project: Project = { ...tide, goals, parameters: free('l1_front.radius'), making: { length: 42 } };
    const made = MeritProblem.of(project, null);
    if (!made.ok) throw new Error(made.reason);
    const parts = contributionsOf(made.value, made.value.values(made.value.start)!);
    const stand = meritStand(new Evaluation(project));
    expect(stand.merit ** 2).to.be.closeTo(
      parts.reduce((sum, { square }) => sum + square, 0),
      1e-9 * stand.merit ** 2,
    );
    expect(stand.goals.map(({ goal, state }) => `${goal} ${state}`)).to.deep.equal([
      'image designed',
      'image near',
      'image frost',
      'waves designed',
      'f designed',
      'l designed',
    ]);
    expect(stand.goals[5].square).to.be.closeTo(3 * (2.2038 / 0.001) ** 2, 0.01 * stand.goals[5].square);
    const spots = stand.goals[0].parts!.filter(({ field }) => field === 'edge');
    expect(spots).to.have.length(3);
    expect(stand.limits.find(({ limit }) => limit === 'length')!.over).to.be.closeTo(42.2038 - 42, 1e-9);
  });

  it('says what has no value, and leaves out what is switched off', () => {
    const lost: Goal = {
      id: 'm',
      kind: 'measure',
      measure: 'magnification',
      of: 'tide',
      settings: {},
      weight: 1,
      target: 1,
    };
    const stand = meritStand(
      new Evaluation({ ...tide, goals: [lost, { ...image(), off: true }], making: { off: true } }),
    );
    expect(stand.merit).to.equal(0);
    expect(stand.goals[0].why).to.be.a('string');
    expect(stand.goals[1].value).to.be.above(5);
    expect(stand.limits).to.deep.equal([]);
  });
});

describe('goals in groups', () => {
  it('count with the weight of the group, and not at all where it is off', () => {
    const length: Goal = {
      id: 'l',
      kind: 'measure',
      measure: 'total_length',
      of: 'tide',
      settings: {},
      weight: 2,
      max: 40,
      group: 'size',
    };
    const project: Project = {
      ...tide,
      goals: [image(), length],
      goalGroups: [{ id: 'size', name: 'Size', weight: 3 }],
      making: { off: true },
    };
    const alone = meritStand(new Evaluation({ ...project, goals: [{ ...length, weight: 6 }], goalGroups: [] }));
    const square = (made: Project) => meritStand(new Evaluation(made)).goals[1].square;
    expect(square(project)).to.equal(alone.goals[0].square);
    expect(alone.goals[0].square).to.be.above(0);
    const free1 = free('l1_front.radius');
    const squares = (made: Project) => {
      const merit = problem(made, made.goals!, free1);
      return contributionsOf(merit, merit.values(merit.start)!).map((one) => one.square);
    };
    expect(squares(project)[1]).to.be.closeTo(alone.goals[0].square, 1e-9 * alone.goals[0].square);
    const off: Project = { ...project, goalGroups: [{ id: 'size', name: 'Size', weight: 3, off: true }] };
    expect(squares(off)).to.have.length(1);
    expect(meritStand(new Evaluation(off)).merit).to.be.closeTo(Math.sqrt(squares(off)[0]), 1e-9);
    expect(told({ ...project, goalGroups: [{ id: 'size', name: 'Size', weight: 0 }] })[0]).to.match(
      /^Total length has weight 0/i,
    );
  });

  function told(project: Project): string[] {
    const found = warnings({ ...project, parameters: free('l1_front.radius'), making: {} }, evaluate);
    return found.ok ? found.value.map(({ text }) => text) : [found.reason];
  }
});

describe('before a run', () => {
  const told = (project: Project) => {
    const found = warnings(project, evaluate);
    if (!found.ok) throw new Error(found.reason);
    return found.value;
  };
  const pupil: Goal = {
    id: 'p',
    kind: 'measure',
    measure: 'entrance_pupil_diameter',
    of: 'tide',
    settings: {},
    weight: 1,
    target: 12,
  };

  it('one without any limit is asked about, one with some is told', () => {
    const loose: Project = {
      ...tide,
      goals: [image()],
      parameters: free('l1_front.radius'),
      making: { off: true },
    };
    expect(told(loose)).to.have.length(1);
    expect(told(loose)[0].asks).to.equal(true);
    const bounded: Project = {
      ...loose,
      parameters: { [at('l1_front.radius')]: { kind: 'free', min: 10, max: 20 } },
    };
    expect(told(bounded).map(({ asks }) => asks)).to.deep.equal([false]);
    expect(told({ ...loose, making: {} })).to.deep.equal([]);
  });

  it('goals are told that count nothing, or that nothing moves', () => {
    const goals = [image(), { ...pupil }, { ...pupil, id: 'q', label: 'Idle', weight: 0 }];
    const texts = told({ ...tide, goals, parameters: free('l1_front.radius') }).map(({ text }) => text);
    expect(texts).to.deep.equal([
      'Idle has weight 0: it does not count.',
      'Entrance pupil diameter is not met, and no free number moves it.',
    ]);
  });
});
