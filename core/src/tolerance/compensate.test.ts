import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Project, Requirement } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import type { Adjustment, Compensator, ToleranceTarget } from '../project/tolerances.ts';
import type { Departure } from '../tolerances/perturb.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { toleranceFindings } from './findings.ts';
import { influencesOf } from './influence.ts';
import { oneByOne, tryOut, type StudyInput, type Tried, type Watched } from './one-by-one.ts';
import { curvesOf } from './response.ts';

/** Two separate lenses, a field on the axis and one to either side. */
const RELAY: readonly Quick[] = [
  { r: 80, t: 4, n: 1.52 },
  { r: -80, t: 10 },
  { r: 120, t: 4, n: 1.6 },
  { r: -150, t: 39.2 },
];
const FIELDS = {
  kind: 'angle',
  points: [
    { id: 'low', x: 0, y: -3, weight: 1 },
    { id: 'axis', x: 0, y: 0, weight: 1 },
    { id: 'edge', x: 0, y: 3, weight: 1 },
  ],
} as const;
const requirement = (id: string, measure: string, settings = {}): Requirement =>
  ({ id, measure, lens: 'lens', settings, max: 1000 }) as Requirement;
const PROJECT: Project = {
  ...quickProject(RELAY, { fields: FIELDS, aperture: { kind: 'entrance_pupil_diameter', value: 12 } }),
  requirements: [
    requirement('focal', 'effective_focal_length'),
    requirement('axis', 'rms_spot_radius', { field: 'axis' }),
  ],
};
const at = (path: string) => `lenses.lens.surfaces.${path}`;
const number = (path: string) => ({ kind: 'number', address: at(path) }) as const;
const shift = { kind: 'element', lens: 'lens', surface: 's1', motion: 'shift_y' } as const;
const focal: Watched = { id: 'f', measure: 'effective_focal_length', lens: 'lens', settings: {} };
const spot = (field: string): Watched => ({ id: field, measure: 'rms_spot_radius', lens: 'lens', settings: { field } });
const adjust = (target: Adjustment['target'], reach: number, other: Partial<Adjustment> = {}): Adjustment => ({
  id: 'a',
  kind: 'adjust',
  target,
  lower: -reach,
  upper: reach,
  aim: 'spots',
  ...other,
});
const FOCUS: Compensator = { id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' };
const by = (of: ToleranceTarget, amount: number): Departure => ({ of, by: amount });

function tried(
  departures: readonly Departure[],
  compensators: readonly Compensator[],
  watched: readonly Watched[] = [],
): Tried {
  const found = tryOut(PROJECT, departures, compensators, watched);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}
const values = ({ values: all }: Tried) => all.map((one) => (one.ok ? one.value : NaN));

describe('what is set after making', () => {
  it('an image that is tilted is tilted back, an element that is shifted is shifted back', () => {
    const tilt = number('image.tx');
    const tilted = tried([by(tilt, 0.4)], [adjust(tilt, 2)]);
    expect(tilted.moved[0]).to.be.closeTo(-0.4, 1e-5);
    const shifted = tried([by(shift, 0.05)], [adjust(shift, 0.2)]);
    expect(shifted.moved[0]).to.be.closeTo(-0.05, 1e-4);
  });

  it('goes to the end of its range and no farther, and the others make the best of it', () => {
    const tilt = number('image.tx');
    const held = tried([by(tilt, 20)], [adjust(tilt, 0.1), FOCUS], [spot('edge')]);
    expect(Math.abs(held.moved[0])).to.equal(0.1);
    // With a tilt that is left, another focus is best: the refocus still finds the least spots.
    const square = (one: Tried) => values(one).reduce((sum, value) => sum + value ** 2, 0);
    const watched = [spot('low'), spot('axis'), spot('edge')];
    const least = square(tried([by(tilt, 20)], [adjust(tilt, 0.1), FOCUS], watched));
    for (const off of [-0.02, 0.02]) {
      const focus = by(number('s4.thickness'), held.moved[1] + off);
      expect(square(tried([by(tilt, 20 + held.moved[0]), focus], [], watched))).to.be.above(least);
    }
  });

  it('are the least squares of all together: no small step of either makes the spots less', () => {
    const [one, two] = [shift, number('image.tx')];
    const watched = [spot('low'), spot('axis'), spot('edge')];
    const wedge = by({ kind: 'wedge', lens: 'lens', surface: 's3', across: 'y' }, 0.03);
    const set = tried([wedge], [adjust(one, 1), adjust(two, 5, { id: 'b' }), FOCUS], watched);
    const square = (found: Tried) => values(found).reduce((sum, value) => sum + value ** 2, 0);
    const least = square(set);
    expect(least).to.be.below(square(tried([wedge], [FOCUS], watched)));
    for (const [target, step] of [
      [one, 0.2],
      [two, 2],
    ] as const)
      for (const sign of [-1, 1]) {
        const moved = [wedge, by(one, set.moved[0]), by(two, set.moved[1]), by(target, sign * step)];
        expect(square(tried(moved, [FOCUS], watched))).to.be.above(least);
      }
  });

  it('a spacer gives the focal length of the design back; an aim beyond its range is come as near to as can be', () => {
    const [design] = values(tried([], [], [focal]));
    const radius = by({ kind: 'share', address: at('s1.radius') }, 0.5);
    const spacer = (reach: number) => adjust(number('s2.thickness'), reach, { aim: 'design', requirement: 'focal' });
    expect(values(tried([radius], [], [focal]))[0]).not.to.be.closeTo(design, 0.05);
    const set = tried([radius], [spacer(3), FOCUS], [focal]);
    expect(values(set)[0]).to.be.closeTo(design, 1e-5);
    const near = tried([radius], [spacer(0.2), FOCUS], [focal]);
    expect(Math.abs(near.moved[0])).to.equal(0.2);
    expect(Math.sign(near.moved[0])).to.equal(Math.sign(set.moved[0]));
  });

  it('the least spot on the axis by the last distance is where the refocus of a field on the axis is', () => {
    const gap = by(number('s2.thickness'), 0.3);
    const last = adjust(number('s4.thickness'), 3, { aim: 'least', requirement: 'axis' });
    const found = tried([gap], [last], [spot('axis')]);
    const [least] = values(found);
    for (const off of [-0.02, 0.02])
      expect(values(tried([gap, by(number('s4.thickness'), found.moved[0] + off)], [], [spot('axis')]))[0]).to.be.above(
        least,
      );
  });

  it('by derivatives, spreads are those of the traced trials', () => {
    const tolerances = [
      { id: 'w', kind: 'wedge', lens: 'lens', surface: 's3', across: 'y', lower: -0.02, upper: 0.02 },
      { id: 'i', kind: 'element', lens: 'lens', surface: 's1', motion: 'tilt_x', lower: -0.2, upper: 0.2 },
      { id: 'g', kind: 'number', address: at('s2.thickness'), lower: -0.2, upper: 0.2 },
    ] as const;
    const study: StudyInput = {
      project: PROJECT,
      tolerances,
      compensators: [adjust(number('image.tx'), 5), FOCUS],
      watched: [spot('axis'), spot('edge'), focal, { ...focal, id: 'l', measure: 'total_length' }],
    };
    const found = responseByDerivatives(study);
    if (!found.ok) throw new Error(found.reason);
    const work = oneByOne(study);
    let step = work.next();
    while (!step.done) step = work.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const traced = step.value.value;
    const curves = curvesOf(found.value);
    const sigmas = influencesOf(tolerances, curves);
    if (!sigmas.ok) throw new Error(sigmas.reason);
    study.watched.forEach(({ id }, k) => {
      const direct = traced.influences.map((row) => row[k].deviation);
      const worst = Math.max(...direct);
      direct.forEach((one, t) => {
        const said = `${id} by ${tolerances[t].id}: ${sigmas.value[t][k].deviation}, traced ${one}`;
        expect(Math.abs(sigmas.value[t][k].deviation - one) / worst, said).to.be.below(0.03);
      });
    });
  });

  it('of the tide camera: an image tilt takes from what tilted elements do', () => {
    const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
    if (!read.ok) throw new Error('unreadable');
    const { project } = read;
    const tilt: Adjustment = adjust({ kind: 'number', address: 'lenses.tide.surfaces.sensor.tx' }, 1);
    const watched = [{ id: 'w', measure: 'rms_spot_radius', lens: 'tide', settings: { field: 'worst' } }];
    const turned = by({ kind: 'element', lens: 'tide', surface: 'l2_front', motion: 'tilt_x' }, 0.1);
    const focus: Compensator = { ...FOCUS, lens: 'tide' };
    const without = tryOut(project, [turned], [focus], watched);
    const withTilt = tryOut(project, [turned], [tilt, focus], watched);
    if (!without.ok || !withTilt.ok) throw new Error('cannot be tried');
    expect(Math.abs(withTilt.value.moved[0])).to.be.within(0.001, 0.99);
    expect(values(withTilt.value)[0]).to.be.below(values(without.value)[0]);
  });

  it('without effect, without a lens or without its requirement are named before a study', () => {
    const said = (one: Adjustment) =>
      toleranceFindings(PROJECT, { tolerances: [], compensators: [one] }).map(({ severity, text }) => [severity, text]);
    expect(said(adjust(number('s2.thickness'), 1))).to.deep.equal([]);
    expect(said(adjust(number('s2.thickness'), 0))[0]).to.deep.equal(['warning', 'It has no effect on the spots.']);
    const turn = { kind: 'element', lens: 'lens', surface: 's1', motion: 'shift_x' } as const;
    expect(said(adjust(turn, 0.1, { aim: 'design', requirement: 'focal' }))[0][0]).to.equal('warning');
    expect(said(adjust(number('s2.thickness'), 1, { aim: 'least', requirement: 'gone' }))[0][1]).to.match(/“gone”/);
    const glass = { kind: 'number', address: 'surroundings.temperature' } as const;
    expect(said(adjust(glass, 1))[0][1]).to.match(/is in no lens/);
  });
});
